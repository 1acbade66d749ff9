import type { Box } from '../geometry/affine.js';
import type { Pixels } from '../geometry/pixels.js';
import { deltaE2000, labOf } from '../colour/lab.js';
import { LOST_BELOW } from './seen-ink.js';
import { hexOf } from '../colour/srgb.js';

/** How much of a layer cannot be told from the ink that it lies on. */
export interface OnInk {
  /** Share of its solid ink, 0 to 1. */
  readonly lost: number;
  /** The colour that is mostly lost, and what lies there without it. */
  readonly hex: string;
  readonly under: string;
  /** Where; a picture is 1 wide and 1 high. */
  readonly where: Box;
}

/** Alpha from which something is there. */
const THERE = 128;
/** How far an edge that is seen carries what it goes around, px of a picture of some 320: an outline of letters. */
const CARRIED = 5;

/**
 * What of a layer is lost in the ink below it. What lies within a line of its own that is seen is read by that.
 * @param own the layer alone
 * @param below all that lies below it, and `above` the same with the layer on it; all three of one size
 * @returns null where nothing is lost
 */
export function lostOnInk(own: Pixels, below: Pixels, above: Pixels): OnInk | null {
  const { width, height } = own;
  // What a pixel is: nothing of the layer, lost in what is below it, or seen.
  const [LOST, SEEN] = [1, 2];
  const state = new Uint8Array(width * height);
  const known = new Map<number, boolean>();
  const rgb = ({ data }: Pixels, i: number) => ({ r: data[i], g: data[i + 1], b: data[i + 2] });
  const isLost = (i: number): boolean => {
    const [one, other] = [rgb(below, i), rgb(above, i)];
    const key =
      (((one.r >> 2) << 12) | ((one.g >> 2) << 6) | (one.b >> 2)) * 2 ** 18 +
      (((other.r >> 2) << 12) | ((other.g >> 2) << 6) | (other.b >> 2));
    let lost = known.get(key);
    if (lost === undefined) known.set(key, (lost = deltaE2000(labOf(one), labOf(other)) < LOST_BELOW));
    return lost;
  };
  let ink = 0;
  for (let n = 0; n < state.length; n++) {
    if (own.data[n * 4 + 3] < THERE) continue;
    ink++;
    state[n] = below.data[n * 4 + 3] >= THERE && isLost(n * 4) ? LOST : SEEN;
  }
  const nearSeen = grown(state, SEEN, width, height);
  let [lost, left, top, right, bottom] = [0, width, height, 0, 0];
  const sums = [0, 0, 0, 0, 0, 0];
  for (let y = 0, n = 0; y < height; y++)
    for (let x = 0; x < width; x++, n++) {
      if (state[n] !== LOST || nearSeen[n]) continue;
      lost++;
      [left, top, right, bottom] = [
        Math.min(left, x),
        Math.min(top, y),
        Math.max(right, x + 1),
        Math.max(bottom, y + 1),
      ];
      for (let k = 0; k < 3; k++) {
        sums[k] += above.data[n * 4 + k];
        sums[k + 3] += below.data[n * 4 + k];
      }
    }
  if (!lost) return null;
  const [r, g, b, r2, g2, b2] = sums.map((sum) => Math.round(sum / lost));
  return {
    lost: lost / ink,
    hex: hexOf({ r, g, b }),
    under: hexOf({ r: r2, g: g2, b: b2 }),
    where: { x: left / width, y: top / height, width: (right - left) / width, height: (bottom - top) / height },
  };
}

/** Which pixels lie within {@link CARRIED} of one of a value, across and down. */
function grown(of: Uint8Array, value: number, width: number, height: number): Uint8Array {
  const across = new Uint8Array(of.length);
  const out = new Uint8Array(of.length);
  for (let n = 0; n < of.length; n++) {
    if (of[n] !== value) continue;
    const x = n % width;
    across.fill(1, n - Math.min(CARRIED, x), n + Math.min(CARRIED, width - 1 - x) + 1);
  }
  for (let y = 0; y < height; y++)
    for (let other = Math.max(0, y - CARRIED); other <= Math.min(height - 1, y + CARRIED); other++)
      for (let x = 0; x < width; x++) out[y * width + x] |= across[other * width + x];
  return out;
}
