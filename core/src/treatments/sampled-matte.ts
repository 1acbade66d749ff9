import type { Pixels } from '../geometry/pixels.js';
import { BAND, IN, OUT, type Matte } from './matte.js';

/** Directions in which a cell of the band looks for what is known. */
const RAYS = 8;
/** How much nearness of a sample weighs beside how well it explains the colour, levels squared a cell. */
const NEAR = 6;
/** Radius of the window that alpha is made a line of the colour in, cells, and how little contrast counts as none. */
const WINDOW = 2;
const CONTRAST = 0.00012;

/**
 * Alpha, art and ground of the cells of a band between known cells: each looks along rays for colours of both sides and
 * takes the pair that explains its own colour best (after Gastal and Oliveira, "Shared sampling for real-time alpha
 * matting", Computer Graphics Forum 29, 2010). Then alpha is made a line of the colours around it, which follows hair
 * and texture and is what larger copies are unmixed with (He and Sun, "Fast guided filter", 2015).
 */
export function sampledMatte(pixels: Pixels, matte: Matte, reach: number): void {
  const { width, height, data } = pixels;
  const { kind, alpha } = matte;
  for (let cell = 0; cell < kind.length; cell++) alpha[cell] = kind[cell] === OUT ? 0 : 255;
  const most = 3 * reach + 6;
  const arts: number[] = [];
  const grounds: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const cell = y * width + x;
      if (kind[cell] !== BAND) continue;
      arts.length = grounds.length = 0;
      look(kind, width, height, x, y, most, arts, grounds);
      choose(data, cell, arts, grounds, matte);
    }
  matte.lines = linesOf(pixels, kind, alpha);
}

const angles = Array.from(
  { length: 4 * RAYS },
  (_, n) => (Math.floor(n / RAYS) / 4 + (n % RAYS)) * ((2 * Math.PI) / RAYS),
);
const RAY_X = Float64Array.from(angles, Math.cos);
const RAY_Y = Float64Array.from(angles, Math.sin);

/** Nearest known cells of both sides along rays, each followed by its distance. */
function look(
  kind: Uint8Array,
  width: number,
  height: number,
  x: number,
  y: number,
  most: number,
  arts: number[],
  grounds: number[],
): void {
  // Neighbouring cells look in other directions, so that together they see more.
  const turn = (x & 1) + 2 * (y & 1);
  for (let ray = 0; ray < RAYS; ray++) {
    const dx = RAY_X[turn * RAYS + ray];
    const dy = RAY_Y[turn * RAYS + ray];
    let art = false;
    let ground = false;
    for (let step = 1; step <= most && !(art && ground); step++) {
      const px = Math.floor(x + dx * step + 0.5);
      const py = Math.floor(y + dy * step + 0.5);
      if (px < 0 || py < 0 || px >= width || py >= height) break;
      const to = py * width + px;
      if (kind[to] === IN && !art) {
        arts.push(to, step);
        art = true;
      } else if (kind[to] === OUT && !ground) {
        grounds.push(to, step);
        ground = true;
      }
    }
  }
}

