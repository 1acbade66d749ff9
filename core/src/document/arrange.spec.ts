import { layer } from '../testing/samples.js';
import type { Box } from '../geometry/affine.js';
import { alignShifts, matchFactors, placesOf, scaledAbout, shifted, spreadShifts, unitsOf } from './arrange.js';

const box = (x: number, y: number, width = 10, height = 10): Box => ({ x, y, width, height });
const moved = (boxes: readonly Box[], by: readonly { x: number; y: number }[]): Box[] =>
  boxes.map((one, i) => ({ ...one, x: one.x + by[i].x, y: one.y + by[i].y }));

describe('arranging', () => {
  it('moves groups as one', () => {
    const units = unitsOf([
      layer('a', { x: 10, y: 10, width: 10, height: 10 }),
      { ...layer('b', { x: 50, y: 10, width: 10, height: 10 }), group: 'g' },
      { ...layer('c', { x: 70, y: 30, width: 20, height: 10 }), group: 'g' },
    ]);
    expect(units.map((unit) => unit.layers.map((one) => one.id))).toEqual([['a'], ['b', 'c']]);
    expect(units[1].box).toEqual({ x: 45, y: 5, width: 35, height: 30 });
    const places = placesOf(units, (place, unit, i) => shifted(place, { x: i * 5, y: unit.box.y }));
    expect([places['a'].x, places['b'].x, places['c'].x]).toEqual([10, 55, 75]);
  });

  it('lines up edges and middles', () => {
    const boxes = [box(0, 0), box(30, 40, 20, 10)];
    const frame = box(0, 0, 100, 50);
    expect(moved(boxes, alignShifts(boxes, 'right', frame)).map((one) => one.x + one.width)).toEqual([100, 100]);
    expect(moved(boxes, alignShifts(boxes, 'centre', frame)).map((one) => one.x + one.width / 2)).toEqual([50, 50]);
    expect(moved(boxes, alignShifts(boxes, 'middle', frame)).map((one) => one.y + one.height / 2)).toEqual([25, 25]);
    expect(moved(boxes, alignShifts(boxes, 'top', frame)).map((one) => [one.x, one.y])).toEqual([
      [0, 0],
      [30, 0],
    ]);
  });

  it('spreads by equal gaps or equal distances, whatever the order, with the outermost two in place', () => {
    const boxes = [box(80, 0, 20), box(0, 0), box(13, 5, 30)];
    const gaps = moved(boxes, spreadShifts(boxes, 'x', 'gaps'));
    expect([gaps[1].x, gaps[0].x]).toEqual([0, 80]);
    expect(gaps[2].x - 10).toBeCloseTo(80 - (gaps[2].x + 30), 9);
    const centres = moved(boxes, spreadShifts(boxes, 'x', 'centres'));
    expect(centres[2].x + 15).toBeCloseTo((5 + 90) / 2, 9);
    expect(spreadShifts(boxes.slice(0, 2), 'x', 'gaps')).toEqual([
      { x: 0, y: 0 },
      { x: 0, y: 0 },
    ]);
    expect(gaps.map((one) => one.y)).toEqual([0, 0, 5]);
  });

  it('matches sizes and scales about a point', () => {
    expect(matchFactors([box(0, 0, 10, 20), box(0, 0, 40, 10)], 'width')).toEqual([1, 0.25]);
    const place = layer('a', { x: 20, y: 10, width: 10, height: 4, turn: 170 }).place;
    expect(scaledAbout(place, { x: 10, y: 10 }, 2)).toEqual(
      jasmine.objectContaining({ x: 30, y: 10, width: 20, height: 8 }),
    );
  });
});
