import { areaSeen, boxOnPicture, onPicture, type AreaGrid } from './area-grid.js';
import { viewOf } from './crop.js';

/** An area that is seen upright on the middle of a picture, from 0.25 to 0.75 across and from 0.2 to 0.8 down. */
const grid: AreaGrid = {
  side: 25,
  density: 0.5 / 300,
  places: Array.from({ length: 625 }, (_, n) => ({
    x: 0.25 + ((n % 25) / 24) * 0.5,
    y: 0.2 + (Math.floor(n / 25) / 24) * 0.6,
  })),
};
const blank = { width: 2000, height: 2000 };

describe('a grid over a print area', () => {
  it('finds a box on the picture', () => {
    const box = boxOnPicture(grid, { x: 0.5, y: 0.5, width: 0.25, height: 0.25 })!;
    expect(box.x).toBeCloseTo(0.5, 6);
    expect(box.y).toBeCloseTo(0.5, 6);
    expect(box.width).toBeCloseTo(0.125, 6);
    expect(box.height).toBeCloseTo(0.15, 6);
  });

  it('leaves out what the picture does not show', () => {
    // The right half lies on the other side, as of a mug.
    const half = { ...grid, places: grid.places.map((place, n) => (n % 25 > 12 ? null : place)) };
    const box = boxOnPicture(half, { x: 0, y: 0, width: 1, height: 1 })!;
    expect(box.x + box.width).toBeLessThanOrEqual(0.5 + 1e-9);
    expect(boxOnPicture(half, { x: 0.8, y: 0.2, width: 0.1, height: 0.1 })).toBeNull();
    expect(onPicture(half, { widthMm: 300, heightMm: 400 }, { x: 240, y: 80, width: 30, height: 40 }).print).toBeNull();
  });

  it('tells how densely an area is seen, and which part of it a crop shows', () => {
    const whole = areaSeen(grid, blank, viewOf(blank, null, 1000));
    expect(whole.pixelsPerMm).toBeCloseTo(500 / 300, 6);
    expect(whole.part).toEqual({ x: 0, y: 0, width: 1, height: 1 });
    // The middle quarter of the picture, twice as large as the blank has it.
    const close = areaSeen(grid, blank, viewOf(blank, { x: 750, y: 750, width: 500, height: 500 }, 1000));
    expect(close.pixelsPerMm).toBeCloseTo((1000 / 300) * 2, 6);
    // From 0.375 to 0.625 of the picture across lies the middle half of the area: that, and a little more.
    expect(close.part.x).toBeLessThan(0.25);
    expect(close.part.x).toBeGreaterThan(0.12);
    expect(close.part.x + close.part.width).toBeGreaterThan(0.75);
    expect(close.part.x + close.part.width).toBeLessThan(0.88);
  });
});
