import { oklchOf, rgbOfOklch } from './harmony.js';
import { deltaE2000, labOf } from './lab.js';
import { hexOf, rgbOf } from './srgb.js';

/** Difference (CIEDE2000) from which ink reads on cloth at a glance. */
const READS_FROM = 24;

/** The least difference of an ink to some cloths. */
export const leastDifference = (hex: string, cloths: readonly string[]): number =>
  Math.min(...cloths.map((cloth) => deltaE2000(labOf(rgbOf(hex)), labOf(rgbOf(cloth)))));

/**
 * The nearest colour of the same hue that reads on all of some cloths: lightness moves until it does.
 * @param towards 1 for lighter, −1 for darker
 */
export function readableInk(hex: string, cloths: readonly string[], towards: 1 | -1): string {
  const { l, c, h } = oklchOf(rgbOf(hex));
  let best = hex;
  for (let step = 1; step <= 50; step++) {
    const lightness = l + towards * step * 0.02;
    if (lightness < 0 || lightness > 1) break;
    best = hexOf(rgbOfOklch(lightness, c, h));
    if (leastDifference(best, cloths) >= READS_FROM) break;
  }
  return best;
}