/** Takes the pair of samples that explains a cell's colour best. */
function choose(
  data: Pixels['data'],
  cell: number,
  arts: readonly number[],
  grounds: readonly number[],
  { art, ground, alpha }: Matte,
): void {
  const [i, c] = [cell * 4, cell * 3];
  const [r, g, b] = [data[i], data[i + 1], data[i + 2]];
  if (!arts.length || !grounds.length) {
    alpha[cell] = arts.length ? 255 : 0;
    for (let k = 0; k < 3; k++) art[c + k] = ground[c + k] = data[i + k];
    return;
  }
  let least = Infinity;
  let [nearArt, nearGround] = [Infinity, Infinity];
  for (let m = 1; m < arts.length; m += 2) nearArt = Math.min(nearArt, arts[m]);
  for (let m = 1; m < grounds.length; m += 2) nearGround = Math.min(nearGround, grounds[m]);
  const expected = nearGround / (nearArt + nearGround);
  for (let m = 0; m < arts.length; m += 2) {
    const a = arts[m] * 4;
    for (let n = 0; n < grounds.length; n += 2) {
      const o = grounds[n] * 4;
      const gr = data[o];
      const gg = data[o + 1];
      const gb = data[o + 2];
      const dr = data[a] - gr;
      const dg = data[a + 1] - gg;
      const db = data[a + 2] - gb;
      const length = dr * dr + dg * dg + db * db;
      const raw = length > 0 ? ((r - gr) * dr + (g - gg) * dg + (b - gb) * db) / length : expected;
      const share = raw <= 0 ? 0 : raw >= 1 ? 1 : raw;
      const er = r - gr - share * dr;
      const eg = g - gg - share * dg;
      const eb = b - gb - share * db;
      const odd = share - expected;
      const cost =
        er * er + eg * eg + eb * eb + NEAR * (arts[m + 1] + grounds[n + 1]) + (odd * odd * 1.2e6) / (length + 1500);
      if (cost >= least) continue;
      least = cost;
      alpha[cell] = share * 255 + 0.5;
      art[c] = data[a];
      art[c + 1] = data[a + 1];
      art[c + 2] = data[a + 2];
      ground[c] = gr;
      ground[c + 1] = gg;
      ground[c + 2] = gb;
    }
  }
}

/**
 * Alpha of each cell of the band as a line of its colour, fitted to the cells around it: four numbers a cell, so that
 * alpha = r·x + g·y + b·z + w with colours from 0 to 1.
 */
function linesOf({ width, height, data }: Pixels, kind: Uint8Array, alpha: Uint8Array): Float32Array {
  const fitted = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const cell = y * width + x;
      if (kind[cell] !== BAND) continue;
      const x0 = Math.max(0, x - WINDOW);
      const x1 = Math.min(width - 1, x + WINDOW);
      const y0 = Math.max(0, y - WINDOW);
      const y1 = Math.min(height - 1, y + WINDOW);
      let n = 0;
      let sr = 0;
      let sg = 0;
      let sb = 0;
      let sa = 0;
      let rr = 0;
      let rg = 0;
      let rb = 0;
      let gg = 0;
      let gb = 0;
      let bb = 0;
      let ra = 0;
      let ga = 0;
      let ba = 0;
      for (let j = y0; j <= y1; j++)
        for (let k = x0; k <= x1; k++) {
          const at = j * width + k;
          const r = data[at * 4] / 255;
          const g = data[at * 4 + 1] / 255;
          const b = data[at * 4 + 2] / 255;
          const a = alpha[at] / 255;
          n++;
          sr += r;
          sg += g;
          sb += b;
          sa += a;
          rr += r * r;
          rg += r * g;
          rb += r * b;
          gg += g * g;
          gb += g * b;
          bb += b * b;
          ra += r * a;
          ga += g * a;
          ba += b * a;
        }
      const [mr, mg, mb, ma] = [sr / n, sg / n, sb / n, sa / n];
      const [v0, v3, v5] = [rr / n - mr * mr + CONTRAST, gg / n - mg * mg + CONTRAST, bb / n - mb * mb + CONTRAST];
      const [v1, v2, v4] = [rg / n - mr * mg, rb / n - mr * mb, gb / n - mg * mb];
      const [pr, pg, pb] = [ra / n - mr * ma, ga / n - mg * ma, ba / n - mb * ma];
      const [c0, c1, c2] = [v3 * v5 - v4 * v4, v2 * v4 - v1 * v5, v1 * v4 - v2 * v3];
      const determinant = v0 * c0 + v1 * c1 + v2 * c2;
      const [c3, c4, c5] = [v0 * v5 - v2 * v2, v1 * v2 - v0 * v4, v0 * v3 - v1 * v1];
      const lr = (c0 * pr + c1 * pg + c2 * pb) / determinant;
      const lg = (c1 * pr + c3 * pg + c4 * pb) / determinant;
      const lb = (c2 * pr + c4 * pg + c5 * pb) / determinant;
      fitted[cell * 4] = lr;
      fitted[cell * 4 + 1] = lg;
      fitted[cell * 4 + 2] = lb;
      fitted[cell * 4 + 3] = ma - lr * mr - lg * mg - lb * mb;
    }
  return fitted;
}
