import type { Box } from '@kettle/core/geometry';
import { InPage } from '../testing/in-page';
import { colourAt, drawn, point } from '../testing/shown';
import { PictureView } from './picture-view';

/** Left half blue, right half clear. */
const [WIDTH, HEIGHT] = [100, 100];
const pixels = new Uint8ClampedArray(new ArrayBuffer(WIDTH * HEIGHT * 4));
for (let i = 0; i < pixels.length; i += 4) pixels.set([0, 0, 255, (i / 4) % WIDTH < WIDTH / 2 ? 255 : 0], i);
/** 18 px around it stay free. */
const SIDE = 136;

describe('a picture shown large', () => {
  let page: InPage<PictureView>;
  const surface = (): HTMLCanvasElement => page.element.querySelector('canvas')!;
  const show = async (inputs: object = {}): Promise<void> => {
    page = await InPage.show(PictureView, {
      width: WIDTH,
      height: HEIGHT,
      pixels,
      pixelWidth: WIDTH,
      source: pixels,
      ground: { kind: 'colour', hex: '#00ff00' },
      ...inputs,
    });
    page.element.style.cssText = `display: block; width: ${SIDE}px; height: ${SIDE}px`;
    document.body.append(page.element);
    spyOn(surface(), 'setPointerCapture');
    await drawn(page);
  };
  afterEach(() => page.element.remove());
  const key = (name: string, more: KeyboardEventInit = {}) =>
    surface().dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more }));

  it('lies on the cloth it is looked at on, or is its alpha as light and dark', async () => {
    await show();
    expect([colourAt(surface(), 40, 68), colourAt(surface(), 100, 68)]).toEqual([
      [0, 0, 255],
      [0, 255, 0],
    ]);
    page.fixture.componentRef.setInput('ground', { kind: 'mask' });
    await drawn(page);
    expect([colourAt(surface(), 40, 68), colourAt(surface(), 100, 68)]).toEqual([
      [255, 255, 255],
      [0, 0, 0],
    ]);
  });

  it('gives the colour that is pressed, by a hand or where a cross was moved by keys', async () => {
    await show({ hand: 'colour' });
    const told: { at: { x: number; y: number }; hex: string }[] = [];
    page.fixture.componentInstance.pressed.subscribe((one) => told.push(one));
    point(surface(), 'pointerdown', 18 + 25, 18 + 50);
    expect(told[0].hex).toBe('#0000ff');
    expect(told[0].at.x).toBeCloseTo(0.25, 2);
    key('ArrowLeft');
    key('ArrowLeft', { shiftKey: true });
    key('Enter');
    expect(told[1].at).toEqual({ x: jasmine.any(Number) as unknown as number, y: 0.5 });
    expect(told[1].at.x).toBeCloseTo(0.37, 6);
    // Beside the picture there is no colour.
    point(surface(), 'pointerdown', 4, 68);
    expect(told.length).toBe(2);
  });

  it('is rubbed over, point by point, and by a dot', async () => {
    await show({ hand: 'strokes' });
    const strokes: (readonly number[])[] = [];
    page.fixture.componentInstance.drawn.subscribe((points) => strokes.push(points));
    point(surface(), 'pointerdown', 38, 38);
    for (const x of [39, 48, 58]) point(surface(), 'pointermove', x, 38);
    point(surface(), 'pointerup', 58, 38);
    // A move of one screen pixel is none.
    expect(strokes[0].map((value) => Math.round(value * 100))).toEqual([20, 20, 30, 20, 40, 20]);
    point(surface(), 'pointerdown', 68, 68);
    point(surface(), 'pointercancel', 68, 68);
    point(surface(), 'pointerup', 68, 68);
    expect(strokes.length).toBe(1);
  });

  it('is cropped by a drag, and moved when nothing else is in hand', async () => {
    await show({ hand: 'crop', crop: { x: 0, y: 0, width: 1, height: 1 } });
    const crops: Box[] = [];
    page.fixture.componentInstance.cropped.subscribe((one) => crops.push(one));
    point(surface(), 'pointerdown', 18, 68);
    point(surface(), 'pointermove', 38, 68);
    point(surface(), 'pointerup', 38, 68);
    expect(crops.at(-1)!.x).toBeCloseTo(0.2, 2);
    expect(crops.at(-1)!.x + crops.at(-1)!.width).toBeCloseTo(1, 6);
    page.fixture.componentRef.setInput('hand', null);
    page.fixture.componentRef.setInput('crop', null);
    await drawn(page);
    point(surface(), 'pointerdown', 68, 68);
    point(surface(), 'pointermove', 88, 68);
    point(surface(), 'pointerup', 88, 68);
    await drawn(page);
    // Its middle, where blue ends, lies 20 px farther right.
    expect([colourAt(surface(), 84, 68), colourAt(surface(), 92, 68)]).toEqual([
      [0, 0, 255],
      [0, 255, 0],
    ]);
  });

  it('comes nearer about the pointer, at most so far, and back to where it was', async () => {
    await show();
    const wheel = (deltaY: number) => {
      const { left, top } = surface().getBoundingClientRect();
      surface().dispatchEvent(
        new WheelEvent('wheel', { deltaY, clientX: left + 18, clientY: top + 68, cancelable: true }),
      );
    };
    for (let i = 0; i < 40; i++) wheel(-100);
    await drawn(page);
    // Twelve times as large, its left edge where it was: all that is seen is blue.
    expect([colourAt(surface(), 20, 68), colourAt(surface(), 130, 68)]).toEqual([
      [0, 0, 255],
      [0, 0, 255],
    ]);
    for (let i = 0; i < 40; i++) wheel(100);
    await drawn(page);
    expect(colourAt(surface(), 100, 68)).toEqual([0, 255, 0]);
  });
});
