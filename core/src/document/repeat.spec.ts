import { mapBox, type Affine, type Box } from '../geometry/affine.js';
import { leastRepeat, MOST_TILES, REPEAT_KINDS, tilesOf } from './repeat.js';

const TILE: Box = { x: 40, y: 30, width: 60, height: 50 };
const FRAME: Box = { x: 0, y: 0, width: 400, height: 300 };

const boxes = (tiles: readonly Affine[]): Box[] => tiles.map((tile) => mapBox(tile, TILE));
const covers = (all: readonly Box[], x: number, y: number): number =>
  all.filter((box) => x >= box.x && x < box.x + box.width && y >= box.y && y < box.y + box.height).length;

describe('art that is repeated', () => {
  it('covers all of the canvas without a gap, in every kind, and leaves the cloth between that is asked for', () => {
    for (const kind of REPEAT_KINDS) {
      const close = boxes(tilesOf({ kind, tile: TILE, gap: 0, frame: FRAME }));
      const apart = boxes(tilesOf({ kind, tile: TILE, gap: 20, frame: FRAME }));
      let [bare, twice, inked, places] = [0, 0, 0, 0];
      for (let y = 0.5; y < FRAME.height; y += 1.7)
        for (let x = 0.5; x < FRAME.width; x += 1.7) {
          const count = covers(close, x, y);
          if (count === 0) bare++;
          if (count > 1) twice++;
          if (covers(apart, x, y)) inked++;
          places++;
        }
      expect(bare).withContext(kind).toBe(0);
      expect(twice / places)
        .withContext(kind)
        .toBeLessThan(0.02);
      // 60 × 50 of every 80 × 70.
      expect(inked / places)
        .withContext(kind)
        .toBeCloseTo((60 * 50) / (80 * 70), 1);
    }
  });

  it('stays where it is, and goes half a step down, aside, or turned over', () => {
    const at = (kind: (typeof REPEAT_KINDS)[number], x: number, y: number) =>
      tilesOf({ kind, tile: TILE, gap: 10, frame: FRAME }).filter((map) => {
        const box = mapBox(map, TILE);
        return Math.abs(box.x - x) < 1e-9 && Math.abs(box.y - y) < 1e-9;
      });
    for (const kind of REPEAT_KINDS)
      expect(at(kind, 40, 30))
        .withContext(kind)
        .toEqual([[1, 0, 0, 1, 0, 0]]);
    expect(at('straight', 110, 90).length).toBe(1);
    expect(at('half-drop', 110, 60).length).toBe(1);
    expect(at('half-drop', 180, 90).length).toBe(1);
    expect(at('brick', 75, 90).length).toBe(1);
    const [[a, , , d]] = at('mirror', 110, 30);
    expect([a, d]).toEqual([-1, 1]);
    expect(at('mirror', 110, 90)[0].slice(0, 4)).toEqual([-1, 0, 0, -1]);
    // What lies off the canvas is not drawn.
    expect(
      boxes(tilesOf({ kind: 'straight', tile: TILE, gap: 10, frame: FRAME })).every(
        (box) => box.x < 400 && box.y < 300,
      ),
    ).toBeTrue();
  });

  it('is not repeated more often than a press room can take, nor when it has no size', () => {
    const tiny = { x: 0, y: 0, width: 2, height: 2 };
    expect(tilesOf({ kind: 'straight', tile: tiny, gap: 0, frame: FRAME })).toEqual([[1, 0, 0, 1, 0, 0]]);
    expect(tilesOf({ kind: 'straight', tile: { ...tiny, width: 0 }, gap: 0, frame: FRAME }).length).toBe(1);
    const factor = leastRepeat(tiny, 0, FRAME);
    const least = { x: 0, y: 0, width: 2 * factor, height: 2 * factor };
    const count = tilesOf({ kind: 'half-drop', tile: least, gap: 0, frame: FRAME }).length;
    expect(count).toBeLessThanOrEqual(MOST_TILES);
    expect(count).toBeGreaterThan(MOST_TILES / 2);
    // Large art may become smaller.
    expect(leastRepeat({ x: 0, y: 0, width: 300, height: 300 }, 0, FRAME)).toBeLessThan(0.2);
  });
});
