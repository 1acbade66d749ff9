import type { Panel } from '../model/requirement.js';
import { compose, rotate, translate, type Affine, type Point } from '../geometry/affine.js';

type Line = readonly (readonly [number, number])[];

/** How the cloth of one panel goes on, across a seam, on another. */
export interface Seam {
  /** From the first panel's canvas to the other's, mm to mm: turned and moved, never stretched. */
  readonly onto: Affine;
  /** How far the two edges lie apart then, at most and on the mean, mm: cloth is curved, a picture is not. */
  readonly mostMm: number;
  readonly meanMm: number;
}

/** Places along a seam at which its two edges are laid on each other. */
const PLACES = 41;

/** Point at a share of a line's length. */
function along(line: Line, share: number): Point {
  const lengths = line.slice(1).map(([x, y], i) => Math.hypot(x - line[i][0], y - line[i][1]));
  let left = share * lengths.reduce((sum, one) => sum + one, 0);
  for (let i = 0; i < lengths.length; i++) {
    if (left <= lengths[i] || i === lengths.length - 1) {
      const t = lengths[i] ? Math.min(1, left / lengths[i]) : 0;
      const [[ax, ay], [bx, by]] = [line[i], line[i + 1]];
      return { x: ax + (bx - ax) * t, y: ay + (by - ay) * t };
    }
    left -= lengths[i];
  }
  return { x: line[0][0], y: line[0][1] };
}

const places = (line: Line): Point[] => Array.from({ length: PLACES }, (_, i) => along(line, i / (PLACES - 1)));
const meanOf = (points: readonly Point[], of: (point: Point) => number): number =>
  points.reduce((sum, point) => sum + of(point), 0) / points.length;

/**
 * The turn and move that brings points nearest to others, in the sense of least squares (the rigid case of Procrustes’
 * problem in the plane, solved in closed form: Horn 1987).
 */
function nearest(from: readonly Point[], to: readonly Point[]): Affine {
  const [fx, fy] = [meanOf(from, ({ x }) => x), meanOf(from, ({ y }) => y)];
  const [tx, ty] = [meanOf(to, ({ x }) => x), meanOf(to, ({ y }) => y)];
  let [dot, cross] = [0, 0];
  from.forEach(({ x, y }, i) => {
    dot += (x - fx) * (to[i].x - tx) + (y - fy) * (to[i].y - ty);
    cross += (x - fx) * (to[i].y - ty) - (y - fy) * (to[i].x - tx);
  });
  return compose(translate(tx, ty), rotate((Math.atan2(cross, dot) * 180) / Math.PI), translate(-fx, -fy));
}

/** The part of a sleeve's cap that is sewn to a body: from its top to the underarm, on the left or the right. */
function halfCap(sleeve: Pick<Panel, 'lines'>, side: 'left' | 'right'): Line | null {
  const cap = sleeve.lines.find((line) => line.name === 'armhole')?.points;
  if (!cap) return null;
  const top = cap.reduce((best, [, y], i) => (y < cap[best][1] ? i : best), 0);
  const halves = [cap.slice(0, top + 1).toReversed(), cap.slice(top)];
  const [one, other] = halves;
  if (one.length < 2 || other.length < 2) return null;
  const leftFirst = one.at(-1)![0] < other.at(-1)![0];
  return (side === 'left') === leftFirst ? one : other;
}

/** The armhole of a body's panel on one side as it is looked at, from the shoulder down. */
function armhole(body: Pick<Panel, 'lines'>, side: 'left' | 'right'): Line | null {
  const holes = body.lines.filter((line) => line.name === 'armhole' && line.points.length > 1);
  if (holes.length !== 2) return null;
  const middle = ({ points }: { points: Line }): number =>
    points.reduce((sum, [x]) => sum + x, 0) / Math.max(1, points.length);
  const [left, right] = holes.toSorted((a, b) => middle(a) - middle(b));
  const { points } = side === 'left' ? left : right;
  return points[0][1] <= points.at(-1)![1] ? points : points.toReversed();
}

/**
 * How a sleeve goes on where a body's panel ends at the armhole. Of a front the wearer's left sleeve is at its right as
 * one looks at it, of a back at its left; the sleeve is laid flat with its cuff below, seen from outside. Null where the
 * panels have no such lines.
 */
export function sleeveSeam(body: Panel, sleeve: Panel): Seam | null {
  const back = body.areaId.includes('back');
  const worn = sleeve.areaId.includes('left') ? 'left' : sleeve.areaId.includes('right') ? 'right' : null;
  if (!worn || !sleeve.areaId.startsWith('sleeve')) return null;
  const seen = (worn === 'left') === back ? 'left' : 'right';
  const hole = armhole(body, seen);
  const half = halfCap(sleeve, seen === 'left' ? 'right' : 'left');
  if (!hole || !half) return null;
  const [from, to] = [places(hole), places(half)];
  const onto = nearest(from, to);
  const apart = from.map(({ x, y }, i) => {
    const [a, b, c, d, e, f] = onto;
    return Math.hypot(a * x + c * y + e - to[i].x, b * x + d * y + f - to[i].y);
  });
  return { onto, mostMm: Math.max(...apart), meanMm: apart.reduce((sum, one) => sum + one, 0) / apart.length };
}
