import type { Pixels } from '../geometry/pixels.js';

/** What a cell of the working copy is after a cut. */
export const OUT = 0;
export const IN = 1;
/** Partly covered: its pixels are unmixed. */
export const BAND = 2;

/**
 * A cut as it was solved on the working copy. The full picture follows it: what is out or in stays so, and every pixel
 * of the band is unmixed anew from its own colour, between the art's colour and the ground's colour around it.
 */
export interface Matte {
  readonly width: number;
  readonly height: number;
  /** {@link OUT}, {@link IN} or {@link BAND} of each cell. */
  readonly kind: Uint8Array;
  /** The art's own colour behind each cell of the band, RGB. */
  readonly art: Uint8Array;
  /** The ground's colour at each cell of the band, RGB. */
  readonly ground: Uint8Array;
  /** Alpha of each cell, 0 to 255, for where art and ground are too alike to unmix. */
  readonly alpha: Uint8Array;
  /** Levels of noise: alpha that this much of the ground's colour could make is none. */
  readonly noise: number;
  /** With `lines`: share of alpha that is none, and that much less than all is all. */
  readonly haze: number;
  /** Alpha of each cell of the band as a line of the pixel's colour, four numbers a cell; without it colours are unmixed. */
  lines?: Float32Array;
}

export function emptyMatte(width: number, height: number, noise: number, haze = 0): Matte {
  const count = width * height;
  return {
    width,
    height,
    kind: new Uint8Array(count).fill(IN),
    art: new Uint8Array(count * 3),
    ground: new Uint8Array(count * 3),
    alpha: new Uint8Array(count).fill(255),
    noise,
    haze,
  };
}

/** Squared distance of art and ground, in levels, below which colours say nothing of alpha. */
const ALIKE = 18 * 18 * 3;

/**
 * Takes a solved cut out of a picture of any size, in place.
 * @param pixels the whole picture the cut was solved for, at its own or a smaller size
 */
export function applyMatte(pixels: Pixels, matte: Matte): void {
  const { width, height, data } = pixels;
  const scaleX = matte.width / width;
  const scaleY = matte.height / height;
  const same = width === matte.width && height === matte.height;
  const neighbours = same ? matte.kind : widened(matte);
  // The first pixel of every cell of a row, and the end: a cell that is wholly in or out is done with at once.
  const starts = new Int32Array(matte.width + 1).fill(width);
  for (let x = width - 1; x >= 0; x--) starts[Math.min(matte.width - 1, Math.floor((x + 0.5) * scaleX))] = x;
  for (let n = matte.width - 1; n >= 0; n--) if (starts[n] > starts[n + 1]) starts[n] = starts[n + 1];
  for (let y = 0; y < height; y++) {
    const my = Math.min(matte.height - 1, Math.floor((y + 0.5) * scaleY));
    for (let n = 0, cell = my * matte.width; n < matte.width; n++, cell++) {
      const kind = neighbours[cell];
      if (kind === IN) continue;
      const first = (y * width + starts[n]) * 4;
      const end = (y * width + starts[n + 1]) * 4;
      if (kind === OUT) data.fill(0, first, end);
      else
        for (let i = first, x = starts[n]; i < end; i += 4, x++) {
          if (data[i + 3] === 0) continue;
          if (same) unmixCell(data, i, matte, cell);
          else unmixBetween(data, i, matte, (x + 0.5) * scaleX - 0.5, (y + 0.5) * scaleY - 0.5);
        }
    }
  }
}

/** Kinds of cells whose neighbours differ become band: the pixels between two cells belong to both. */
function widened({ width, height, kind }: Matte): Uint8Array {
  const out = kind.slice();
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const cell = y * width + x;
      const own = kind[cell];
      if (own === BAND) continue;
      const x0 = Math.max(0, x - 1);
      const x1 = Math.min(width - 1, x + 1);
      const y0 = Math.max(0, y - 1);
      const y1 = Math.min(height - 1, y + 1);
      for (let j = y0; j <= y1; j++) for (let k = x0; k <= x1; k++) if (kind[j * width + k] !== own) out[cell] = BAND;
    }
  }
  return out;
}

function unmixCell(data: Pixels['data'], i: number, matte: Matte, cell: number): void {
  const { kind, art, ground, alpha, noise, lines } = matte;
  if (kind[cell] !== BAND) return;
  const c = cell * 3;
  if (lines) {
    const share = alphaOnLine(matte, lines, cell, data, i);
    takeShare(data, i, share, art[c], art[c + 1], art[c + 2], ground[c], ground[c + 1], ground[c + 2]);
    return;
  }
  unmix(data, i, art[c], art[c + 1], art[c + 2], ground[c], ground[c + 1], ground[c + 2], alpha[cell], noise);
}

