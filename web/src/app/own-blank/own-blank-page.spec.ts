import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { Router } from '@angular/router';
import { of, Subject } from 'rxjs';
import { TreatPainter } from '../cutout/treat-painter';
import { registerIcons } from '../icons/icons';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { badge, shirt } from '../testing/open-editor';
import { OwnBlankDraft } from './own-blank-draft';
import { OwnBlankPage } from './own-blank-page';

describe('the page where a photo becomes a blank', () => {
  let http: HttpTestingController;
  let page: InPage<OwnBlankPage>;
  let router: jasmine.SpyObj<Router>;
  beforeEach(async () => {
    localStorage.clear();
    router = jasmine.createSpyObj<Router>(['navigate', 'navigateByUrl']);
    router.navigate.and.resolveTo(true);
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        ...HEARD,
        { provide: Router, useValue: router },
      ],
    });
    const photo = { width: 800, height: 1000, guess: null, pixels: new ArrayBuffer(0) };
    TestBed.overrideComponent(OwnBlankPage, {
      set: {
        providers: [
          OwnBlankDraft,
          {
            provide: TreatPainter,
            useValue: { load: () => of(photo), treat: () => undefined, treated: new Subject() },
          },
        ],
      },
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    page = await InPage.show(OwnBlankPage, { back: '/designs/d1/mockups' });
  });
  const upload = async (asset: object): Promise<void> => {
    await page.give('Photo', new File(['x'], 'hanger.jpg', { type: 'image/jpeg' }));
    http.expectOne((one) => one.method === 'POST' && /assets/.test(one.url)).flush({ ...badge, ...asset });
    await page.fixture.whenStable();
  };
  const area = async (): Promise<void> => {
    page.element.querySelectorAll<HTMLElement>('.step')[1].click();
    await page.fixture.whenStable();
  };

  it('takes a photo, and no drawing', async () => {
    await upload({ vector: true });
    expect(TestBed.inject(Heard).last).toBe('A blank is made of a photo. This file is a drawing.');
    expect(page.text).toContain('Drop a photo of your product here');
    await upload({ filename: 'hanger.jpg' });
    expect(page.text).toContain('1 The product');
  });

  it('says why a photo could not be taken in', async () => {
    await page.give('Photo', new File(['x'], 'hanger.jpg', { type: 'image/jpeg' }));
    http.expectOne((one) => one.method === 'POST').flush(...refusal('The disk is full.', 507));
    await page.fixture.whenStable();
    expect(TestBed.inject(Heard).last).toContain('The disk is full.');
    expect(page.buttons).toContain('Choose a photo');
  });

  it('is told how large the area is in centimetres, and makes the blank of that', async () => {
    await upload({ filename: 'hanger.jpg' });
    await area();
    await page.press('Bends');
    await page.enter('True width', '28,5');
    await page.enter('True height', '36');
    await page.enter('Points across', '4');
    await page.press('Keep the blank');
    const asked = http.expectOne((one) => one.method === 'POST' && one.url === '/api/blanks');
    expect(asked.request.body).toEqual(jasmine.objectContaining({ name: 'hanger', widthMm: 285, heightMm: 360 }));
    expect(asked.request.body.shape).toEqual(jasmine.objectContaining({ kind: 'grid', columns: 4 }));
    asked.flush({ blank: { ...shirt, id: 'own-1' }, doubts: ['The product reaches the edge of the photo.'] });
    await page.fixture.whenStable();
    expect(page.text).toContain('The product reaches the edge of the photo.');
    expect(router.navigate.calls.mostRecent().args[0]).toEqual(['/blanks', 'own-1']);
    await page.press('Back');
    expect(router.navigateByUrl).toHaveBeenCalledWith('/designs/d1/mockups?blank=own-1');
  });

  it('leads back where one came from, and never out of the house', async () => {
    await page.press('Back');
    expect(router.navigateByUrl).toHaveBeenCalledWith('/designs/d1/mockups');
    page.fixture.componentRef.setInput('back', '//elsewhere.example/');
    await page.press('Back');
    expect(router.navigateByUrl).toHaveBeenCalledWith('/');
  });

  it('takes a change back by its keys, but not in a box of text', async () => {
    await upload({ filename: 'hanger.jpg' });
    await area();
    await page.press('Round');
    const press = (target: EventTarget) =>
      target.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true, cancelable: true }));
    document.body.append(page.element);
    press(page.field('True width'));
    await page.fixture.whenStable();
    expect(page.button('Round').getAttribute('aria-pressed')).toBe('true');
    press(document.body);
    await page.fixture.whenStable();
    expect(page.button('Round').getAttribute('aria-pressed')).toBe('false');
    page.element.remove();
  });
});
