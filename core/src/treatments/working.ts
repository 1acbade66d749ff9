import type { Pixels } from '../geometry/pixels.js';

/** Longer side of the working copy that every treatment is solved on, px: browser and server solve the same pixels. */
export const WORKING_SIDE = 1024;

/** Size of the working copy of a picture. Smaller pictures are their own. */
export function workingSize(width: number, height: number): { width: number; height: number } {
  const factor = Math.min(1, WORKING_SIDE / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * factor)), height: Math.max(1, Math.round(height * factor)) };
}

/**
 * A picture reduced by the mean of the pixels that each new one covers, weighted by alpha and by area: the same on
 * every machine, and no filter that could overshoot. Returns the picture itself when nothing is reduced.
 * @param width, height px, at most those of the picture
 */
export function reduced(source: Pixels, width: number, height: number): Pixels {
  if (width === source.width && height === source.height) return source;
  if (source.width === 2 * width && source.height === 2 * height) return halved(source);
  const out = new Uint8ClampedArray(width * height * 4);
  const sums = new Float64Array(width * 4);
  const stepX = source.width / width;
  const stepY = source.height / height;
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    const top = y * stepY;
    const bottom = Math.min(source.height, (y + 1) * stepY);
    for (let sy = Math.floor(top + 1e-9); sy < Math.ceil(bottom - 1e-9); sy++)
      addRow(source, sy, width, stepX, Math.min(sy + 1, bottom) - Math.max(sy, top), sums);
    const whole = stepX * (bottom - top);
    for (let x = 0, i = 0, o = y * width * 4; x < width; x++, i += 4, o += 4) {
      const alpha = sums[i + 3];
      if (alpha <= 0) continue;
      out[o] = sums[i] / alpha + 1e-6;
      out[o + 1] = sums[i + 1] / alpha + 1e-6;
      out[o + 2] = sums[i + 2] / alpha + 1e-6;
      out[o + 3] = alpha / whole + 1e-6;
    }
  }
  return { width, height, data: out };
}

/** Adds a row of the source to the sums of the target row it lies in, by the share of it that does. */
function addRow(
  { width: sourceWidth, data }: Pixels,
  row: number,
  width: number,
  step: number,
  down: number,
  sums: Float64Array,
): void {
  const start = row * sourceWidth;
  for (let x = 0, o = 0; x < width; x++, o += 4) {
    const left = x * step;
    const right = Math.min(sourceWidth, (x + 1) * step);
    const last = Math.ceil(right - 1e-9);
    let r = 0;
    let g = 0;
    let b = 0;
    let a = 0;
    for (let sx = Math.floor(left + 1e-9); sx < last; sx++) {
      const i = (start + sx) * 4;
      const alpha = data[i + 3];
      if (alpha === 0) continue;
      const share = (sx + 1 < right ? sx + 1 : right) - (sx > left ? sx : left);
      const weight = share * alpha;
      r += data[i] * weight;
      g += data[i + 1] * weight;
      b += data[i + 2] * weight;
      a += weight;
    }
    sums[o] += r * down;
    sums[o + 1] += g * down;
    sums[o + 2] += b * down;
    sums[o + 3] += a * down;
  }
}

/** The same for half of each side, where every pixel covers four. */
function halved({ width, height, data }: Pixels): Pixels {
  const w = width >> 1;
  const h = height >> 1;
  const out = new Uint8ClampedArray(w * h * 4);
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0, i = y * 2 * width * 4; x < w; x++, i += 8, o += 4) {
      const j = i + 4;
      const k = i + width * 4;
      const l = k + 4;
      const a = data[i + 3];
      const b = data[j + 3];
      const c = data[k + 3];
      const d = data[l + 3];
      const alpha = a + b + c + d;
      if (alpha === 0) continue;
      out[o] = (data[i] * a + data[j] * b + data[k] * c + data[l] * d) / alpha + 1e-6;
      out[o + 1] = (data[i + 1] * a + data[j + 1] * b + data[k + 1] * c + data[l + 1] * d) / alpha + 1e-6;
      out[o + 2] = (data[i + 2] * a + data[j + 2] * b + data[k + 2] * c + data[l + 2] * d) / alpha + 1e-6;
      out[o + 3] = alpha / 4 + 1e-6;
    }
  }
  return { width: w, height: h, data: out };
}
