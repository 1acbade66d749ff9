import type { Pixels } from '../raster/pixels.js';
import { deltaE2000, labOf } from './lab.js';
import { hexOf, rgbOf } from './srgb.js';

/** How much of a picture's ink cannot be told from the cloth under it. */
export interface LostInk {
  /** Share of the ink, 0 to 1, by area; fine lines and edges count more. */
  readonly share: number;
  /** The colour that most of the lost ink has, if any is lost. */
  readonly hex: string | null;
}

/** Difference (CIEDE2000) below which ink is wholly lost on cloth, and from which it is wholly seen. */
const LOST_BELOW = 8;
const SEEN_FROM = 16;
/** How much more a pixel counts that lies on a line or an edge, and from which difference to its neighbours it does. */
const FINE_WEIGHT = 3;
const FINE_FROM = 70;

/** What is needed of a picture for every cloth: how much ink each coarse colour has. Measured once. */
export interface InkWeights {
  readonly total: number;
  readonly bins: readonly { readonly r: number; readonly g: number; readonly b: number; readonly weight: number }[];
}

/** Weighs the ink of a picture by colour. Meant for a copy of a few hundred px. */
export function weighInk({ width, height, data }: Pixels): InkWeights {
  const bins = new Map<number, { r: number; g: number; b: number; weight: number }>();
  let total = 0;
  const differ = (i: number, j: number): boolean => {
    const [a, b] = [data[i + 3] / 255, data[j + 3] / 255];
    return (
      Math.abs(data[i] * a - data[j] * b) +
        Math.abs(data[i + 1] * a - data[j + 1] * b) +
        Math.abs(data[i + 2] * a - data[j + 2] * b) +
        Math.abs(data[i + 3] - data[j + 3]) >
      FINE_FROM
    );
  };
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      if (data[i + 3] < 16) continue;
      const fine =
        (x > 1 && differ(i, i - 8)) ||
        (x < width - 2 && differ(i, i + 8)) ||
        (y > 1 && differ(i, i - 8 * width)) ||
        (y < height - 2 && differ(i, i + 8 * width));
      const weight = (data[i + 3] / 255) * (fine ? FINE_WEIGHT : 1);
      const key = ((data[i] >> 3) << 10) | ((data[i + 1] >> 3) << 5) | (data[i + 2] >> 3);
      let bin = bins.get(key);
      if (!bin) bins.set(key, (bin = { r: 0, g: 0, b: 0, weight: 0 }));
      bin.r += data[i] * weight;
      bin.g += data[i + 1] * weight;
      bin.b += data[i + 2] * weight;
      bin.weight += weight;
      total += weight;
    }
  return {
    total,
    bins: [...bins.values()].map(({ r, g, b, weight }) => ({ r: r / weight, g: g / weight, b: b / weight, weight })),
  };
}

/** How much of the ink is lost on a cloth. */
export function lostInk({ bins, total }: InkWeights, garment: string): LostInk {
  const cloth = labOf(rgbOf(garment));
  let lost = 0;
  let [most, hex]: [number, string | null] = [0, null];
  for (const { r, g, b, weight } of bins) {
    const ink = { r: Math.round(r), g: Math.round(g), b: Math.round(b) };
    const difference = deltaE2000(labOf(ink), cloth);
    const share = Math.max(0, Math.min(1, (SEEN_FROM - difference) / (SEEN_FROM - LOST_BELOW)));
    if (share === 0) continue;
    lost += weight * share;
    if (weight * share > most) [most, hex] = [weight * share, hexOf(ink)];
  }
  return { share: total > 0 ? lost / total : 0, hex };
}
