import type { Point } from '../geometry/affine.js';
import { placeOnPhoto, type AreaShape } from './area-shape.js';

/** Places along an edge at which its length is taken. */
const STEPS = 16;
/** Shorter lines on a photo say too little, shares of its width. */
const LEAST = 0.01;

/** Length of a line over the area on the photo, in widths of the photo. */
function lengthOf(place: (t: number) => Point, ratio: number): number {
  let length = 0;
  for (let n = 0; n < STEPS; n++) {
    const [a, b] = [place(n / STEPS), place((n + 1) / STEPS)];
    length += Math.hypot(b.x - a.x, (b.y - a.y) * ratio);
  }
  return length;
}

/**
 * True size of a print area from something of known length on the same photo, at about the same distance: a sheet of
 * paper, a ruler. What is seen at a slant comes out too small by the cosine of that slant. Of a cylinder the width is
 * measured around it.
 * @param ratio height of the photo by its width
 * @param line its ends, shares of the photo’s width and height
 * @throws RangeError with a sentence when the line is too short, or the points of the area are none
 */
export function sizeFromKnown(
  shape: AreaShape,
  ratio: number,
  line: readonly [Point, Point],
  lengthMm: number,
): { readonly widthMm: number; readonly heightMm: number } {
  const [a, b] = line;
  const known = Math.hypot(b.x - a.x, (b.y - a.y) * ratio);
  if (!(known >= LEAST) || !(lengthMm > 0))
    throw new RangeError('Draw the line from one end of what you know to the other, and type its length.');
  const place = placeOnPhoto(shape);
  const mm = lengthMm / known;
  const mean = (of: (share: number) => number): number => (of(0) + of(0.5) + of(1)) / 3;
  const [from, to] = shape.kind === 'cylinder' ? shape.shows : [0, 1];
  const middle = (from + to) / 2;
  const height =
    shape.kind === 'cylinder'
      ? lengthOf((t) => place(middle, t), ratio)
      : mean((u) => lengthOf((t) => place(u, t), ratio));
  if (shape.kind !== 'cylinder')
    return { widthMm: mm * mean((v) => lengthOf((t) => place(t, v), ratio)), heightMm: mm * height };
  const [left, right] = [place(from, 0.5), place(to, 0.5)];
  const half = (shape.arc * Math.PI) / 360;
  const radius = Math.hypot(right.x - left.x, (right.y - left.y) * ratio) / 2 / Math.sin(half);
  return { widthMm: (mm * radius * 2 * half) / (to - from), heightMm: mm * height };
}
