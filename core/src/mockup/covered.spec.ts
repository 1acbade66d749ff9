import { CoveredPlaces } from './covered.js';

const AREA = { widthMm: 140, heightMm: 210, safeInsetMm: 5 };

/** Maps of an area that is seen wherever `shown` says so, in shares of it. */
function seenWhere(shown: (u: number, v: number) => boolean) {
  const [index, u, v]: [number[], number[], number[]] = [[], [], []];
  for (let j = 0; j < 200; j++)
    for (let i = 0; i < 200; i++) {
      const [x, y] = [(i + 0.5) / 200, (j + 0.5) / 200];
      if (!shown(x, y)) continue;
      index.push(j * 200 + i);
      u.push(x * 65535);
      v.push(y * 65535);
    }
  return {
    count: u.length,
    index: Uint32Array.from(index),
    u: Uint16Array.from(u),
    v: Uint16Array.from(v),
    coverage: new Uint8Array(u.length).fill(255),
  };
}

describe('what lies over a print area', () => {
  /** An elastic down the right, 6 of 140 mm wide. */
  const elastic = new CoveredPlaces(seenWhere((u) => u < 0.8 || u > 0.845));

  it('is found between what is seen, and told as a share of the art', () => {
    expect(elastic.any).toBeTrue();
    expect(elastic.shareOf({ x: 10, y: 10, width: 90, height: 100 }, AREA)).toBe(0);
    const share = elastic.shareOf({ x: 90, y: 20, width: 45, height: 100 }, AREA);
    expect(share).toBeGreaterThan(0.09);
    expect(share).toBeLessThan(0.18);
  });

  it('is not the side that a product turns away, nor what the frame cuts off', () => {
    const mug = new CoveredPlaces(seenWhere((u) => u > 0.3 && u < 0.7));
    const cut = new CoveredPlaces(seenWhere((_, v) => v < 0.6));
    for (const one of [mug, cut, new CoveredPlaces(seenWhere(() => true))]) {
      expect(one.any).toBeFalse();
      expect(one.shareOf({ x: 0, y: 0, width: 140, height: 210 }, AREA)).toBe(0);
    }
  });

  it('is not what a slanted pixel passes over', () => {
    // Towards its right edge the product turns away: six cells lie between one pixel and the next.
    const maps = seenWhere((u, v) => (u < 0.7 || Math.round(u * 200 - 0.5) % 20 === 0) && v > 0);
    const slanted = { ...maps, index: Uint32Array.from(maps.index, (_, i) => i) };
    expect(new CoveredPlaces(slanted).any).toBeFalse();
    expect(new CoveredPlaces(maps).any).toBeTrue();
  });

  it('is left by the shortest way, and by less size only where the art does not fit beside it', () => {
    const small = elastic.clearOf({ x: 90, y: 20, width: 40, height: 60 }, AREA)!;
    expect([small.width, small.height]).toEqual([40, 60]);
    expect(Math.abs(small.y - 20)).toBeLessThan(5);
    expect(small.x + small.width).toBeLessThanOrEqual(0.8 * 140 + 1.2);
    expect(small.x).toBeGreaterThan(60);
    expect(elastic.shareOf(small, AREA)).toBe(0);
    const large = elastic.clearOf({ x: 10, y: 20, width: 120, height: 120 }, AREA)!;
    expect(large.width).toBeLessThan(108);
    expect(large.width).toBeGreaterThan(90);
    expect(large.height / large.width).toBeCloseTo(1, 6);
    expect(elastic.shareOf(large, AREA)).toBe(0);
    // Under a cloth with holes there is no place.
    const net = new CoveredPlaces(seenWhere((u, v) => u < 0.02 || u > 0.98 || v < 0.02 || v > 0.98));
    expect(net.clearOf({ x: 10, y: 20, width: 120, height: 120 }, AREA)).toBeNull();
  });
});
