import type { AreaMaps } from './maps.js';
import { mergeAreas } from './merge-areas.js';

const maps = (index: number[], u: number): AreaMaps => ({
  count: index.length,
  part: { x: 0, y: 0, width: 1, height: 1 },
  index: Uint32Array.from(index),
  u: Uint16Array.from(index, () => u),
  v: Uint16Array.from(index, (_, i) => i),
  coverage: Uint8Array.from(index, () => 255),
  detail: new Uint8Array(index.length),
  along: Int8Array.from(index.flatMap((_, i) => [i, -i])),
  pixelsPerMm: 1,
});

describe('areas that are printed at once', () => {
  it('are in the order of their pixels, and one that several share comes once for each, the lowest first', () => {
    const merged = mergeAreas([
      { maps: maps([2, 5, 9], 10), print: 0 },
      { maps: maps([1, 5, 6, 9], 20), print: 3 },
    ]);
    expect([...merged.index]).toEqual([1, 2, 5, 5, 6, 9, 9]);
    expect([...merged.print]).toEqual([3, 0, 0, 3, 3, 0, 3]);
    expect([...merged.u]).toEqual([20, 10, 10, 20, 20, 10, 20]);
    // Every entry keeps what belongs to it.
    expect([...merged.v]).toEqual([0, 0, 1, 1, 2, 2, 3]);
    expect([...merged.along]).toEqual([0, 0, 0, 0, 1, -1, 1, -1, 2, -2, 2, -2, 3, -3].map((value) => value || 0));
  });

  it('are as they were when there is one', () => {
    const one = maps([4, 7], 3);
    const merged = mergeAreas([{ maps: one, print: 2 }]);
    expect(merged.index).toBe(one.index);
    expect([...merged.print]).toEqual([2, 2]);
  });
});
