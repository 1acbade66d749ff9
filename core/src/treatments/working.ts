import type { Pixels } from '../raster/pixels.js';

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
  const { data } = source;
  const out = new Uint8ClampedArray(width * height * 4);
  const sums = new Float64Array(width * 4);
  const [stepX, stepY] = [source.width / width, source.height / height];
  const columns = coverage(source.width, width, stepX);
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    const [top, bottom] = [y * stepY, Math.min(source.height, (y + 1) * stepY)];
    for (let sy = Math.floor(top); sy < Math.ceil(bottom - 1e-9); sy++) {
      const down = Math.min(sy + 1, bottom) - Math.max(sy, top);
      addRow(data, sy * source.width, columns, down, sums);
    }
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

/** The same for half of each side, where every pixel covers four. */
function halved({ width, height, data }: Pixels): Pixels {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Uint8ClampedArray(w * h * 4);
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0, i = y * 2 * width * 4; x < w; x++, i += 8, o += 4) {
      const [j, k] = [i + 4, i + width * 4];
      const l = k + 4;
      const [a, b, c, d] = [data[i + 3], data[j + 3], data[k + 3], data[l + 3]];
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

/** For each source column: the target column it begins in and the share of it that lies there. */
function coverage(sourceWidth: number, width: number, step: number): { to: Int32Array; share: Float64Array } {
  const to = new Int32Array(sourceWidth);
  const share = new Float64Array(sourceWidth);
  for (let x = 0; x < sourceWidth; x++) {
    to[x] = Math.min(width - 1, Math.floor(x / step + 1e-9));
    share[x] = Math.min(1, (to[x] + 1) * step - x);
  }
  return { to, share };
}

function addRow(
  data: Pixels['data'],
  from: number,
  { to, share }: { to: Int32Array; share: Float64Array },
  down: number,
  sums: Float64Array,
): void {
  for (let x = 0, i = from * 4; x < to.length; x++, i += 4) {
    const alpha = data[i + 3];
    if (alpha === 0) continue;
    const weight = share[x] * down * alpha;
    const o = to[x] * 4;
    sums[o] += data[i] * weight;
    sums[o + 1] += data[i + 1] * weight;
    sums[o + 2] += data[i + 2] * weight;
    sums[o + 3] += weight;
    if (share[x] < 1 && o + 4 < sums.length) {
      const rest = (1 - share[x]) * down * alpha;
      sums[o + 4] += data[i] * rest;
      sums[o + 5] += data[i + 1] * rest;
      sums[o + 6] += data[i + 2] * rest;
      sums[o + 7] += rest;
    }
  }
}
