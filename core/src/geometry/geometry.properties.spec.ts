import fc from 'fast-check';
import {
  apply,
  boxAround,
  compose,
  IDENTITY,
  intersect,
  invert,
  mapBox,
  rotate,
  scale,
  translate,
  unite,
  type Affine,
  type Box,
  type Point,
} from './affine.js';
import { boundsOfPlace, corners, unitToField } from './place.js';
import { LEAST_SCALE, MOST_SCALE, toMmAt, zoomedAt } from './viewport.js';

const mm = fc.double({ min: -2000, max: 2000, noNaN: true });
const size = fc.double({ min: 0.1, max: 2000, noNaN: true });
const factor = fc.oneof(
  fc.double({ min: 0.05, max: 20, noNaN: true }),
  fc.double({ min: -20, max: -0.05, noNaN: true }),
);
const degrees = fc.double({ min: -720, max: 720, noNaN: true });
const point: fc.Arbitrary<Point> = fc.record({ x: mm, y: mm });
const box: fc.Arbitrary<Box> = fc.record({ x: mm, y: mm, width: size, height: size });
/** What layers are moved by: turned, stretched and mirrored, never flattened. */
const map: fc.Arbitrary<Affine> = fc
  .tuple(mm, mm, degrees, factor, factor)
  .map(([x, y, turn, sx, sy]) => compose(translate(x, y), rotate(turn), scale(sx, sy)));

/** A hundred thousandth of the largest number in the sum: double precision with room for three products. */
const near = (a: number, b: number, of = 1e5): boolean =>
  Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a), Math.abs(b), of);
const samePoint = (a: Point, b: Point): boolean => near(a.x, b.x) && near(a.y, b.y);

describe('maps of the plane', () => {
  it('are undone by their inverse, wherever a point lies', () => {
    fc.assert(fc.property(map, point, (m, p) => samePoint(apply(invert(m), apply(m, p)), p)));
  });

  it('follow each other as their product does, however they are grouped', () => {
    fc.assert(
      fc.property(map, map, map, point, (a, b, c, p) => {
        const one = apply(compose(a, b, c), p);
        const [left, right] = [apply(compose(compose(a, b), c), p), apply(compose(a, compose(b, c)), p)];
        // Stretched three times by up to twenty, numbers are up to 8000 times larger than they were.
        return [left, right].every((two) => near(one.x, two.x, 1e9) && near(one.y, two.y, 1e9));
      }),
    );
  });

  it('change nothing beside the identity', () => {
    fc.assert(fc.property(map, point, (m, p) => samePoint(apply(compose(IDENTITY, m, IDENTITY), p), apply(m, p))));
  });

  it('keep lengths when they only turn', () => {
    fc.assert(
      fc.property(degrees, point, (turn, p) => {
        const turned = apply(rotate(turn), p);
        return near(Math.hypot(turned.x, turned.y), Math.hypot(p.x, p.y));
      }),
    );
  });

  it('take every point of a box into the box around the mapped one', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(map, box, share, share, (m, b, u, v) => {
        const inside = apply(m, { x: b.x + u * b.width, y: b.y + v * b.height });
        const around = mapBox(m, b);
        const slack = 1e-6;
        return (
          inside.x >= around.x - slack &&
          inside.x <= around.x + around.width + slack &&
          inside.y >= around.y - slack &&
          inside.y <= around.y + around.height + slack
        );
      }),
    );
  });

  it('are refused an inverse when they flatten the plane', () => {
    fc.assert(
      fc.property(factor, degrees, (s, turn) => {
        expect(() => invert(compose(rotate(turn), scale(s, 0)))).toThrowError(RangeError);
      }),
    );
  });
});

describe('boxes', () => {
  const holds = (outer: Box, inner: Box): boolean =>
    outer.x <= inner.x + 1e-9 &&
    outer.y <= inner.y + 1e-9 &&
    outer.x + outer.width >= inner.x + inner.width - 1e-6 &&
    outer.y + outer.height >= inner.y + inner.height - 1e-6;

  it('united hold each of them, and are no larger than the points need', () => {
    fc.assert(
      fc.property(fc.array(box, { minLength: 1, maxLength: 8 }), (boxes) => {
        const all = unite(boxes)!;
        expect(boxes.every((one) => holds(all, one))).toBeTrue();
        const ends = boxes.flatMap(({ x, y, width, height }) => [
          { x, y },
          { x: x + width, y: y + height },
        ]);
        expect(all).toEqual(boxAround(ends));
      }),
    );
  });

  it('have in common what lies in both, whoever is asked first', () => {
    fc.assert(
      fc.property(box, box, (a, b) => {
        const both = intersect(a, b);
        expect(intersect(b, a)).toEqual(both);
        const apart = a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y;
        if (both && !apart) expect(holds(a, both) && holds(b, both)).toBeTrue();
        if (apart) expect(!both || both.width <= 1e-9 || both.height <= 1e-9).toBeTrue();
      }),
    );
  });
});

describe('a layer’s place', () => {
  const place = fc.record({
    x: mm,
    y: mm,
    width: size,
    height: size,
    turn: degrees,
    flipX: fc.boolean(),
    flipY: fc.boolean(),
  });

  it('has its corners where its middle, size and turn say', () => {
    fc.assert(
      fc.property(place, (one) => {
        const found = corners(unitToField(one));
        const half = Math.hypot(one.width, one.height) / 2;
        expect(found.length).toBe(4);
        for (const corner of found) expect(near(Math.hypot(corner.x - one.x, corner.y - one.y), half)).toBeTrue();
        const middle = { x: (found[0].x + found[2].x) / 2, y: (found[0].y + found[2].y) / 2 };
        expect(found.length === 4 && samePoint(middle, one))
          .withContext('corners lie across from each other')
          .toBeTrue();
      }),
    );
  });

  it('takes the same room mirrored, and after a whole turn', () => {
    fc.assert(
      fc.property(place, (one) => {
        const room = boundsOfPlace(one);
        for (const other of [
          { ...one, flipX: !one.flipX },
          { ...one, flipY: !one.flipY },
          { ...one, turn: one.turn + 360 },
        ]) {
          const same = boundsOfPlace(other);
          expect((['x', 'y', 'width', 'height'] as const).every((key) => near(same[key], room[key]))).toBeTrue();
        }
      }),
    );
  });
});

describe('the view of the stage', () => {
  it('keeps what is under the pointer there, however it is zoomed', () => {
    const view = fc.record({
      scale: fc.double({ min: LEAST_SCALE, max: MOST_SCALE, noNaN: true }),
      left: mm,
      top: mm,
    });
    fc.assert(
      fc.property(view, point, fc.double({ min: LEAST_SCALE, max: MOST_SCALE, noNaN: true }), (seen, at, to) => {
        const [before, after] = [toMmAt(seen, at), toMmAt(zoomedAt(seen, at, to), at)];
        return near(before.x, after.x) && near(before.y, after.y);
      }),
    );
  });
});
