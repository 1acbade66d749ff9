import type { Point } from '../geometry/affine.js';
import { seenCells, seenCorners, type PixelOf } from './seen-box.js';

/** A mug of 200 mm around, seen from the side of its middle: 70 mm of it face the camera. */
const mug: PixelOf = ({ x, y }) => {
  const angle = ((x - 100) / 200) * 2 * Math.PI;
  return Math.abs(x - 100) <= 35 ? { x: 300 + 200 * Math.sin(angle), y: 100 + y * 4 } : null;
};
const wrap = { x: 0, y: 0, width: 200, height: 90 };

describe('a box on a print area as it is seen', () => {
  it('is found wherever it faces the camera, though both of its sides are turned away', () => {
    const quads = seenCells(wrap, mug).split('Z').filter(Boolean);
    const points = quads.flatMap((quad) =>
      quad
        .slice(1)
        .split('L')
        .map((pair): Point => {
          const [x, y] = pair.split(' ').map(Number);
          return { x, y };
        }),
    );
    const area = quads.reduce((sum, _quad, k) => {
      const four = points.slice(k * 4, k * 4 + 4);
      const doubled = four.reduce((all, one, i) => all + one.x * four[(i + 1) % 4].y - four[(i + 1) % 4].x * one.y, 0);
      return sum + Math.abs(doubled) / 2;
    }, 0);
    // What is seen is a band of 2 × 200 × sin(63°) px by 360; whole cells fill nearly all of it.
    const seen = 2 * 200 * Math.sin((35 / 200) * 2 * Math.PI) * 360;
    expect(area / seen).toBeGreaterThan(0.9);
    expect(area / seen).toBeLessThanOrEqual(1);
    expect(seenCells(wrap, () => null)).toBe('');
  });

  it('is taken at its corners, or where its edges come into sight', () => {
    const small = { x: 90, y: 20, width: 20, height: 20 };
    expect(seenCorners(small, mug).map(({ at }) => [at.x, at.y])).toEqual([
      [90, 20],
      [110, 20],
      [90, 40],
      [110, 40],
    ]);
    const corners = seenCorners(wrap, mug);
    expect(corners.length).toBe(4);
    for (const { at, pixel } of corners) {
      expect(Math.abs(at.x - 100)).toBeLessThanOrEqual(35);
      expect(Math.abs(at.x - 100)).toBeGreaterThan(30);
      expect(pixel).toEqual(mug(at)!);
    }
  });
});
