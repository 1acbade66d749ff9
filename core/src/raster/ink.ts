import { hexOf } from '../colour/srgb.js';
import type { Box } from '../geometry/affine.js';
import { flatField } from './flat-field.js';
import type { Pixels } from '../geometry/pixels.js';
import { salienceOf } from './salience.js';

/** A colour of the art with its share of the visible ink, 0 to 1. */
export interface InkShare {
  readonly hex: string;
  readonly share: number;
}

/** What the pixels of a picture say about how it will print. Measured once, on a reduced copy. */
export interface InkFacts {
  /** True when no pixel is transparent at all. */
  readonly opaque: boolean;
  /** The one flat colour on which the art stands as in a box, as `#rrggbb`; null without a box. */
  readonly flatBorder: string | null;
  /** Share of the ink that is semi-transparent, 0 to 1; absent where nobody looked. */
  readonly softShare?: number;
  /** Part of the picture that holds ink, as shares 0 to 1 of its width and height; null when nothing is visible. */
  readonly inkBox: Box | null;
  /** Up to eight colours by share of the ink, largest first. */
  readonly inks: readonly InkShare[];
  /**
   * How much each part of the picture draws the eye, thousandths of all: {@link EYE_SIDE} squared parts, row by row;
   * absent where nobody looked.
   */
  readonly eye?: readonly number[];
}

/** Parts along each side of a picture for which it is told how much they draw the eye. */
export const EYE_SIDE = 8;
/** Longer side at which that is found, px. */
const EYE_PX = 64;

/** Grows whenever a picture would be found otherwise than before: what was kept of it is then measured again. */
export const MEASURE_VERSION = 3;

/** Ink of less alpha than this is semi-transparent. */
const SOLID_ALPHA = 235;

/** Pixels below this alpha do not count as ink. */
const INK_ALPHA = 16;

export function measureInk(pixels: Pixels): InkFacts {
  const { width, height, data } = pixels;
  let opaque = true;
  let [left, top, right, bottom] = [width, height, -1, -1];
  const bins = new Map<number, { count: number; r: number; g: number; b: number }>();
  let total = 0;
  let [there, soft] = [0, 0];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const alpha = data[i + 3];
      if (alpha < 255) opaque = false;
      if (alpha < INK_ALPHA) continue;
      there++;
      if (isSoft(pixels, x, y)) soft++;
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
  return {
    opaque,
    flatBorder: flatField(pixels),
    softShare: there ? Math.round((soft / there) * 1000) / 1000 : 0,
    inkBox,
    inks: largestInks([...bins.values()], total),
    eye: eyeOf(pixels),
  };
}

/** What draws the eye, gathered in few parts. */
function eyeOf({ width, height, data }: Pixels): number[] {
  const factor = Math.min(1, EYE_PX / Math.max(width, height));
  const [w, h] = [Math.max(1, Math.round(width * factor)), Math.max(1, Math.round(height * factor))];
  const small = new Uint8ClampedArray(w * h * 4);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const from = (Math.floor(((y + 0.5) / h) * height) * width + Math.floor(((x + 0.5) / w) * width)) * 4;
      small.set(data.subarray(from, from + 4), (y * w + x) * 4);
    }
  const { shares } = salienceOf({ width: w, height: h, data: small });
  const parts = new Array<number>(EYE_SIDE ** 2).fill(0);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      parts[Math.floor((y / h) * EYE_SIDE) * EYE_SIDE + Math.floor((x / w) * EYE_SIDE)] += shares[y * w + x] * 1000;
  return parts.map(Math.round);
}

/** True inside of semi-transparent ink: edges of solid art, which are soft for a pixel or two, are none of it. */
function isSoft({ width, height, data }: Pixels, x: number, y: number): boolean {
  for (const [dx, dy] of CROSS) {
    const [nx, ny] = [x + dx, y + dy];
    if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
    const alpha = data[(ny * width + nx) * 4 + 3];
    if (alpha < INK_ALPHA || alpha >= SOLID_ALPHA) return false;
  }
  return true;
}

const CROSS = [
  [0, 0],
  [-2, 0],
  [2, 0],
  [0, -2],
  [0, 2],
] as const;

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
