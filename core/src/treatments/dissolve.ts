import { rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../geometry/pixels.js';
import type { Dissolve } from '../model/treatment.js';

/**
 * Unmixes every pixel into one colour, which goes, and as little of another as can make up the rest, in place: alpha is
 * the least with which the rest is still a colour. Laid on the dissolved colour again the picture is what it was.
 */
export function dissolve({ data }: Pixels, { hex, clean }: Dissolve): void {
  const { r, g, b } = rgbOf(hex);
  const red = tablesOf(r);
  const green = tablesOf(g);
  const blue = tablesOf(b);
  const cleaned = Uint8Array.from({ length: 256 }, (_, alpha) => {
    const share = alpha / 255;
    return clean === 0 || share >= 2 * clean ? alpha : share <= clean ? 0 : Math.ceil(2 * (share - clean) * 255);
  });
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3] === 0) continue;
    let alpha = red.alpha[data[i]];
    if (green.alpha[data[i + 1]] > alpha) alpha = green.alpha[data[i + 1]];
    if (blue.alpha[data[i + 2]] > alpha) alpha = blue.alpha[data[i + 2]];
    alpha = cleaned[alpha];
    if (alpha === 0) {
      data[i] = data[i + 1] = data[i + 2] = data[i + 3] = 0;
      continue;
    }
    const row = alpha << 8;
    data[i] = red.rest[row | data[i]];
    data[i + 1] = green.rest[row | data[i + 1]];
    data[i + 2] = blue.rest[row | data[i + 2]];
    data[i + 3] = data[i + 3] === 255 ? alpha : ((data[i + 3] * alpha) / 255 + 0.5) | 0;
  }
}

interface Tables {
  /** Least alpha with which each value is made up, a whole step above its share so that the rest fits into a pixel. */
  readonly alpha: Uint8Array;
  /** What is left of each value at each alpha, alpha × 256 + value. */
  readonly rest: Uint8Array;
}

/** How values of a channel are unmixed from the one that goes. */
function tablesOf(from: number): Tables {
  const alpha = Uint8Array.from({ length: 256 }, (_, value) => {
    const share = value > from ? (value - from) / (255 - from) : value < from ? (from - value) / from : 0;
    return Math.ceil(share * 255 - 1e-9);
  });
  const rest = new Uint8Array(256 * 256);
  for (let a = 1; a < 256; a++)
    for (let value = 0; value < 256; value++)
      rest[(a << 8) | value] = Math.round(Math.min(255, Math.max(0, from + ((value - from) * 255) / a)));
  return { alpha, rest };
}
