import { TestBed } from '@angular/core/testing';
import { pictureLayer } from '@kettle/core/document';
import { of, Subject } from 'rxjs';
import { InPage } from '../testing/in-page';
import { badge, openEditor } from '../testing/open-editor';
import { Cutting } from './cutting';
import { StepSettings } from './step-settings';
import { TreatPainter, type TreatedPicture } from './treat-painter';

const layer = pictureLayer('p', 'Badge', badge, { width: 355.6, height: 406.4 });

describe('what a step of a picture is set to', () => {
  let cutting: Cutting;
  let page: InPage<StepSettings>;
  const treated = new Subject<TreatedPicture>();
  const open = async (guess: object | null = null): Promise<void> => {
    sessionStorage.clear();
    const ready = { width: 400, height: 400, wholeWidth: 900, wholeHeight: 900, colours: ['#f2bd4b'], guess };
    const painter = { load: () => of(ready), treat: () => undefined, treated };
    openEditor({ layers: [layer], targets: [{ requirementId: 'tee' }] }, [
      Cutting,
      { provide: TreatPainter, useValue: painter },
    ]);
    cutting = TestBed.inject(Cutting);
    cutting.open(layer);
    page = await InPage.show(StepSettings);
  };

  it('says that a flat ground is taken out already, until it is corrected', async () => {
    await open({ id: 'g', kind: 'colour', hex: '#ffffff', tolerance: 8, from: 'border' });
    expect(page.text).toContain('which is taken out already');
    await page.press('Everywhere, holes too');
    expect(page.text).not.toContain('which is taken out already');
    expect(cutting.chosen()).toEqual(jasmine.objectContaining({ hex: '#ffffff', from: 'everywhere' }));
  });

  it('tells how much of the inside became see-through, marks it on demand, and keeps it whole by one press', async () => {
    await open({ id: 'g', kind: 'colour', hex: '#ffffff', tolerance: 3, from: 'border', soft: 0.16 });
    const pixels = new Uint8ClampedArray(new ArrayBuffer(32));
    const answer = { width: 4, height: 2, pixels, milliseconds: 1 };
    treated.next({ ...answer, quick: false, through: { share: 0.02, where: new Uint8Array(8) } });
    await page.fixture.whenStable();
    expect(page.text).not.toContain('see-through inside');
    treated.next({ ...answer, quick: false, through: { share: 0.448, where: new Uint8Array(8) } });
    await page.fixture.whenStable();
    expect(page.text).toContain('45 % of the art became see-through inside');
    // A quick answer does not know; what was said stands.
    treated.next({ ...answer, quick: true, through: null });
    await page.press('Show where');
    expect(cutting.marking()).toBeTrue();
    await page.press('Keep it whole');
    expect(cutting.chosen()).toEqual(jasmine.objectContaining({ kind: 'colour', soft: 0 }));
    treated.next({ ...answer, quick: false, through: { share: 0, where: new Uint8Array(8) } });
    await page.fixture.whenStable();
    expect(page.text).not.toContain('see-through inside');
  });

  it('begins with one of the colours of the picture', async () => {
    await open();
    cutting.begin('colour');
    await page.fixture.whenStable();
    expect(page.buttons).toEqual(['#f2bd4b', '#ffffff', '#000000']);
    await page.press('#f2bd4b');
    expect(cutting.chosen()).toEqual(jasmine.objectContaining({ kind: 'colour', hex: '#f2bd4b', from: 'border' }));
  });

  it('is a part of the picture and never more, typed or as far as there is ink', async () => {
    await open();
    cutting.begin('crop');
    await page.fixture.whenStable();
    await page.enter('Width', '60');
    await page.enter('Left', '70');
    const box = () => (cutting.chosen() as { box?: unknown }).box;
    expect(box()).toEqual({ x: 0.7, y: 0, width: 0.3, height: 1 });
    // Ink in the second of four columns and the last of two rows.
    const pixels = new Uint8ClampedArray(new ArrayBuffer(32));
    pixels[(4 + 1) * 4 + 3] = 255;
    treated.next({ width: 4, height: 2, pixels, milliseconds: 1, quick: false, through: null });
    await page.press('Crop to the ink');
    expect(box()).toEqual({ x: 0.25, y: 0.5, width: 0.25, height: 0.5 });
  });

  it('counts specks by their side, and one ink by its colour', async () => {
    await open();
    cutting.begin('edge');
    await page.fixture.whenStable();
    await page.enter('Clear specks up to', '3');
    expect(cutting.chosen()).toEqual(jasmine.objectContaining({ specks: 9 }));
    cutting.begin('tone');
    await page.fixture.whenStable();
    await page.press('One ink');
    await page.enter('Ink, hex', '#112233');
    await page.press('Invert lightness');
    expect(cutting.chosen()).toEqual(jasmine.objectContaining({ ink: '#112233', turnedOver: true }));
    await page.press('One ink');
    expect(cutting.chosen()).toEqual(jasmine.objectContaining({ ink: null }));
  });
});
