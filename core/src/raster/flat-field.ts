import { hexOf } from '../colour/srgb.js';
import type { Pixels } from '../geometry/pixels.js';

/** How far a pixel may differ per channel from the field's colour: JPEG noise beside a drawing stays below. */
const TOLERANCE = 14;
/** Typical distance from that colour on a flat field, levels: noise is below, the shades of a photo's sky are above. */
const NOISE = 4;
/** Share of the rim that a field must have; drawings run over the edge of their picture too. */
const MOST_OF_RIM = 0.6;
/** Share of each side of a field's own box that must be free where something stands out of the box. */
const FREE_SIDE = 0.5;
/** Share of what is visible that a field must fill: less is a frame, or what a tight cut left in the corners. */
const LEAST_AREA = 0.08;
/** Places at which art meets a side, and the share of the side they spread over, that make a pattern of it. */
const PATTERN_PLACES = 3;
const PATTERN_SPREAD = 0.5;
/** The same for two sides that meet, as a grid of lines has it. */
const GRID_PLACES = 5;
/** In a clear picture a part that has more than this of one colour is a shape without art on it. */
const PLAIN = 0.99;
/** Alpha from which a pixel is there. */
const THERE = 128;

interface Rect {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/**
 * The one flat colour on which art stands as in a box: it has most of the rim of a picture or of an opaque rectangle in
 * a clear one, whatever else touches the rim. Null for photos, patterns that are cut on all sides, shapes that are no
 * rectangle, and art that is clear around. Meant for a copy of a few hundred px.
 */
export function flatField(pixels: Pixels): string | null {
  const { width, height, data } = pixels;
  const parts = connected(width, height, (cell) => data[cell * 4 + 3] >= THERE);
  for (const part of largest(parts, width * height * 0.01)) {
    const rect = rectOf(parts.of, part, width, height);
    const rim = rimOf(rect).filter(([x, y]) => parts.of[y * width + x] === part);
    for (const colour of commonColours(pixels, rim)) {
      const found = fieldOf(pixels, parts.of, part, rect, colour);
      if (found) return hexOf({ r: found[0], g: found[1], b: found[2] });
    }
  }
  return null;
}

type Colour = readonly [number, number, number];

function fieldOf(pixels: Pixels, parts: Int32Array, part: number, rect: Rect, near: Colour): Colour | null {
  const { width, height, data } = pixels;
  const distance = (cell: number, c: Colour): number =>
    Math.max(Math.abs(data[cell * 4] - c[0]), Math.abs(data[cell * 4 + 1] - c[1]), Math.abs(data[cell * 4 + 2] - c[2]));
  const isSolid = (cell: number): boolean => parts[cell] === part && data[cell * 4 + 3] >= 250;
  // The field's own colour is the middle of what is near.
  const close: number[] = [];
  for (const [x, y] of rimOf(rect)) {
    const cell = y * width + x;
    if (isSolid(cell) && distance(cell, near) <= TOLERANCE) close.push(cell);
  }
  if (!close.length) return null;
  const colour = middleColour(data, close);
  const isField = (cell: number): boolean => isSolid(cell) && distance(cell, colour) <= TOLERANCE;
  if (middle(close.map((cell) => distance(cell, colour))) > NOISE) return null;
  let [area, all] = [0, 0];
  for (let cell = 0; cell < parts.length; cell++) {
    if (parts[cell] !== part) continue;
    all++;
    if (isField(cell)) area++;
  }
  if (area < all * LEAST_AREA || (all < parts.length && area > all * PLAIN)) return null;
  if (isPattern(rect, width, isField)) return null;
  if (hasMostOfRim(rect, width, isField)) return colour;
  // Something may stand out of the box: then the field's own rectangle is free on every side.
  const fields = connected(width, height, isField);
  const [widest] = largest(fields, all * LEAST_AREA);
  if (widest === undefined) return null;
  const own = rectOf(fields.of, widest, width, height);
  const isFree = (x: number, y: number): boolean =>
    x < 0 || y < 0 || x >= width || y >= height || data[(y * width + x) * 4 + 3] < THERE;
  const free = sidesOf(own).map(({ cells, dx, dy }) => {
    const met = cells.filter(([x, y]) => fields.of[y * width + x] === widest && isFree(x + dx, y + dy));
    return met.length / cells.length;
  });
  const inClear = sidesOf(own).some(({ cells, dx, dy }) =>
    cells.some(([x, y]) => x + dx >= 0 && y + dy >= 0 && x + dx < width && y + dy < height && isFree(x + dx, y + dy)),
  );
  return inClear && free.every((share) => share >= FREE_SIDE) && cornersIn(own, width, isField) >= 2 ? colour : null;
}

function hasMostOfRim(rect: Rect, width: number, isField: (cell: number) => boolean): boolean {
  const rim = rimOf(rect);
  const own = rim.filter(([x, y]) => isField(y * width + x)).length;
  // A ground with rounded or cut corners is somebody's design. What was left behind a drawing by accident is a
  // rectangle: it shows in its corners.
  return own >= rim.length * MOST_OF_RIM && cornersIn(rect, width, isField) >= 2;
}

const cornersIn = ({ left, top, right, bottom }: Rect, width: number, isField: (cell: number) => boolean): number =>
  [top * width + left, top * width + right, bottom * width + left, bottom * width + right].filter(isField).length;

/** True when art is cut at many places of two opposite sides: such a picture was meant to fill what it is printed on. */
function isPattern(rect: Rect, width: number, isField: (cell: number) => boolean): boolean {
  const cut = sidesOf(rect).map(({ cells }) => {
    const starts: number[] = [];
    let inArt = false;
    cells.forEach(([x, y], at) => {
      const art = !isField(y * width + x);
      if (art && !inArt) starts.push(at);
      inArt = art;
    });
    const spread = starts.length ? (starts.at(-1)! - starts[0]) / cells.length : 0;
    return spread >= PATTERN_SPREAD ? starts.length : 0;
  });
  const isCut = (a: number, b: number): boolean => Math.min(a, b) >= PATTERN_PLACES;
  return isCut(cut[0], cut[1]) || isCut(cut[2], cut[3]) || cut.filter((places) => places >= GRID_PLACES).length >= 2;
}

/** Parts that hang together by their sides: the number of each cell's part, −1 for none, and how large each is. */
function connected(
  width: number,
  height: number,
  is: (cell: number) => boolean,
): { of: Int32Array; sizes: readonly number[] } {
  const of = new Int32Array(width * height).fill(-1);
  const sizes: number[] = [];
  const stack = new Int32Array(width * height);
  for (let start = 0; start < of.length; start++) {
    if (of[start] !== -1 || !is(start)) continue;
    const part = sizes.length;
    let [size, open] = [0, 1];
    stack[0] = start;
    of[start] = part;
    while (open) {
      const cell = stack[--open];
      size++;
      const x = cell % width;
      const reach = (to: number): void => {
        if (of[to] !== -1 || !is(to)) return;
        of[to] = part;
        stack[open++] = to;
      };
      if (x > 0) reach(cell - 1);
      if (x < width - 1) reach(cell + 1);
      if (cell >= width) reach(cell - width);
      if (cell + width < of.length) reach(cell + width);
    }
    sizes.push(size);
  }
  return { of, sizes };
}

/** Up to three largest parts of at least a size. */
const largest = ({ sizes }: { sizes: readonly number[] }, least: number): number[] =>
  sizes
    .map((size, part) => ({ size, part }))
    .filter(({ size }) => size >= least)
    .sort((a, b) => b.size - a.size)
    .slice(0, 3)
    .map(({ part }) => part);

function rectOf(of: Int32Array, part: number, width: number, height: number): Rect {
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (let y = 0, cell = 0; y < height; y++)
    for (let x = 0; x < width; x++, cell++) {
      if (of[cell] !== part) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  return { left, top, right, bottom };
}

/** The sides of a rectangle, top and bottom before left and right, with the way out of it. */
function sidesOf({ left, top, right, bottom }: Rect) {
  const along = (count: number, at: (n: number) => readonly [number, number]) =>
    Array.from({ length: count }, (_, n) => at(n));
  const [w, h] = [right - left + 1, bottom - top + 1];
  return [
    { cells: along(w, (n) => [left + n, top]), dx: 0, dy: -1 },
    { cells: along(w, (n) => [left + n, bottom]), dx: 0, dy: 1 },
    { cells: along(h, (n) => [left, top + n]), dx: -1, dy: 0 },
    { cells: along(h, (n) => [right, top + n]), dx: 1, dy: 0 },
  ];
}

const rimOf = (rect: Rect): (readonly [number, number])[] => sidesOf(rect).flatMap(({ cells }) => cells);

/** The commonest colours of some pixels, coarsely; noise may spread a field over several, so a few are answered. */
function commonColours({ width, data }: Pixels, cells: readonly (readonly [number, number])[]): Colour[] {
  const bins = new Map<number, number[]>();
  for (const [x, y] of cells) {
    const cell = y * width + x;
    if (data[cell * 4 + 3] < 250) continue;
    const key = ((data[cell * 4] >> 4) << 8) | ((data[cell * 4 + 1] >> 4) << 4) | (data[cell * 4 + 2] >> 4);
    const bin = bins.get(key);
    if (bin) bin.push(cell);
    else bins.set(key, [cell]);
  }
  return [...bins.values()]
    .sort((a, b) => b.length - a.length)
    .slice(0, 6)
    .map((bin) => middleColour(data, bin));
}

const middleColour = (data: Pixels['data'], cells: readonly number[]): Colour =>
  [0, 1, 2].map((k) => middle(cells.map((cell) => data[cell * 4 + k]))) as unknown as Colour;

const middle = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1];
