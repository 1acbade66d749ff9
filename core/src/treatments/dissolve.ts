import { rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../raster/pixels.js';
import type { Dissolve } from './treatment.js';

/**
 * Unmixes every pixel into one colour, which goes, and as little of another as can make up the rest, in place: alpha is
 * the least with which the rest is still a colour. Laid on the dissolved colour again the picture is what it was.
 */
export function dissolve({ data }: Pixels, { hex, clean }: Dissolve): void {
  const { r, g, b } = rgbOf(hex);
  const red = reachOf(r);
  const green = reachOf(g);
  const blue = reachOf(b);
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3] === 0) continue;
    let share = Math.max(red[data[i]], green[data[i + 1]], blue[data[i + 2]]);
    if (clean > 0) share = share <= clean ? 0 : share < 2 * clean ? 2 * (share - clean) : share;
    // A whole step of alpha above the true share keeps the rest inside what a pixel can hold.
    const alpha = Math.min(255, Math.ceil(share * 255 - 1e-9));
    if (alpha === 0) {
      data[i] = data[i + 1] = data[i + 2] = data[i + 3] = 0;
      continue;
    }
    const a = alpha / 255;
    data[i] = held(r + (data[i] - r) / a);
    data[i + 1] = held(g + (data[i + 1] - g) / a);
    data[i + 2] = held(b + (data[i + 2] - b) / a);
    data[i + 3] = Math.round((data[i + 3] * alpha) / 255);
  }
}

const held = (value: number): number => (value <= 0 ? 0 : value >= 255 ? 255 : Math.round(value));

/** Share of its way to black or white that each value is away from one. */
const reachOf = (from: number): Float64Array =>
  Float64Array.from({ length: 256 }, (_, value) =>
    value > from ? (value - from) / (255 - from) : value < from ? (from - value) / from : 0,
  );
