import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { MatSelectHarness } from '@angular/material/select/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { registerIcons } from '../icons/icons';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { mug, shirt, tee } from '../testing/open-editor';
import { RequirementsPage } from './requirements-page';

describe('the library of requirements', () => {
  let http: HttpTestingController;
  let page: InPage<RequirementsPage>;
  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting(), ...HEARD],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    page = await InPage.show(RequirementsPage);
    http.expectOne('/api/profiles').flush([]);
    http.match('/api/blanks').forEach((asked) => asked.flush([shirt]));
    http.expectOne('/api/requirements').flush([tee, mug]);
    await page.fixture.whenStable();
  });
  /** A field of the form by the words of its Material label. */
  const input = (label: string): HTMLInputElement =>
    [...page.element.querySelectorAll('mat-form-field')]
      .find((one) => one.querySelector('mat-label')?.textContent === label)!
      .querySelector<HTMLInputElement>('input, textarea')!;
  const type = async (label: string, value: string): Promise<void> => {
    input(label).value = value;
    input(label).dispatchEvent(new Event('input', { bubbles: true }));
    await page.fixture.whenStable();
  };
  const listed = (): string[] => [...page.element.querySelectorAll('aside li b')].map((one) => one.textContent!);
  const name = (): string | undefined => page.element.querySelector('form h2')?.textContent?.trim();

  it('shows the first one with its canvas in pixels, and finds others by any of their words', async () => {
    expect([name(), listed()]).toEqual(['Tee', ['Tee', 'Mug wrap']]);
    expect(page.text).toContain('4200 × 4800');
    const search = page.field('Search requirements');
    search.value = 'mug 300';
    search.dispatchEvent(new Event('input'));
    await page.fixture.whenStable();
    expect(listed()).toEqual(['Mug wrap']);
    search.value = 'umbrella';
    search.dispatchEvent(new Event('input'));
    await page.fixture.whenStable();
    expect(page.text).toContain('No requirement has these words.');
  });

  it('saves what was typed under the revision that was seen, and keeps what the form does not show', async () => {
    expect(page.button('Save').disabled).toBeTrue();
    await type('DPI, both axes', '200');
    expect(page.text).toContain('2800 × 3200');
    await page.press('Save');
    const asked = http.expectOne((one) => one.method === 'PUT' && one.url === '/api/requirements/tee');
    expect(asked.request.headers.get('If-Match')).toBe('"1"');
    expect(asked.request.body).toEqual(jasmine.objectContaining({ dpi: 200, width: 14, placement: tee.placement }));
    asked.flush({ ...tee, dpi: 200, revision: 2 });
    http.expectOne('/api/requirements').flush([{ ...tee, dpi: 200, revision: 2 }, mug]);
    await page.fixture.whenStable();
    expect(page.text).toContain('revision 2');
    expect(page.button('Save').disabled).toBeTrue();
  });

  it('says what is wrong with a number and sends nothing', async () => {
    await type('Width', '-3');
    expect(page.element.querySelector('[role=alert]')?.textContent?.trim()).toBeTruthy();
    await page.press('Save');
    http.expectNone((one) => one.method === 'PUT');
  });

  it('understands a decimal comma, and asks where it can be two things', async () => {
    await type('Width', '14,5');
    expect(page.text).toContain('4350 × 4800 px');
    await type('Width', '1,200');
    expect(page.element.querySelector('[role=alert]')?.textContent).toContain('can be 1200 or 1.2');
    expect(page.button('Save').disabled).toBeTrue();
    await type('Width', '12');
    expect(page.element.querySelector('[role=alert]')).toBeNull();
    await page.press('Save');
    const asked = http.expectOne((one) => one.method === 'PUT');
    expect((asked.request.body as { width: number }).width).toBe(12);
    asked.flush({ ...tee, width: 12, revision: 2 });
    http.expectOne('/api/requirements').flush([tee, mug]);
  });

  it('says the same size in another unit', async () => {
    const select = await TestbedHarnessEnvironment.loader(page.fixture).getHarness(
      MatSelectHarness.with({ ancestor: '.size' }),
    );
    const numbers = () => ['Width', 'Height'].map((label) => input(label).value);
    for (const [unit, same] of [
      ['px', ['4200', '4800']],
      ['cm', ['35.56', '40.64']],
      ['mm', ['355.6', '406.4']],
      ['in', ['14', '16']],
    ] as const) {
      await select.clickOptions({ text: unit });
      expect(numbers())
        .withContext(unit)
        .toEqual([...same]);
      expect(page.text).withContext(unit).toContain('4200 × 4800 px');
    }
  });

  it('does not save what no file can be, and says why', async () => {
    await type('Safe inset', '200');
    expect(page.element.querySelector('[role=alert]')?.textContent).toContain('leaves nothing of the canvas');
    expect(page.button('Save').disabled).toBeTrue();
    await type('Safe inset', '5');
    expect(page.button('Save').disabled).toBeFalse();
    const mode = await TestbedHarnessEnvironment.loader(page.fixture).getHarness(
      MatSelectHarness.with({ selector: '[formControlName=mode]' }),
    );
    await mode.clickOptions({ text: 'CMYK' });
    expect(page.element.querySelector('[role=alert]')?.textContent).toContain(
      'PNG cannot hold CMYK with transparency at this size. TIFF or PDF can.',
    );
    expect(page.button('Save').disabled).toBeTrue();
  });

  it('takes a colour profile of one’s own off the list, unless something is made with it', async () => {
    const loader = TestbedHarnessEnvironment.loader(page.fixture);
    const choose = async (control: string, text: string): Promise<void> =>
      (await loader.getHarness(MatSelectHarness.with({ selector: `[formControlName=${control}]` }))).clickOptions({
        text,
      });
    await choose('mode', 'CMYK');
    expect(page.text).not.toContain('off the list');
    const field = page.element.querySelector<HTMLInputElement>('[aria-label="ICC profile"]')!;
    const files = new DataTransfer();
    files.items.add(new File(['x'], 'press.icc'));
    field.files = files.files;
    field.dispatchEvent(new Event('change'));
    http
      .expectOne((one) => one.method === 'POST' && one.url === '/api/profiles')
      .flush({ id: 'press', name: 'Own press', filename: 'press.icc', bytes: 1 });
    await page.fixture.whenStable();
    await page.press('Take “Own press” off the list');
    const remove = () => http.expectOne((one) => one.method === 'DELETE' && one.url === '/api/profiles/press');
    remove().flush({ code: 'in-use', detail: 'Tee is made with it.' }, { status: 409, statusText: 'in use' });
    await page.fixture.whenStable();
    await page.press('Take “Own press” off the list');
    remove().flush(null);
    await page.fixture.whenStable();
    expect(page.text).not.toContain('Own press');
  });

  it('begins a new one, or one as another is, and adds it', async () => {
    await page.press('Copy');
    expect(name()).toBe('New requirement');
    await type('Name', 'Tee, back');
    await page.press('Add to the library');
    const asked = http.expectOne((one) => one.method === 'POST' && one.url === '/api/requirements');
    expect(asked.request.body).toEqual(
      jasmine.objectContaining({ name: 'Tee, back', width: 14, height: 16, dpi: 300 }),
    );
    asked.flush({ ...tee, id: 'back', name: 'Tee, back' });
    http.expectOne('/api/requirements').flush([tee, mug, { ...tee, id: 'back', name: 'Tee, back' }]);
    await page.fixture.whenStable();
    expect([name(), listed().length]).toEqual(['Tee, back', 3]);
  });

  it('deletes one, which can be brought back as it was', async () => {
    await page.press('Delete');
    http.expectOne((one) => one.method === 'DELETE' && one.url === '/api/requirements/tee').flush(null);
    http.expectOne('/api/requirements').flush([mug]);
    await page.fixture.whenStable();
    expect(listed()).toEqual(['Mug wrap']);
    expect(TestBed.inject(Heard).last).toBe('“Tee” is deleted.');
    TestBed.inject(Heard).takeUp();
    const { id: _id, revision: _revision, ...fields } = tee;
    const asked = http.expectOne((one) => one.method === 'POST');
    expect(asked.request.body).toEqual(fields);
    asked.flush(tee);
    http.expectOne('/api/requirements').flush([mug, tee]);
    await page.fixture.whenStable();
    expect(name()).toBe('Tee');
  });

  it('keeps what was typed when the server refuses it, and says why', async () => {
    await type('Note', 'For the back alone');
    await page.press('Save');
    http.expectOne((one) => one.method === 'PUT').flush(...refusal('Somebody else changed it.', 412));
    await page.fixture.whenStable();
    expect(page.element.querySelector<HTMLTextAreaElement>('textarea')!.value).toBe('For the back alone');
    expect(page.button('Save').disabled).toBeFalse();
    expect(TestBed.inject(Heard).last).toContain('Somebody else changed it.');
  });
});
