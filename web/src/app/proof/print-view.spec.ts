import { signal } from '@angular/core';
import { shapeLayer } from '@kettle/core/drawing';
import type { Editor } from '../editor/editor';
import { InPage } from '../testing/in-page';
import { openEditor } from '../testing/open-editor';
import { colourAt, drawn, point } from '../testing/shown';
import { PressProof } from './press-proof';
import { PrintView, type Probe } from './print-view';

const FIELD = { width: 355.6, height: 406.4 };
const bar = shapeLayer('s', 'rectangle', FIELD, '#f2bd4b');
/** In the middle of the canvas, so that its colour is there and the cloth is around it. */
const square = { ...bar, place: { ...bar.place, x: 177.8, y: 203.2, width: 120, height: 120 } };

describe('a target through a window', () => {
  let editor: Editor;
  /** A press that prints everything in one grey, on paper of its own colour. */
  const proof = {
    ready: signal({}),
    warning: signal(false),
    paperColour: () => 'rgb(250 240 200)',
    inksOf: () => [10, 20, 30, 40],
    apply: ({ data }: ImageData) => {
      for (let i = 0; i < data.length; i += 4) data.fill(90, i, i + 3);
    },
  };
  beforeEach(() => {
    ({ editor } = openEditor(
      { field: FIELD, layers: [square], targets: [{ requirementId: 'tee', garment: '#1b1b1d' }] },
      [{ provide: PressProof, useValue: proof }],
    ));
  });
  const show = async (inputs: object = {}) => {
    const page = await InPage.show(PrintView, {
      target: editor.current()!,
      view: { scale: 0.5, left: 0, top: 0 },
      ...inputs,
    });
    page.element.style.cssText = 'display: block; width: 180px; height: 210px';
    document.body.append(page.element);
    await drawn(page);
    const surface = page.element.querySelector('canvas')!;
    const at = (x: number, y: number): number[] => colourAt(surface, x, y);
    return { page, at };
  };

  it('is the art on the cloth it is sold on', async () => {
    const { page, at } = await show();
    expect([at(89, 101), at(10, 10)]).toEqual([
      [0xf2, 0xbd, 0x4b],
      [0x1b, 0x1b, 0x1d],
    ]);
    page.element.remove();
  });

  it('is the print on its paper when that is asked for', async () => {
    const { page, at } = await show({ printed: true });
    expect([at(89, 101), at(10, 10)]).toEqual([
      [90, 90, 90],
      [250, 240, 200],
    ]);
    page.element.remove();
  });

  it('tells what lies under the pointer, as designed, and nothing where there is no ink', async () => {
    const { page } = await show({ printed: true });
    const told: (Probe | null)[] = [];
    page.fixture.componentInstance.probed.subscribe((one) => told.push(one));
    const surface = page.element.querySelector('canvas')!;
    point(surface, 'pointermove', 89, 101);
    point(surface, 'pointermove', 10, 10);
    surface.dispatchEvent(new PointerEvent('pointerleave'));
    expect(told).toEqual([{ hex: '#f2bd4b', inks: [10, 20, 30, 40] }, null, null]);
    page.element.remove();
  });

  it('rings the places of a finding, with room around small ones', async () => {
    const { page, at } = await show({ places: [{ x: 20, y: 20, width: 2, height: 2 }] });
    // A place of a square millimetre is half a pixel here: its ring is 16 px wide all the same.
    expect([at(10, 2), at(10, 10)]).toEqual([
      [0xb4, 0x53, 0x2a],
      [0x1b, 0x1b, 0x1d],
    ]);
    page.element.remove();
  });
});
