import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { provideRouter } from '@angular/router';
import { emptyDesign } from '@kettle/core/model';
import { firstValueFrom } from 'rxjs';
import { App } from './app';
import { Drafts } from './data/drafts';
import { Savings } from './data/savings';
import { Waits } from './data/waits';
import { Preferences } from './data/preferences';
import { registerIcons } from './icons/icons';
import { comes } from './testing/comes';
import { HEARD } from './testing/heard';
import { InPage } from './testing/in-page';

describe('the frame around every page', () => {
  let http: HttpTestingController;
  beforeEach(() => {
    localStorage.clear();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([]),
        ...HEARD,
      ],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
  });
  const open = async (session: object): Promise<InPage<App>> => {
    const page = await InPage.show(App);
    await new Promise((resolve) => setTimeout(resolve, 1));
    http.expectOne('/api/session').flush({ gated: false, notice: null, heard: null, ...session });
    await page.fixture.whenStable();
    return page;
  };

  it('says what the house has to say: a disk that fills, and what clients said, one press from it', async () => {
    const page = await open({ notice: '286 MB are left.', heard: { designId: 'd1', count: 2 } });
    expect(page.element.querySelector('[role=alert]')?.textContent).toBe('286 MB are left.');
    const heard = page.element.querySelector('.heard')!;
    expect([heard.textContent, heard.getAttribute('href')]).toEqual([
      '2 new from clients',
      '/designs/d1/hand-over?desk=client',
    ]);
    expect(page.buttons).not.toContain('Sign out');
    page.fixture.destroy();
  });

  it('says while it waits for a server that does not answer, and asks again by a press', async () => {
    const page = await open({});
    const waits = TestBed.inject(Waits);
    const again = spyOn(waits, 'again');
    expect(page.text).not.toContain('does not answer');
    waits.begin();
    await page.fixture.whenStable();
    expect(page.text).toContain('The server does not answer all that this page asks for.');
    await page.press('Try again now');
    expect(again).toHaveBeenCalledTimes(1);
    waits.end();
    await page.fixture.whenStable();
    expect(page.text).not.toContain('does not answer');
  });

  it('keeps unit and colours where they were set', async () => {
    const page = await open({ gated: true });
    expect(page.buttons).toContain('Sign out');
    await page.press('in');
    expect(page.button('in').getAttribute('aria-checked')).toBe('true');
    expect(TestBed.inject(Preferences).unit()).toBe('in');
    await page.press('Dark colours');
    expect(page.buttons).toContain('Light colours');
    await page.press('Light colours');
    page.fixture.destroy();
  });

  it('sends what a closed page left behind, under the revision it was begun from', async () => {
    const document = emptyDesign('Fog, as it was typed last');
    TestBed.inject(Drafts).write('d7', { revision: 4, document });
    const page = await open({});
    // Whether another tab works on it is found out first.
    const asked = await comes(http, (one) => one.method === 'PUT' && one.url === '/api/designs/d7');
    expect([asked.request.headers.get('If-Match'), asked.request.body]).toEqual(['"4"', document]);
    asked.flush({ id: 'd7', revision: 5, savedAt: '2026-11-25T20:00:00.000Z', document });
    await firstValueFrom(TestBed.inject(Savings).settled());
    expect(TestBed.inject(Drafts).read('d7')).toBeNull();
    page.fixture.destroy();
  });
});

describe('designs that are not saved yet', () => {
  it('are kept in this browser; an older one does not stay where there is no room for a newer', () => {
    localStorage.clear();
    const drafts = new Drafts();
    expect(drafts.write('d1', { revision: 1, document: emptyDesign('One') })).toBeTrue();
    localStorage.setItem('kettle.draft.d2', '{ broken');
    expect(drafts.all().map(({ key }) => key)).toEqual(['d1']);
    const full = spyOn(Storage.prototype, 'setItem').and.throwError('QuotaExceededError');
    expect(drafts.write('d1', { revision: 2, document: emptyDesign('Two') })).toBeFalse();
    full.and.callThrough();
    expect(drafts.read('d1')).toBeNull();
  });
});
