import { cropOn, isWhole, viewOf } from './crop.js';

const blank = { width: 2000, height: 2000 };
const on = {
  area: { x: 0.3, y: 0.2, width: 0.4, height: 0.5 },
  print: { x: 0.4, y: 0.3, width: 0.2, height: 0.1 },
};
const ratio = ({ width, height }: { width: number; height: number }) => width / height;

describe('a crop', () => {
  it('of nothing in particular is all of the picture', () => {
    expect(cropOn(blank, undefined, on)).toBeNull();
    expect(cropOn(blank, { of: 'whole', shape: '1:1' }, on)).toBeNull();
    expect(cropOn(blank, { of: 'box', box: { x: 0, y: 0, width: 1, height: 1 } }, on)).toBeNull();
  });

  it('of a shape is the largest there is, with the print area in its middle as far as the picture reaches', () => {
    // 4:5 of a square: 0.8 wide, about the area’s middle at 0.5.
    expect(cropOn(blank, { of: 'whole', shape: '4:5' }, on)).toEqual({ x: 200, y: 0, width: 1600, height: 2000 });
    const wide = cropOn(blank, { of: 'whole', shape: '16:9' }, on)!;
    expect(wide.width).toBe(2000);
    expect(ratio(wide)).toBeCloseTo(16 / 9, 2);
    expect(wide.y + wide.height / 2).toBeCloseTo(900, -1);
    const low = cropOn(blank, { of: 'whole', shape: '16:9' }, { ...on, area: { ...on.area, y: 0.9, height: 0.1 } })!;
    expect(low.y + low.height).toBe(2000);
  });

  it('of the print holds all of it with room around, in its shape', () => {
    for (const shape of ['1:1', '4:5', '16:9'] as const) {
      const box = cropOn(blank, { of: 'print', shape }, on)!;
      expect(box.x).toBeLessThan(800);
      expect(box.x + box.width).toBeGreaterThan(1200);
      expect(box.y).toBeLessThan(600);
      expect(box.y + box.height).toBeGreaterThan(800);
      expect(ratio(box)).toBeCloseTo({ '1:1': 1, '4:5': 0.8, '16:9': 16 / 9 }[shape], 1);
      expect(box.x + box.width / 2).toBeCloseTo(1000, -1);
    }
    // Without art the area stands for it.
    expect(cropOn(blank, { of: 'print', shape: '1:1' }, { ...on, print: null })!.width).toBeGreaterThan(1000);
  });

  it('of a detail lies within the print, and is never closer than there is something to be seen', () => {
    const box = cropOn(blank, { of: 'detail', shape: '1:1' }, on)!;
    expect(box.x).toBeGreaterThan(800);
    expect(box.x + box.width).toBeLessThan(1200);
    const tiny = cropOn(
      blank,
      { of: 'detail', shape: '1:1' },
      { ...on, print: { x: 0.5, y: 0.5, width: 0.01, height: 0.01 } },
    )!;
    expect(tiny.width).toBe(160);
  });

  it('follows the print in steps, so that a hair’s move is seen as before', () => {
    const moved = (by: number) =>
      cropOn(blank, { of: 'print', shape: '1:1' }, { ...on, print: { ...on.print, x: on.print.x + by } });
    expect(moved(0.0005)).toEqual(moved(0));
    expect(moved(0.03)!.x).toBe(moved(0)!.x + 60);
  });

  it('lies on even pixels inside the picture, whatever is asked for', () => {
    const box = cropOn(blank, { of: 'box', box: { x: 0.9, y: 0.95, width: 0.3331, height: 0.2007 } }, on)!;
    for (const value of [box.x, box.y, box.width, box.height]) expect(value % 2).toBe(0);
    expect(box.x + box.width).toBe(2000);
    expect(box.y + box.height).toBe(2000);
  });

  it('is seen with its longest side as large as the picture is to be', () => {
    const view = viewOf(blank, { x: 200, y: 0, width: 1600, height: 2000 }, 1000);
    expect([view.width, view.height]).toEqual([800, 1000]);
    expect(isWhole(blank, view)).toBeFalse();
    expect(isWhole(blank, viewOf(blank, null, 300))).toBeTrue();
  });
});
