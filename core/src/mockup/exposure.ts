import type { SceneMaps } from './maps.js';

/** Linear reflectance of an everyday white product, and how bright most of it should look: about 238 of 255. */
const WHITE = 0.9;
const WANTED = 0.86;
/** Share of the product that may be brighter than that. */
const BRIGHTER = 0.2;
const MOST_GAIN = 1.45;

/**
 * Gain a product photographer would choose, 1 to 1.45: packs are rendered with true light, in which a white shirt in
 * a room is grey.
 * Judged on a white product, so that it is the same for every colour and every design.
 */
export function exposureOf({ mask, shade }: Pick<SceneMaps, 'mask' | 'shade'>, albedo: number): number {
  const histogram = new Uint32Array(512);
  const light = Float64Array.from({ length: 256 }, (_, code) => 2 * (code / 255) ** 2);
  let count = 0;
  for (let i = 0; i < mask.length; i++) {
    if (mask[i] < 255) continue;
    const at = i * 4;
    const lit = WHITE * (light[shade[at]] + (light[shade[at + 1]] * WHITE) / albedo) + light[shade[at + 2]];
    histogram[Math.min(511, Math.floor(lit * 256))]++;
    count++;
  }
  let above = 0;
  for (let bin = 511; bin > 0; bin--) {
    above += histogram[bin];
    if (above >= count * BRIGHTER) return Math.min(MOST_GAIN, Math.max(1, WANTED / ((bin + 0.5) / 256)));
  }
  return 1;
}
