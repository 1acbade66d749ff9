import type { InkShare } from '../colour/legibility.js';
import { hexOf } from '../colour/srgb.js';
import type { Box } from '../geometry/affine.js';
import type { Pixels } from './pixels.js';

/** What the pixels of a picture say about how it will print. Measured once, on a reduced copy. */
export interface InkFacts {
  /** True when no pixel is transparent at all. */
  readonly opaque: boolean;
  /** The one flat, opaque colour that most of the border has: the sign of a white box. Null otherwise. */
  readonly flatBorder: string | null;
  /** Part of the picture that holds ink, as shares 0 to 1 of its width and height; null when nothing is visible. */
  readonly inkBox: Box | null;
  /** Up to eight colours by share of the ink, largest first. */
  readonly inks: readonly InkShare[];
}

/** Pixels below this alpha do not count as ink. */
const INK_ALPHA = 16;

/** How far border pixels may differ per channel from the field's colour: JPEG noise beside a drawing stays below. */
const FLAT_TOLERANCE = 14;
/** Typical distance from that colour on a flat field, levels: noise is below, the shades of a photo's sky are above. */
const FLAT_NOISE = 4;
/** Share of the border that a field must reach; drawings run over the edge of their picture too. */
const MOST_OF_BORDER = 0.55;

export function measureInk(pixels: Pixels): InkFacts {
  const { width, height, data } = pixels;
  let opaque = true;
  let [left, top, right, bottom] = [width, height, -1, -1];
  const bins = new Map<number, { count: number; r: number; g: number; b: number }>();
  let total = 0;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const alpha = data[i + 3];
      if (alpha < 255) opaque = false;
      if (alpha < INK_ALPHA) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
      // Four bits a channel are fine enough to keep two inks apart and coarse enough to gather one.
      const key = ((data[i] >> 4) << 8) | ((data[i + 1] >> 4) << 4) | (data[i + 2] >> 4);
      let bin = bins.get(key);
      if (!bin) bins.set(key, (bin = { count: 0, r: 0, g: 0, b: 0 }));
      const weight = alpha / 255;
      bin.count += weight;
      bin.r += data[i] * weight;
      bin.g += data[i + 1] * weight;
      bin.b += data[i + 2] * weight;
      total += weight;
    }
  }
  const inkBox =
    right < 0
      ? null
      : { x: left / width, y: top / height, width: (right - left + 1) / width, height: (bottom - top + 1) / height };
  return { opaque, flatBorder: flatBorder(pixels), inkBox, inks: largestInks([...bins.values()], total) };
}

/** The opaque colour that most of the border has, if it is one flat colour there. */
function flatBorder({ width, height, data }: Pixels): string | null {
  const border: number[] = [];
  for (let x = 0; x < width; x++) border.push(x, (height - 1) * width + x);
  for (let y = 1; y < height - 1; y++) border.push(y * width, y * width + width - 1);
  const solid = border.filter((pixel) => data[pixel * 4 + 3] >= 250);
  if (solid.length < border.length * MOST_OF_BORDER) return null;
  // Noise may spread a field over several coarse colours: of the commonest, the one with most pixels around it leads
  // to the field's own colour.
  const bins = new Map<number, number[]>();
  for (const pixel of solid) {
    const key = coarse(data, pixel);
    const bin = bins.get(key);
    if (bin) bin.push(pixel);
    else bins.set(key, [pixel]);
  }
  const middleOf = (pixels: readonly number[]): number[] =>
    [0, 1, 2].map((channel) => middle(pixels.map((pixel) => data[pixel * 4 + channel])));
  const distanceTo =
    (colour: readonly number[]) =>
    (pixel: number): number =>
      Math.max(...colour.map((value, channel) => Math.abs(data[pixel * 4 + channel] - value)));
  const around = (pixels: readonly number[]): number[] => {
    const distance = distanceTo(middleOf(pixels));
    return solid.filter((pixel) => distance(pixel) <= FLAT_TOLERANCE);
  };
  const likely = [...bins.values()]
    .sort((one, other) => other.length - one.length)
    .slice(0, 8)
    .map(around);
  const field = middleOf(likely.reduce((best, one) => (one.length > best.length ? one : best)));
  const distance = distanceTo(field);
  const near = solid.map(distance).filter((value) => value <= FLAT_TOLERANCE);
  if (near.length < border.length * MOST_OF_BORDER || middle(near) > FLAT_NOISE) return null;
  // A ground with rounded or cut corners is somebody's design. What was left behind a drawing by accident is a
  // rectangle: it shows in its corners.
  const corners = [0, width - 1, (height - 1) * width, height * width - 1];
  if (
    corners.some((pixel) => data[pixel * 4 + 3] < 250) ||
    corners.filter((pixel) => distance(pixel) <= FLAT_TOLERANCE).length < 2
  )
    return null;
  return hexOf({ r: field[0], g: field[1], b: field[2] });
}

const coarse = (data: Pixels['data'], pixel: number): number =>
  ((data[pixel * 4] >> 4) << 8) | ((data[pixel * 4 + 1] >> 4) << 4) | (data[pixel * 4 + 2] >> 4);
const middle = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1];

/** Gathers neighbouring bins into at most eight inks. */
function largestInks(bins: { count: number; r: number; g: number; b: number }[], total: number): InkShare[] {
  const inks: { count: number; r: number; g: number; b: number }[] = [];
  for (const bin of bins.sort((a, b) => b.count - a.count)) {
    const [r, g, b] = [bin.r / bin.count, bin.g / bin.count, bin.b / bin.count];
    const near = inks.find(
      (ink) => Math.hypot(ink.r / ink.count - r, ink.g / ink.count - g, ink.b / ink.count - b) < 28,
    );
    if (near) {
      near.count += bin.count;
      near.r += bin.r;
      near.g += bin.g;
      near.b += bin.b;
    } else inks.push({ ...bin });
  }
  return inks
    .sort((a, b) => b.count - a.count)
    .slice(0, 8)
    .map((ink) => ({
      hex: hexOf({ r: ink.r / ink.count, g: ink.g / ink.count, b: ink.b / ink.count }),
      share: Math.round((ink.count / total) * 1000) / 1000,
    }))
    .filter((ink) => ink.share >= 0.005);
}