/** Unmixes a pixel that lies between four cells, by their colours in the measure of their nearness. */
function unmixBetween(data: Pixels['data'], i: number, matte: Matte, mx: number, my: number): void {
  const { width, height, kind, art, ground, alpha, noise, lines } = matte;
  const fx = Math.floor(mx);
  const fy = Math.floor(my);
  let weight = 0;
  let ar = 0;
  let ag = 0;
  let ab = 0;
  let gr = 0;
  let gg = 0;
  let gb = 0;
  let sum = 0;
  let all = 0;
  let line = 0;
  for (let n = 0; n < 4; n++) {
    const x = Math.min(width - 1, Math.max(0, fx + (n & 1)));
    const y = Math.min(height - 1, Math.max(0, fy + (n >> 1)));
    const near = (n & 1 ? mx - fx : 1 - mx + fx) * (n >> 1 ? my - fy : 1 - my + fy);
    const cell = y * width + x;
    sum += near * alpha[cell];
    all += near;
    if (kind[cell] !== BAND) continue;
    const c = cell * 3;
    const w = near + 1e-6;
    weight += w;
    ar += w * art[c];
    ag += w * art[c + 1];
    ab += w * art[c + 2];
    gr += w * ground[c];
    gg += w * ground[c + 1];
    gb += w * ground[c + 2];
    if (lines) line += w * alphaOnLine(matte, lines, cell, data, i);
  }
  const own = sum / all;
  // Between cells that are wholly in and wholly out there is nothing to unmix with: alpha runs from one to the other.
  if (weight === 0) {
    data[i + 3] = ((data[i + 3] * own) / 255 + 0.5) | 0;
    return;
  }
  ar /= weight;
  ag /= weight;
  ab /= weight;
  gr /= weight;
  gg /= weight;
  gb /= weight;
  if (lines) takeShare(data, i, line / weight, ar, ag, ab, gr, gg, gb);
  else unmix(data, i, ar, ag, ab, gr, gg, gb, own, noise);
}

/** Share of the art in a pixel by the line of its cell, 0 to 1; what is nearly none or all is. */
function alphaOnLine({ haze }: Matte, lines: Float32Array, cell: number, data: Pixels['data'], i: number): number {
  const l = cell * 4;
  const share = (lines[l] * data[i] + lines[l + 1] * data[i + 1] + lines[l + 2] * data[i + 2]) / 255 + lines[l + 3];
  const stretched = share * (1 + 2 * haze) - haze;
  return stretched <= 0 ? 0 : stretched >= 1 ? 1 : stretched;
}

/**
 * Alpha of a pixel C between ground G and art A is the foot of C on the line from G to A; its own colour is what is
 * left when the ground's share is taken away: C = a·A + (1 − a)·G (Porter and Duff 1984).
 */
function unmix(
  data: Pixels['data'],
  i: number,
  ar: number,
  ag: number,
  ab: number,
  gr: number,
  gg: number,
  gb: number,
  alike: number,
  noise: number,
): void {
  const dr = ar - gr;
  const dg = ag - gg;
  const db = ab - gb;
  const length = dr * dr + dg * dg + db * db;
  let share = alike / 255;
  if (length >= ALIKE) {
    share = ((data[i] - gr) * dr + (data[i + 1] - gg) * dg + (data[i + 2] - gb) * db) / length;
    // What the ground's own noise could have made is none, and the step back to the true share is quick.
    const floor = (noise / Math.sqrt(length / 3)) * 0.75;
    share = share <= floor ? 0 : share >= 1 ? 1 : share < 2 * floor ? 2 * (share - floor) : share;
  }
  takeShare(data, i, share, ar, ag, ab, gr, gg, gb);
}

/** Leaves a share of a pixel, in its own colour without the ground's part of it. */
function takeShare(
  data: Pixels['data'],
  i: number,
  share: number,
  ar: number,
  ag: number,
  ab: number,
  gr: number,
  gg: number,
  gb: number,
): void {
  if (share >= 0.996) return;
  const alpha = data[i + 3] * share;
  if (alpha < 0.5) {
    data[i] = data[i + 1] = data[i + 2] = data[i + 3] = 0;
    return;
  }
  // Little of the art is in a faint pixel, and much of the noise: its colour is rather the art's around it.
  const trust = share * share;
  const rest = 1 - share;
  data[i] = held(trust * ((data[i] - rest * gr) / share) + (1 - trust) * ar);
  data[i + 1] = held(trust * ((data[i + 1] - rest * gg) / share) + (1 - trust) * ag);
  data[i + 2] = held(trust * ((data[i + 2] - rest * gb) / share) + (1 - trust) * ab);
  data[i + 3] = (alpha + 0.5) | 0;
}

const held = (value: number): number => (value <= 0 ? 0 : value >= 255 ? 255 : (value + 0.5) | 0);
