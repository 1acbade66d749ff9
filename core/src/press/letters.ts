import { components, type Component } from '../raster/components.js';
import type { PartOf } from './ink-lines.js';

/** Difference of a channel or of alpha from the pixel before to the one after, 0 to 255, at which something begins. */
const EDGE = 48;
/** Letters that stand in a row at least. */
const LEAST_LETTERS = 4;
/** How high the lowest letters of a row are, as a share of its highest; lower ones are dots and accents. */
export const LETTER_FROM = 0.4;
/** Least height of a letter in pixels: less is not told from dust. */
const LEAST_PX = 3;
/** Letters reach this many times as high as the small ones, and as many times their height are several of them wide. */
const [MOST_HIGH, MOST_WIDE] = [1.6, 60];
/** A shape that is wider than this for its height is several letters. */
const WIDE = 1.5;
/** Strokes that a row crosses in what is a word. */
const WORD = 10;
/** Most shapes that are looked at: of more, they are no letters but texture. */
const MOST_SHAPES = 40_000;
/** Where the widths of a row differ by less than this share of their mean, it is a pattern and no writing. */
const PATTERN = 0.08;

/** A row of letters: where it is, and how high its small letters are, px. */
export interface LetterRow {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  readonly low: number;
}

/**
 * Rows of letters lower than a limit, in whatever ink and on whatever ground: small shapes side by side, about as high
 * as each other, which differ in width.
 * @param limit px
 */
export function lowLetters(part: PartOf, limit: number): LetterRow[] {
  const { width, height } = part;
  const shapes = components(edges(part), width, height, 1)
    .filter(({ left, right, top, bottom }) => {
      const [across, down] = [right - left - 2, bottom - top - 2];
      return down >= LEAST_PX && down <= MOST_HIGH * limit + 2 && across >= 1 && across <= MOST_WIDE * down;
    })
    .sort((a, b) => a.left - b.left);
  if (shapes.length > MOST_SHAPES) return [];
  return rowsOf(shapes, limit).flatMap((row) => {
    const all = row.map((shape) => written(part, shape));
    const highest = Math.max(...all.map((one) => one.height));
    const letters = all.filter((one) => one.height >= LETTER_FROM * highest && one.letters > 0);
    const count = letters.reduce((sum, one) => sum + one.letters, 0);
    if (count < LEAST_LETTERS || (letters.length > 1 && isPattern(row))) return [];
    const low = letters.map((one) => one.height).sort((a, b) => a - b)[Math.floor(letters.length * 0.1)];
    if (low >= limit || low < LEAST_PX) return [];
    return [
      {
        left: Math.min(...row.map((one) => one.left)) + 1,
        top: Math.min(...row.map((one) => one.top)) + 1,
        right: Math.max(...row.map((one) => one.right)) - 1,
        bottom: Math.max(...row.map((one) => one.bottom)) - 1,
        low,
      },
    ];
  });
}

/** Pixels between whose neighbours something begins, in colour or alpha. */
function edges({ data, stride, left, top, width, height }: PartOf): Uint8Array {
  const mask = new Uint8Array(width * height);
  for (let y = 0, at = 0; y < height; y++) {
    let i = ((top + y) * stride + left) * 4;
    for (let x = 0; x < width; x++, i += 4, at++) {
      if (x < width - 2 && isEdge(data, i, i + 8)) mask[at + 1] = 1;
      if (y < height - 2 && isEdge(data, i, i + stride * 8)) mask[at + width] = 1;
    }
  }
  return mask;
}

function isEdge(data: PartOf['data'], i: number, j: number): boolean {
  const [a, b] = [data[i + 3], data[j + 3]];
  if (Math.abs(a - b) >= EDGE) return true;
  // The colour of what is hardly there is nobody's.
  if (a < 64 || b < 64) return false;
  return (
    Math.abs(data[i] - data[j]) >= EDGE ||
    Math.abs(data[i + 1] - data[j + 1]) >= EDGE ||
    Math.abs(data[i + 2] - data[j + 2]) >= EDGE
  );
}

