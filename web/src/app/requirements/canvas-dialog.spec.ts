import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { Requirement } from '@kettle/core/model';
import { OWN_SIZES } from '@kettle/core/requirement';
import { Preferences } from '../data/preferences';
import { RequirementShelf } from '../data/requirement-shelf';
import { InPage } from '../testing/in-page';
import { mug, tee } from '../testing/open-editor';
import { openDialog } from '../testing/open-dialog';
import { CanvasDialog, type CanvasDialogData } from './canvas-dialog';

describe('what a canvas is for', () => {
  let http: HttpTestingController;
  let closed: unknown[];
  let page: InPage<CanvasDialog>;
  async function open(data: CanvasDialogData, all: readonly Requirement[] = [tee, mug]): Promise<void> {
    ({ http, closed } = openDialog(data));
    TestBed.inject(Preferences).usual.set('');
    TestBed.inject(Preferences).unit.set('mm');
    TestBed.inject(RequirementShelf).refresh().subscribe();
    http.expectOne('/api/requirements').flush(all);
    page = await InPage.show(CanvasDialog);
  }
  const field = (name: string) => page.element.querySelector<HTMLInputElement>(`[formControlName=${name}]`)!;
  async function type(name: string, value: string): Promise<void> {
    field(name).value = value;
    field(name).dispatchEvent(new Event('input'));
    await page.fixture.whenStable();
  }
  afterEach(() => TestBed.inject(Preferences).usual.set(''));

  it('is found by its words, and Enter takes the first that has them', async () => {
    await open({ title: 'For …' });
    const box = page.field('Search requirements');
    const enter = () => box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    enter();
    expect(closed).toEqual([]);
    box.value = 'wrap';
    box.dispatchEvent(new Event('input'));
    await page.fixture.whenStable();
    expect(page.text).not.toContain('4200 × 4800');
    enter();
    expect(closed).toEqual([mug]);
    expect(TestBed.inject(Preferences).usual()).toBe('');
  });

  it('is a size that is typed, kept as a requirement that is named by it', async () => {
    await open({ title: 'For …' });
    expect(page.button('Use this size').disabled).toBeTrue();
    await type('width', '14,5');
    await type('height', '21');
    await page.press('cm');
    // Another unit keeps the size: what was typed were mm.
    expect([field('width').value, field('height').value]).toEqual(['1.45', '2.1']);
    await type('width', '14,8');
    await type('height', '21');
    expect(page.text).toContain('A canvas of 1748 × 2480 px.');
    await page.press('Use this size');
    const asked = http.expectOne({ method: 'POST', url: '/api/requirements' });
    expect(asked.request.body).toEqual(
      jasmine.objectContaining({
        channel: OWN_SIZES,
        name: '14.8 × 21 cm, 300 DPI',
        width: 14.8,
        height: 21,
        unit: 'cm',
        transparency: 'required',
      }),
    );
    const made = { ...tee, id: 'own' };
    asked.flush(made);
    http.expectOne('/api/requirements').flush([tee, mug, made]);
    expect(closed).toEqual([made]);
  });

  it('is refused with a sentence where it cannot be made, and taken again where it is kept', async () => {
    const kept = { ...tee, id: 'kept', channel: OWN_SIZES, name: '100 × 50 mm, 300 DPI, no transparency' };
    await open({ title: 'For …', own: true }, [tee, kept]);
    await type('width', '1,200');
    await type('height', '50');
    expect(page.button('Use this size').disabled).toBeTrue();
    expect(page.text).toContain('1,200');
    await type('width', '90000');
    expect(page.text).toContain('at most 30000 px a side');
    await type('width', '100');
    await page.tick('Transparent where nothing is drawn');
    await page.press('Use this size');
    http.expectNone({ method: 'POST', url: '/api/requirements' });
    expect(closed).toEqual([kept]);
  });

  it('can be what new designs begin with from now on', async () => {
    await open({ title: 'For …' });
    await page.tick('New designs begin with it from now on');
    await page.press(page.buttons.find((one) => one.startsWith('Mug wrap'))!);
    expect(closed).toEqual([mug]);
    expect(TestBed.inject(RequirementShelf).usual()?.id).toBe(mug.id);
  });
});
