import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { Notices } from '../data/notices';
import { registerIcons } from '../icons/icons';
import { InPage } from '../testing/in-page';
import { ProblemMenu } from './problem-menu';

describe('errors that were told', () => {
  it('stay in the head of the page until each is dismissed; told twice they are one, and what is only said is none', async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    const notices = TestBed.inject(Notices);
    const page = await InPage.show(ProblemMenu);
    expect(page.buttons).toEqual([]);
    notices.say('Saved.');
    notices.complain('“one.png” is not a picture.');
    notices.complain('“two.png” is empty.');
    notices.complain('“one.png” is not a picture.');
    await page.fixture.whenStable();
    await page.press('2 messages');
    const items = () => [...document.querySelectorAll<HTMLElement>('.problems button')];
    expect(items().map((one) => one.getAttribute('aria-label') ?? one.textContent?.trim())).toEqual([
      '“one.png” is not a picture. Dismiss',
      '“two.png” is empty. Dismiss',
      'Dismiss all',
    ]);
    items()[1].click();
    await page.fixture.whenStable();
    expect(notices.problems().map(({ sentence }) => sentence)).toEqual(['“one.png” is not a picture.']);
    expect(page.buttons).toEqual(['1 message']);
    page.fixture.destroy();
  });
});