/** Shapes that stand side by side, from left to right. */
function rowsOf(shapes: readonly Component[], limit: number): Component[][] {
  const rows: Component[][] = [];
  // Rows that may still go on, by the bands of height they lie in.
  const band = Math.max(4, Math.ceil(limit));
  const open = new Map<number, Component[][]>();
  for (const shape of shapes) {
    const middle = (shape.top + shape.bottom) / 2;
    const at = Math.floor(middle / band);
    let best: Component[] | null = null;
    for (const near of [at - 1, at, at + 1])
      for (const row of open.get(near) ?? []) {
        const last = row.at(-1)!;
        if (isBeside(last, shape) && (!best || last.right > best.at(-1)!.right)) best = row;
      }
    if (best) best.push(shape);
    else rows.push((best = [shape]));
    const here = (open.get(at) ?? []).filter((row) => row !== best && row.at(-1)!.right > shape.left - 4 * band);
    open.set(at, [...here, best]);
  }
  return rows;
}

function isBeside(last: Component, next: Component): boolean {
  const [one, two] = [last.bottom - last.top - 2, next.bottom - next.top - 2];
  const most = Math.max(one, two);
  const gap = next.left - last.right;
  const shared = Math.min(last.bottom, next.bottom) - Math.max(last.top, next.top) - 2;
  return (
    gap <= 1.2 * most && gap >= -0.3 * most && shared >= 0.5 * Math.min(one, two) && most <= 2.4 * Math.min(one, two)
  );
}

function isPattern(row: readonly Component[]): boolean {
  const widths = row.map(({ left, right }) => right - left - 2);
  const mean = widths.reduce((sum, one) => sum + one, 0) / widths.length;
  const spread = Math.sqrt(widths.reduce((sum, one) => sum + (one - mean) ** 2, 0) / widths.length);
  return spread < PATTERN * mean + 0.3;
}

/** How many letters a shape holds, and how high the small ones are, px. */
interface Written {
  readonly letters: number;
  readonly height: number;
}

/**
 * What a shape would be as writing: one letter, or several that run into each other, which are told by the strokes that
 * a row crosses. Heights are told to a part of a pixel: how much of each row is the shape's colour, added up.
 */
function written({ data, stride, left, top, width, height }: PartOf, shape: Component): Written {
  const at = (x: number, y: number): number =>
    ((top + Math.max(0, Math.min(height - 1, y))) * stride + left + Math.max(0, Math.min(width - 1, x))) * 4;
  // By alpha, so that what is bare has no colour.
  const difference = (i: number, j: number): number =>
    [0, 1, 2].reduce(
      (sum, k) => sum + Math.abs((data[i + k] * data[i + 3]) / 255 - (data[j + k] * data[j + 3]) / 255),
      Math.abs(data[i + 3] - data[j + 3]),
    );
  const [upper, lower] = [shape.top, shape.bottom - 1];
  const grounds = [
    at(shape.left, upper),
    at(shape.right - 1, upper),
    at(shape.left, lower),
    at(shape.right - 1, lower),
  ];
  const ground = grounds.reduce((best, one) => {
    const sum = (i: number): number => grounds.reduce((all, j) => all + difference(i, j), 0);
    return sum(one) < sum(best) ? one : best;
  });
  const across = shape.right - shape.left;
  const cover: Float64Array[] = [];
  let most = 1;
  for (let y = upper; y <= lower; y++) {
    const row = new Float64Array(across);
    for (let x = 0; x < across; x++) most = Math.max(most, (row[x] = difference(at(shape.left + x, y), ground)));
    cover.push(row);
  }
  const whole = cover.reduce((sum, row) => sum + Math.max(...row) / most, 0);
  if (across - 2 <= WIDE * whole) return { letters: 1, height: whole };
  const strokes = cover.map((row) => row.filter((one, x) => one > most / 2 && !(row[x - 1] > most / 2)).length);
  const crossed = Math.max(...strokes);
  // Where many strokes are crossed the small letters lie; what stands out above and below them is little. Of two or three
  // letters that is not told.
  const low =
    crossed < WORD
      ? whole
      : cover.reduce((sum, row, y) => sum + (strokes[y] >= crossed / 2 ? Math.max(...row) / most : 0), 0);
  return { letters: crossed >= 4 && crossed * whole >= across ? Math.round(crossed / 2) : 0, height: low };
}
