import { labOf } from '../colour/lab.js';
import type { Pixels } from '../geometry/pixels.js';

/** What draws the eye on a small picture: a share for each pixel, all together 1. */
export interface Salience {
  readonly width: number;
  readonly height: number;
  readonly shares: Float32Array;
}

/** How much of a pixel's weight is its own contrast with what is around it; the rest is how rare its colour is. */
const CONTRAST = 0.5;
/** Side of what is around a pixel, as a share of the picture's longer side. */
const AROUND = 0.12;

/**
 * Tells what draws the eye: ink whose colour is far from the picture's mean, and far from what is around it (after the
 * centre and surround of Itti, Koch and Niebur 1998, and the global contrast of Achanta and others 2009). Clear pixels have
 * none; a picture of one colour draws it evenly.
 * @param pixels at most some 200 px a side
 */
export function salienceOf({ width, height, data }: Pixels): Salience {
  const count = width * height;
  const lab = new Float32Array(count * 3);
  const alpha = new Float32Array(count);
  const mean = [0, 0, 0];
  let inked = 0;
  for (let i = 0; i < count; i++) {
    alpha[i] = data[i * 4 + 3] / 255;
    const { L, a, b } = labOf({ r: data[i * 4], g: data[i * 4 + 1], b: data[i * 4 + 2] });
    [L, a, b].forEach((value, k) => {
      lab[i * 3 + k] = value * alpha[i];
      mean[k] += value * alpha[i];
    });
    inked += alpha[i];
  }
  if (inked === 0) return { width, height, shares: new Float32Array(count) };
  for (let k = 0; k < 3; k++) mean[k] /= inked;
  const radius = Math.max(1, Math.round((AROUND * Math.max(width, height)) / 2));
  const around = boxes(lab, alpha, width, height, radius);
  const shares = new Float32Array(count);
  let sum = 0;
  for (let i = 0; i < count; i++) {
    if (alpha[i] === 0) continue;
    const own = [0, 1, 2].map((k) => lab[i * 3 + k] / alpha[i]);
    const rare = Math.hypot(...own.map((value, k) => value - mean[k]));
    const stands = Math.hypot(...own.map((value, k) => value - around[i * 3 + k]));
    // Ink that is like all other ink still is some of the art.
    shares[i] = alpha[i] * (4 + (1 - CONTRAST) * rare + CONTRAST * stands);
    sum += shares[i];
  }
  for (let i = 0; i < count; i++) shares[i] /= sum;
  return { width, height, shares };
}

/** Mean of premultiplied colours in a box around each pixel, weighed by alpha. */
function boxes(lab: Float32Array, alpha: Float32Array, width: number, height: number, radius: number): Float32Array {
  const stride = width + 1;
  const sums = new Float64Array(stride * (height + 1) * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let k = 0; k < 4; k++) {
        const value = k < 3 ? lab[(y * width + x) * 3 + k] : alpha[y * width + x];
        const at = ((y + 1) * stride + x + 1) * 4 + k;
        sums[at] = value + sums[at - 4] + sums[at - stride * 4] - sums[at - stride * 4 - 4];
      }
  const out = new Float32Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [left, right] = [Math.max(0, x - radius), Math.min(width, x + radius + 1)];
      const [top, bottom] = [Math.max(0, y - radius), Math.min(height, y + radius + 1)];
      const within = (k: number): number => {
        const at = (i: number, j: number): number => sums[(j * stride + i) * 4 + k];
        return at(right, bottom) - at(left, bottom) - at(right, top) + at(left, top);
      };
      const weight = Math.max(1e-6, within(3));
      for (let k = 0; k < 3; k++) out[(y * width + x) * 3 + k] = within(k) / weight;
    }
  return out;
}
