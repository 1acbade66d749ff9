import type { Pixels } from '../geometry/pixels.js';

/** Difference to its neighbours, levels, up to which a pixel lies on a flat area. */
const FLAT = 10;
/** Distance of two colours, levels, below which they are one. */
const ONE = 26;
/** Share of the flat pixels that a colour must have to be kept. */
const LEAST_SHARE = 0.0015;
/** Share of what is seen that must be flat: a photo or noise has less. */
const LEAST_FLAT = 0.35;
/** Alpha from which a pixel is there. */
const THERE = 128;

/**
 * Flat art in at most so many colours, every pixel solid or clear. Flat areas say which colours there are; what lies
 * between them, as the soft edges of a picture do, goes to the neighbouring area whose colour is nearer.
 * @returns null for pictures that have few flat areas
 */
export function mergeColours(pixels: Pixels, most: number): Pixels | null {
  const { width, height, data } = pixels;
  const count = width * height;
  const labels = new Int16Array(count).fill(-1);
  const bins = new Map<number, { count: number; r: number; g: number; b: number }>();
  const flat: number[] = [];
  let there = 0;
  for (let cell = 0; cell < count; cell++) {
    if (data[cell * 4 + 3] < THERE) continue;
    there++;
    if (!isFlat(pixels, cell)) continue;
    flat.push(cell);
    const i = cell * 4;
    const key = ((data[i] >> 3) << 10) | ((data[i + 1] >> 3) << 5) | (data[i + 2] >> 3);
    let bin = bins.get(key);
    if (!bin) bins.set(key, (bin = { count: 0, r: 0, g: 0, b: 0 }));
    bin.count++;
    bin.r += data[i];
    bin.g += data[i + 1];
    bin.b += data[i + 2];
  }
  if (!there || flat.length < there * LEAST_FLAT) return null;
  const palette = paletteOf([...bins.values()], flat.length * LEAST_SHARE, most);
  const nearest = (cell: number): number => {
    let [best, least] = [0, Infinity];
    palette.forEach((colour, label) => {
      const far = squareTo(data, cell, colour);
      if (far < least) [best, least] = [label, far];
    });
    return best;
  };
  for (const cell of flat) labels[cell] = nearest(cell);
  growLabels(pixels, labels, flat, palette);
  const out = new Uint8ClampedArray(count * 4);
  for (let cell = 0; cell < count; cell++) {
    if (data[cell * 4 + 3] < THERE) continue;
    const [r, g, b] = palette[labels[cell] < 0 ? nearest(cell) : labels[cell]];
    out.set([r, g, b, 255], cell * 4);
  }
  return { width, height, data: out };
}

type Colour = readonly [number, number, number];

function isFlat({ width, height, data }: Pixels, cell: number): boolean {
  const x = cell % width;
  const y = (cell - x) / width;
  if (x === 0 || y === 0 || x === width - 1 || y === height - 1) return false;
  for (const to of [cell - 1, cell + 1, cell - width, cell + width]) {
    if (data[to * 4 + 3] < 250) return false;
    for (let k = 0; k < 3; k++) if (Math.abs(data[to * 4 + k] - data[cell * 4 + k]) > FLAT) return false;
  }
  return true;
}

/** Colours from the commonest on; those near an earlier one are part of it. */
function paletteOf(bins: { count: number; r: number; g: number; b: number }[], least: number, most: number): Colour[] {
  const groups: { count: number; r: number; g: number; b: number }[] = [];
  for (const bin of bins.sort((a, b) => b.count - a.count)) {
    const near = groups.find(
      (one) =>
        Math.hypot(
          one.r / one.count - bin.r / bin.count,
          one.g / one.count - bin.g / bin.count,
          one.b / one.count - bin.b / bin.count,
        ) < ONE,
    );
    if (near) {
      near.count += bin.count;
      near.r += bin.r;
      near.g += bin.g;
      near.b += bin.b;
    } else groups.push({ ...bin });
  }
  return groups
    .sort((a, b) => b.count - a.count)
    .filter((one, n) => n === 0 || one.count >= least)
    .slice(0, most)
    .map(({ count, r, g, b }) => [Math.round(r / count), Math.round(g / count), Math.round(b / count)] as const);
}

function squareTo(data: Pixels['data'], cell: number, [r, g, b]: Colour): number {
  const [dr, dg, db] = [data[cell * 4] - r, data[cell * 4 + 1] - g, data[cell * 4 + 2] - b];
  return dr * dr + dg * dg + db * db;
}

/** Gives what lies between flat areas to one of them, from both sides at once. */
function growLabels(
  { width, height, data }: Pixels,
  labels: Int16Array,
  flat: readonly number[],
  palette: readonly Colour[],
): void {
  let front: readonly number[] = flat;
  const neighbours = (cell: number): number[] => {
    const x = cell % width;
    const out: number[] = [];
    if (x > 0) out.push(cell - 1);
    if (x < width - 1) out.push(cell + 1);
    if (cell >= width) out.push(cell - width);
    if (cell < width * (height - 1)) out.push(cell + width);
    return out;
  };
  while (front.length) {
    const found = new Map<number, number>();
    for (const cell of front)
      for (const to of neighbours(cell)) {
        if (labels[to] >= 0 || data[to * 4 + 3] < THERE) continue;
        const known = found.get(to);
        if (known === undefined || squareTo(data, to, palette[labels[cell]]) < squareTo(data, to, palette[known]))
          found.set(to, labels[cell]);
      }
    for (const [cell, label] of found) labels[cell] = label;
    front = [...found.keys()];
  }
}
