import { TestBed } from '@angular/core/testing';
import type { DesignDocument } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { textLayer } from '@kettle/core/document';
import type { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { Preferences } from '../data/preferences';
import { InPage } from '../testing/in-page';
import { openEditor } from '../testing/open-editor';
import { drawn } from '../testing/shown';
import { Stage } from './stage';

const FIELD = { width: 355.6, height: 406.4 };
const star = shapeLayer('s', 'star', FIELD, '#f2bd4b');
const square = { ...star, place: { ...star.place, x: 177.8, y: 100, width: 60, height: 60 } };
const line = textLayer(
  't',
  { text: 'Fog', fontId: 'anton' },
  { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
  FIELD,
  '#f2bd4b',
);

describe('the canvas of a target', () => {
  let editor: Editor;
  let page: InPage<Stage>;
  const design = (): DesignDocument => editor.desk.document()!;
  const table = (): HTMLElement => page.element.querySelector('.table')!;
  const key = async (name: string, more: KeyboardEventInit = {}): Promise<void> => {
    table().dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more }));
    table().dispatchEvent(new KeyboardEvent('keyup', { key: name, bubbles: true }));
    await page.fixture.whenStable();
  };
  const readout = () => page.element.querySelector('.readout')?.textContent?.replace(/\s+/g, ' ').trim() ?? '';
  const percent = () => parseInt(page.element.querySelector('.zoom .num')!.textContent!, 10);
  beforeEach(async () => {
    ({ editor } = openEditor({
      field: FIELD,
      layers: [square, line],
      targets: [{ requirementId: 'tee', garment: '#1B1B1D' }],
    }));
    TestBed.inject(Preferences).unit.set('mm');
    page = await InPage.show(Stage);
    page.element.style.cssText = 'display: block; width: 700px; height: 600px';
    for (const part of page.element.querySelectorAll<HTMLElement>('.table, .surface'))
      part.style.cssText = 'position: relative; width: 640px; height: 520px';
    document.body.append(page.element);
    await drawn(page);
  });
  afterEach(() => page.element.remove());

  it('says what the file will be, and where what is held lies', async () => {
    expect(page.text).toContain('4200 × 4800 px · 300 DPI · RGB · transparent');
    // Nothing is held: the whole design is told.
    expect(readout()).toContain('mm below the top edge');
    editor.select(['s']);
    await drawn(page);
    expect(readout()).toContain('60 × 60 mm');
    expect(readout()).toContain('70 mm below the top edge');
    expect(readout()).toContain('centred');
    expect(readout()).toContain('outlines: sharp at any size');
  });

  it('moves what is held by one printed pixel, or ten, and a run of keys is one step back', async () => {
    editor.select(['s']);
    for (let i = 0; i < 3; i++)
      table().dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true, cancelable: true }));
    await key('ArrowDown', { shiftKey: true });
    const { x, y } = design().layers[0].place;
    expect((x - 177.8) * (300 / 25.4)).toBeCloseTo(3, 6);
    expect((y - 100) * (300 / 25.4)).toBeCloseTo(10, 6);
    editor.desk.undo();
    expect(design().layers[0].place.x).toBeCloseTo(177.8, 9);
  });

  it('gives the keys to what is pressed on the canvas, selected before or not', async () => {
    editor.select(['s']);
    const field = document.createElement('input');
    table().append(field);
    field.focus();
    page.element.querySelector('.surface')!.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
    expect(document.activeElement).toBe(table());
    field.remove();
  });

  it('removes what is held, opens lettering to be written in, and lets go', async () => {
    editor.select(['t']);
    await key('Enter');
    expect(editor.editing()).toBe('t');
    editor.editing.set(null);
    await key('Delete');
    expect(design().layers.map(({ id }) => id)).toEqual(['s']);
    editor.select(['s']);
    await key('Escape');
    expect(editor.selection()).toEqual([]);
    await key('Delete');
    expect(design().layers.length).toBe(1);
  });

  it('puts away the sampler first, then the brush, then what is held', async () => {
    const tools = TestBed.inject(Tools);
    editor.select(['s']);
    tools.drawing.set(true);
    tools.sampling.set(() => undefined);
    await key('Escape');
    expect([tools.sampling(), tools.drawing(), editor.selection().length]).toEqual([null, true, 1]);
    await key('Escape');
    expect([tools.drawing(), editor.selection().length]).toEqual([false, 1]);
  });

  it('comes nearer and goes farther, shows what is held, and all of it again', async () => {
    const whole = percent();
    await key('+');
    expect(percent() / whole).toBeCloseTo(1.4, 1);
    await page.press('1:1');
    expect(percent()).toBe(100);
    expect(page.button('Selection').disabled).toBeTrue();
    editor.select(['s']);
    await page.fixture.whenStable();
    await page.press('Selection');
    expect(percent()).toBeGreaterThan(whole * 2);
    await page.press('Whole');
    expect(percent()).toBe(whole);
  });

  it('is seen on every colour it is sold in, which is kept, or on a checker, which is not', async () => {
    const paper = () => page.element.querySelector<HTMLElement>('.paper')!;
    expect(page.button('Soot').getAttribute('aria-pressed')).toBe('true');
    await page.press('Harbour');
    expect(design().targets[0].garment).toBe('#1F2B4D');
    expect(paper().style.background).toContain('rgb(31, 43, 77)');
    await page.press('Checker pattern: what is transparent');
    expect(paper().classList).toContain('checker');
    expect(design().targets[0].garment).toBe('#1F2B4D');
  });

  it('invites where there is nothing yet', async () => {
    editor.desk.edit((before) => ({ ...before, layers: [] }));
    await page.fixture.whenStable();
    expect(page.text).toContain('Drop a picture here');
    editor.desk.edit((before) => ({ ...before, targets: [] }));
    await page.fixture.whenStable();
    expect(page.text).toContain('No target yet');
  });
});
