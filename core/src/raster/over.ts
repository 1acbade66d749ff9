import type { Pixels } from '../geometry/pixels.js';

/**
 * Draws `source` over `target` with its top left corner at (left, top), clipped to the target, in place.
 * Source-over on straight alpha (W3C Compositing and Blending Level 1, 9.1). Both 8-bit RGBA.
 * @param opacity 0 to 1, multiplies the source's alpha
 */
export function drawOver(target: Pixels, source: Pixels, left: number, top: number, opacity = 1): void {
  const x0 = Math.max(0, left);
  const x1 = Math.min(target.width, left + source.width);
  const y0 = Math.max(0, top);
  const y1 = Math.min(target.height, top + source.height);
  if (x0 >= x1 || y0 >= y1) return;
  const [out, src] = [target.data, source.data];
  const strength = Math.round(opacity * 255);
  for (let y = y0; y < y1; y++) {
    let o = (y * target.width + x0) * 4;
    let s = ((y - top) * source.width + (x0 - left)) * 4;
    for (let x = x0; x < x1; x++, o += 4, s += 4) {
      const as = strength === 255 ? src[s + 3] : Math.round((src[s + 3] * strength) / 255);
      if (as === 0) continue;
      const ab = out[o + 3];
      if (as === 255 || ab === 0) {
        out[o] = src[s];
        out[o + 1] = src[s + 1];
        out[o + 2] = src[s + 2];
        out[o + 3] = as;
        continue;
      }
      const rest = (ab * (255 - as)) / 255;
      const ao = as + rest;
      out[o] = (src[s] * as + out[o] * rest) / ao + 0.5;
      out[o + 1] = (src[s + 1] * as + out[o + 1] * rest) / ao + 0.5;
      out[o + 2] = (src[s + 2] * as + out[o + 2] * rest) / ao + 0.5;
      out[o + 3] = ao + 0.5;
    }
  }
}

/**
 * Copies `source` into a part of the target that is still empty: the same result as {@link drawOver} there, row by
 * row. In place.
 */
export function copyInto(target: Pixels, source: Pixels, left: number, top: number): void {
  const x0 = Math.max(0, left);
  const x1 = Math.min(target.width, left + source.width);
  if (x0 >= x1) return;
  for (let y = Math.max(0, top); y < Math.min(target.height, top + source.height); y++) {
    const s = ((y - top) * source.width + (x0 - left)) * 4;
    target.data.set(source.data.subarray(s, s + (x1 - x0) * 4), (y * target.width + x0) * 4);
  }
}

/** Lays pixels on an opaque ground colour, in place: for files that may hold no transparency. */
export function flatten(pixels: Pixels, ground: { r: number; g: number; b: number }): void {
  const { data } = pixels;
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3];
    if (alpha === 255) continue;
    data[i] = (data[i] * alpha + ground.r * (255 - alpha)) / 255 + 0.5;
    data[i + 1] = (data[i + 1] * alpha + ground.g * (255 - alpha)) / 255 + 0.5;
    data[i + 2] = (data[i + 2] * alpha + ground.b * (255 - alpha)) / 255 + 0.5;
    data[i + 3] = 255;
  }
}
