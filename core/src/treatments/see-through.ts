import type { Pixels } from '../geometry/pixels.js';

/** What a cut made translucent far from any edge. */
export interface SeenThrough {
  /** Share of what the cut left, 0 to 1. */
  readonly share: number;
  /** 1 where it is, one byte a pixel. */
  readonly where: Uint8Array;
}

/** Alpha from which a pixel is left at all, and up to which cloth is seen through it. */
const [LEFT, SOLID] = [12, 230];
/** How far from what is clear an edge ends, share of the longer side: cloth seen through farther inside is a surprise. */
const EDGE = 0.01;

/**
 * Where a picture that was solid became see-through inside, far from where it ends: a colour that art shades into takes
 * some of the art with it, which on white looks as before and on dark cloth does not.
 * @param before, after straight RGBA of the same size
 */
export function seenThrough(before: Pixels, after: Pixels): SeenThrough {
  const { width, height } = after;
  const count = width * height;
  const where = new Uint8Array(count);
  const far = Math.max(2, Math.round(EDGE * Math.max(width, height)));
  const near = nearClear(after, far);
  let [left, seen] = [0, 0];
  for (let n = 0, i = 3; n < count; n++, i += 4) {
    const alpha = after.data[i];
    if (alpha < LEFT) continue;
    left++;
    if (alpha > SOLID || near[n] || before.data[i] < 250) continue;
    where[n] = 1;
    seen++;
  }
  return { share: left ? seen / left : 0, where };
}

/** 1 for pixels that have a clear one within so many px across and down. */
function nearClear({ width, height, data }: Pixels, reach: number): Uint8Array {
  const across = new Uint8Array(width * height);
  const both = new Uint8Array(width * height);
  const spread = (from: (n: number) => boolean, out: Uint8Array, start: number, step: number, length: number): void => {
    for (let k = 0, last = -Infinity; k < length; k++) {
      if (from(start + k * step)) last = k;
      if (k - last <= reach) out[start + k * step] = 1;
    }
    for (let k = length - 1, last = Infinity; k >= 0; k--) {
      if (from(start + k * step)) last = k;
      if (last - k <= reach) out[start + k * step] = 1;
    }
  };
  for (let y = 0; y < height; y++) spread((n) => data[n * 4 + 3] < LEFT, across, y * width, 1, width);
  for (let x = 0; x < width; x++) spread((n) => across[n] === 1, both, x, width, height);
  return both;
}
