import type { Salience } from '../raster/salience.js';
import { croppingsOf } from './croppings.js';

const CANVAS = { widthMm: 600, heightMm: 800 };
/** The upper corners of the canvas are cut away, as at an armhole. */
const PANEL = {
  cut: [
    [200, 10],
    [400, 10],
    [590, 300],
    [590, 790],
    [10, 790],
    [10, 300],
  ] as const,
};

/** All that draws the eye is at one place of the art, in shares of it. */
function eyeAt(u: number, v: number): Salience {
  const [width, height] = [64, 48];
  const shares = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (Math.hypot((x + 0.5) / width - u, (y + 0.5) / height - v) < 0.08) shares[y * width + x] = 1;
  return { width, height, shares };
}
const ART = { width: 400, height: 300 };

describe('croppings of art on a panel', () => {
  it('begin with the middle, cover the panel, and look different from each other', () => {
    const all = croppingsOf(ART, eyeAt(0.5, 0.5), PANEL, CANVAS);
    expect(all.length).toBeGreaterThan(2);
    expect(all.length).toBeLessThan(5);
    const [first] = all;
    expect(first.art.x + first.art.width / 2).toBeCloseTo(300, 6);
    expect(first.art.height).toBeCloseTo(800, 6);
    for (const { art } of all) {
      expect(art.x).toBeLessThanOrEqual(0.001);
      expect(art.y).toBeLessThanOrEqual(0.001);
      expect(art.x + art.width).toBeGreaterThanOrEqual(599.999);
      expect(art.y + art.height).toBeGreaterThanOrEqual(799.999);
      expect(art.width / art.height).toBeCloseTo(4 / 3, 6);
    }
    const keys = new Set(all.map(({ art }) => `${Math.round(art.width)} ${Math.round(art.x)} ${Math.round(art.y)}`));
    expect(keys.size).toBe(all.length);
  });

  it('keep what draws the eye on the cloth, where the middle loses it', () => {
    // At the far right: in the middle it falls off the side.
    const right = croppingsOf(ART, eyeAt(0.9, 0.6), PANEL, CANVAS);
    expect(right[0].kept).toBeLessThan(0.1);
    expect(right[1].kept).toBeGreaterThan(0.95);
    expect(right[1].art.x).toBeLessThan(right[0].art.x - 100);
    // In the upper right corner, which the armhole takes wherever the art is as small as it may be: only moved inwards.
    const corner = croppingsOf(ART, eyeAt(0.75, 0.12), PANEL, CANVAS);
    expect(Math.max(...corner.slice(1).map((one) => one.kept))).toBeGreaterThan(corner[0].kept + 0.3);
  });
});
