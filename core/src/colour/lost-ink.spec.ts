import type { Pixels } from '../raster/pixels.js';
import { lostInk, weighInk } from './lost-ink.js';
import { leastDifference, readableInk } from './readable.js';

const halves = (left: number[], right: number[]): Pixels => {
  const data = new Uint8ClampedArray(100 * 100 * 4);
  for (let i = 0; i < data.length; i += 4) data.set((i / 4) % 100 < 50 ? left : right, i);
  return { width: 100, height: 100, data };
};

describe('ink lost in cloth', () => {
  it('is weighted by area and by how much is still seen', () => {
    const weights = weighInk(halves([20, 20, 24, 255], [240, 190, 60, 255]));
    const lost = lostInk(weights, '#1b1b1d');
    expect(lost.share).toBeGreaterThan(0.45);
    expect(lost.share).toBeLessThan(0.55);
    expect(lost.hex).toMatch(/^#1[0-9a-f]1[0-9a-f]1[0-9a-f]$/);
    expect(lostInk(weights, '#5f8fd0')).toEqual({ share: 0, hex: null });
    expect(lostInk(weighInk(halves([0, 0, 0, 0], [0, 0, 0, 0])), '#000000')).toEqual({ share: 0, hex: null });
  });

  it('counts fine lines more than their area', () => {
    const lines = halves([240, 190, 60, 255], [240, 190, 60, 255]);
    // A twelfth of the area in lines of two pixels.
    for (let x = 0; x < 100; x += 24)
      for (let y = 0; y < 100; y++)
        for (let n = 0; n < 2; n++) lines.data.set([20, 20, 24, 255], (y * 100 + x + n) * 4);
    const share = lostInk(weighInk(lines), '#1b1b1d').share;
    expect(share).toBeGreaterThan(0.1 * 1.5);
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
