import { drawOver } from '../raster/over.js';
import type { Pixels } from '../geometry/pixels.js';
import { lostOnInk } from './on-ink.js';

const NAVY = [31, 43, 77, 255];
const NEARLY = [36, 47, 80, 255];
const CREAM = [244, 240, 230, 255];

const field = (width: number, height: number, rgba: readonly number[]): Pixels => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => rgba[i % 4]),
});

/** Bars as letters have them, 6 px wide and 40 high, over 200 px; with a line of another colour around each. */
function letters(rgba: readonly number[], line?: readonly number[]): Pixels {
  const own = field(240, 80, [0, 0, 0, 0]);
  for (let x = 20; x < 220; x += 14) {
    if (line) drawOver(own, field(10, 44, line), x - 2, 18);
    drawOver(own, field(6, 40, rgba), x, 20);
  }
  return own;
}

/** What of letters is lost on a ground. */
function lost(own: Pixels, below: Pixels) {
  const above = { ...below, data: below.data.slice() };
  drawOver(above, own, 0, 0);
  return lostOnInk(own, below, above);
}

describe('ink on other ink', () => {
  it('is lost where it has nearly its colour, and by how much and where is told', () => {
    const below = field(240, 80, CREAM);
    expect(lost(letters(NEARLY), below)).toBeNull();
    drawOver(below, field(120, 80, NAVY), 0, 0);
    const found = lost(letters(NEARLY), below)!;
    // Eight of fifteen bars stand on navy; the one that is cut by its end is seen there, and what is beside that.
    expect(found.lost).toBeCloseTo(7 / 15, 1);
    expect(found).toEqual(jasmine.objectContaining({ hex: '#242f50', under: '#1f2b4d' }));
    expect(found.where.x).toBeCloseTo(20 / 240, 2);
    expect(found.where.x + found.where.width).toBeLessThan(0.52);
    expect(found.where.height).toBeCloseTo(0.5, 2);
    expect(lost(letters(NEARLY), field(240, 80, NAVY))!.lost).toBe(1);
  });

  it('is read by a line of its own around it, and on bare cloth by that alone', () => {
    expect(lost(letters(NEARLY, CREAM), field(240, 80, NAVY))).toBeNull();
    expect(lost(letters(NEARLY, NAVY), field(240, 80, NAVY))!.lost).toBe(1);
    expect(lost(letters(NEARLY), field(240, 80, [0, 0, 0, 0]))).toBeNull();
    expect(lost(letters(NEARLY), field(240, 80, [...NAVY.slice(0, 3), 90]))).toBeNull();
  });
});
