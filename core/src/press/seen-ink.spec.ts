import type { Pixels } from '../geometry/pixels.js';
import { leastDifference, readableInk } from '../colour/readable.js';
import { seenInk, seenOn } from './seen-ink.js';

const SIDE = 120;
const [BARE, INK, YELLOW, GREEN] = [
  [0, 0, 0, 0],
  [20, 20, 24, 255],
  [240, 190, 60, 255],
  [30, 110, 60, 255],
];
const drawn = (at: (x: number, y: number) => number[]): Pixels => {
  const data = new Uint8ClampedArray(SIDE * SIDE * 4);
  for (let i = 0; i < data.length; i += 4) data.set(at((i / 4) % SIDE, Math.floor(i / 4 / SIDE)), i);
  return { width: SIDE, height: SIDE, data };
};
const on = (picture: Pixels, cloth: string) => seenOn(seenInk(picture), cloth);
const isInside = (x: number, y: number, margin: number): boolean =>
  Math.min(x, y) >= margin && Math.max(x, y) < SIDE - margin;

describe('ink seen on cloth', () => {
  it('is lost by area, in the colour that is lost, where it lies', () => {
    const apart = drawn((x, y) => (!isInside(x, y, 10) || Math.abs(x - 60) < 4 ? BARE : x < 60 ? INK : YELLOW));
    const { lost, hex, where } = on(apart, '#1b1b1d');
    expect(lost).toBeGreaterThan(0.45);
    expect(lost).toBeLessThan(0.55);
    expect(hex).toMatch(/^#1[0-9a-f]1[0-9a-f]1[0-9a-f]$/);
    expect(where.length).toBe(1);
    expect(where[0].x * SIDE).toBeCloseTo(10, 0);
    expect((where[0].x + where[0].width) * SIDE).toBeCloseTo(57, 0);
    expect(on(apart, '#5f8fd0')).toEqual(jasmine.objectContaining({ lost: 0, hex: null, where: [] }));
    expect(
      on(
        drawn(() => BARE),
        '#000000',
      ),
    ).toEqual({ lost: 0, hex: null, contrast: null, where: [] });
  });

  it('is seen where other ink lies around it: yellow lines on a green field are not lost on a yellow shirt', () => {
    const lines = drawn((x, y) => (!isInside(x, y, 10) ? BARE : isInside(x, y, 20) && x % 12 < 3 ? YELLOW : GREEN));
    expect(on(lines, '#f0be3c').lost).toBe(0);
    // The same lines with no field behind them are gone.
    expect(
      on(
        drawn((x, y) => (isInside(x, y, 20) && x % 12 < 3 ? YELLOW : BARE)),
        '#f0be3c',
      ).lost,
    ).toBeGreaterThan(0.99);
    // Black letters in a white edge of their own are read on a black shirt; without it they are not.
    const letters = (edge: number[]) =>
      drawn((x, y) => (x % 24 < 12 && isInside(x, y, 20) ? (x % 24 < 3 || x % 24 >= 9 ? edge : INK) : BARE));
    expect(on(letters([250, 250, 250, 255]), '#1b1b1d').lost).toBeLessThan(0.15);
    expect(on(letters(INK), '#1b1b1d').lost).toBeGreaterThan(0.99);
  });

  it('counts fine lines more than their area', () => {
    // A twelfth of the area in lines of two pixels that lie on cloth, beside a field of another colour.
    const lines = drawn((x, y) => (y < 60 ? YELLOW : x % 12 < 2 ? INK : BARE));
    expect(on(lines, '#1b1b1d').lost).toBeGreaterThan((1 / 7) * 1.5);
  });

  it('has the contrast of the worst part that meets the cloth, not of the best, and not of what lies within', () => {
    // Contrast of the yellow on white by the formula of WCAG 2.2: 1.05 / (0.577 + 0.05).
    const two = drawn((x, y) => (isInside(x, y, 10) && Math.abs(x - 60) > 4 ? (x < 60 ? INK : YELLOW) : BARE));
    expect(on(two, '#ffffff').contrast).toBeCloseTo(1.72, 1);
    const within = drawn((x, y) => (isInside(x, y, 30) ? YELLOW : isInside(x, y, 10) ? INK : BARE));
    expect(on(within, '#ffffff').contrast).toBeGreaterThan(15);
  });

  it('loses all of a print that is nothing but the colour of the cloth, and none of a full one that holds both', () => {
    expect(
      on(
        drawn(() => INK),
        '#1b1b1d',
      ).lost,
    ).toBe(1);
    expect(
      on(
        drawn((x) => (x < 60 ? INK : YELLOW)),
        '#1b1b1d',
      ).lost,
    ).toBe(0);
  });

  it('is moved along its hue until it reads', () => {
    for (const [hex, cloth, towards] of [
      ['#1c2440', '#1b1b1d', 1],
      ['#f7e9d0', '#ffffff', -1],
    ] as const) {
      const moved = readableInk(hex, [cloth], towards);
      expect(leastDifference(moved, [cloth])).toBeGreaterThanOrEqual(24);
    }
  });
});
