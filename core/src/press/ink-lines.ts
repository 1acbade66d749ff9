import { DIRECTIONS, joined, type ThinPart } from './thin.js';

/** A part of a picture: four bytes a pixel, from a place in rows of a width. */
export interface PartOf {
  readonly data: Uint8Array | Uint8ClampedArray;
  /** Pixels in a row of the whole picture. */
  readonly stride: number;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** Alpha from which ink hides what lies under it. */
const SOLID = 200;
/** Least difference of a channel, 0 to 255, by which a line is told from the ink around it. */
const SEEN = 40;
/** How much the two sides of a line, and each side in itself, may differ, as shares of the line's own difference. */
const [SIDES, SIDE] = [0.5, 0.3];
/** Cells of so many px are looked at only where something changes in or beside them. */
const CELL = 32;
/** Share of a cell's pixels from which what changes in it is texture, which no press is asked to keep line by line. */
const TEXTURE = 0.3;

/**
 * Lines of ink within other ink that are narrower than a limit, pale or dark: pixels that differ from what lies on both
 * sides of them, a limit and a little away, while the sides are alike and even. How wide they are is how much of a chord
 * across them has their colour.
 * @param limit px
 * @param length least length of a line, px
 */
export function linesInInk(part: PartOf, limit: number, length: number): ThinPart[] {
  const { data, stride, left, top, width, height } = part;
  const away = Math.ceil(limit) + 2;
  const cells = changing(part);
  const across = Math.ceil(width / CELL);
  const aslant = Math.ceil(away / Math.SQRT2);
  const axes = Int32Array.of(away * 4, away * stride * 4, aslant * (stride + 1) * 4, aslant * (stride - 1) * 4);
  const places: number[] = [];
  for (let cell = 0; cell < cells.length; cell++) {
    if (!cells[cell]) continue;
    const [fromX, fromY] = [(cell % across) * CELL, Math.floor(cell / across) * CELL];
    const toX = Math.min(width - away, fromX + CELL);
    const before = places.length;
    for (let y = Math.max(away, fromY); y < Math.min(height - away, fromY + CELL); y++) {
      const row = ((top + y) * stride + left) * 4;
      for (let x = Math.max(away, fromX); x < toX; x++) {
        const i = row + x * 4;
        if (data[i + 3] < SOLID) continue;
        for (let k = 0; k < 4; k++) {
          const one = differ(data, i, i - axes[k]);
          if (one < SEEN || differ(data, i, i + axes[k]) < SEEN) continue;
          if (differ(data, i - axes[k], i + axes[k]) > SIDES * one) continue;
          if (data[i - axes[k] + 3] < SOLID || data[i + axes[k] + 3] < SOLID) continue;
          places.push(y * width + x);
          break;
        }
      }
    }
    if (places.length - before > TEXTURE * CELL * CELL) places.length = before;
  }
  return joined(places, (i) => chordInInk(part, i % width, Math.floor(i / width), limit), {
    width,
    height,
    limit,
    length,
    spread: 1,
  });
}

const differ = (data: PartOf['data'], i: number, j: number): number =>
  Math.max(Math.abs(data[i] - data[j]), Math.abs(data[i + 1] - data[j + 1]), Math.abs(data[i + 2] - data[j + 2]));

/** Cells in which, or beside which, neighbouring pixels of solid ink differ. */
function changing({ data, stride, left, top, width, height }: PartOf): Uint8Array {
  const [across, down] = [Math.ceil(width / CELL), Math.ceil(height / CELL)];
  const own = new Uint8Array(across * down);
  for (let y = 0; y < height - 1; y++) {
    const row = Math.floor(y / CELL) * across;
    let i = ((top + y) * stride + left) * 4;
    for (let x = 0; x < width - 1; x++, i += 4) {
      if (data[i + 3] < SOLID || own[row + Math.floor(x / CELL)]) continue;
      const below = i + stride * 4;
      if (
        Math.abs(data[i] - data[i + 4]) + Math.abs(data[i + 1] - data[i + 5]) + Math.abs(data[i + 2] - data[i + 6]) >
          SEEN / 2 ||
        Math.abs(data[i] - data[below]) +
          Math.abs(data[i + 1] - data[below + 1]) +
          Math.abs(data[i + 2] - data[below + 2]) >
          SEEN / 2
      )
        own[row + Math.floor(x / CELL)] = 1;
    }
  }
  const near = new Uint8Array(own.length);
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++)
      for (let j = Math.max(0, y - 1); j <= Math.min(down - 1, y + 1) && !near[y * across + x]; j++)
        for (let i = Math.max(0, x - 1); i <= Math.min(across - 1, x + 1); i++)
          if (own[j * across + i]) near[y * across + x] = 1;
  return near;
}

/** The shortest way across a line of ink within ink, px; infinite where it is none. */
function chordInInk({ data, stride, left, top, width, height }: PartOf, x: number, y: number, limit: number): number {
  const away = Math.ceil(limit) + 2;
  const [at, end] = [new Float64Array(4), [new Float64Array(4), new Float64Array(4)]];
  const read = (into: Float64Array, px: number, py: number): boolean => {
    const [x0, y0] = [Math.floor(px), Math.floor(py)];
    if (x0 < 0 || y0 < 0 || x0 >= width - 1 || y0 >= height - 1) return false;
    const [fx, fy] = [px - x0, py - y0];
    const i = ((top + y0) * stride + left + x0) * 4;
    const j = i + stride * 4;
    for (let k = 0; k < 4; k++)
      into[k] =
        (data[i + k] * (1 - fx) + data[i + 4 + k] * fx) * (1 - fy) +
        (data[j + k] * (1 - fx) + data[j + 4 + k] * fx) * fy;
    return into[3] >= SOLID;
  };
  const most = (a: Float64Array, b: Float64Array): number =>
    Math.max(Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1]), Math.abs(a[2] - b[2]));
  const own = new Float64Array(4);
  const farther = new Float64Array(4);
  if (!read(own, x, y)) return Infinity;
  let least = Infinity;
  for (const [dx, dy] of DIRECTIONS) {
    const [before, after] = end;
    if (!read(before, x - away * dx, y - away * dy) || !read(after, x + away * dx, y + away * dy)) continue;
    const seen = Math.min(most(own, before), most(own, after));
    if (seen < SEEN || most(before, after) > SIDES * seen) continue;
    const further = away + 2;
    if (read(farther, x - further * dx, y - further * dy) && most(farther, before) > SIDE * seen) continue;
    if (read(farther, x + further * dx, y + further * dy) && most(farther, after) > SIDE * seen) continue;
    // How much of the line's colour each place of the chord has, by the way from the sides' colour to it.
    const c = [0, 1, 2].map((k) => own[k] - (before[k] + after[k]) / 2);
    const size = c[0] ** 2 + c[1] ** 2 + c[2] ** 2;
    let sum = 0;
    let isOne = true;
    for (let t = 1 - away; t < away && isOne; t++) {
      if (!read(at, x + t * dx, y + t * dy)) isOne = false;
      let dot = 0;
      const share = (t + away) / (2 * away);
      for (let k = 0; k < 3; k++) dot += (at[k] - before[k] * (1 - share) - after[k] * share) * c[k];
      const cover = dot / size;
      // A pixel on the slope of a line is not where its width is told.
      if (cover > 1.08) isOne = false;
      sum += Math.max(0, Math.min(1, cover));
    }
    if (isOne && sum < least) least = sum;
  }
  return least;
}
