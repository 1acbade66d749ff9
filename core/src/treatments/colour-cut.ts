import { rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../raster/pixels.js';
import { BAND, emptyMatte, IN, OUT, type Matte } from './matte.js';
import type { ColourCut } from './treatment.js';

/** Cells from the ground that an edge of clean outlines is wide, its compression included. */
const EDGE = 3;
/** Most cells that a soft edge may be wide. */
const MOST_SOFT = 160;
/** Growth of the distance from the ground's colour from one cell to the next, levels: more is an edge, not a glow. */
const SOFT_STEP = 26;
/** Cells over which a soft edge may stand still, as compression makes it: after more it was the art's own plain colour. */
const MOST_STILL = 4;
/** What compression may have left beside an edge, levels: by the tolerance that its noise asks for. */
const ringing = (tolerance: number): number => (tolerance > 3 ? 52 : 10);
/** Contrast to the ground below which a small island is noise of compression, levels. */
const FAINT = 42;

const UNSEEN = 65535;

/**
 * Takes a colour out of a picture's working copy. The ground is what lies within the tolerance; from there inwards each
 * cell asks what pure colour the art has behind it: a few cells at a clean edge, as far as it goes on at a soft one.
 * @param pixels the working copy, as the steps before this one left it
 */
export function cutColour(pixels: Pixels, cut: ColourCut): Matte {
  const { width, height, data } = pixels;
  const count = width * height;
  const { r, g, b } = rgbOf(cut.hex);
  const noise = Math.min(cut.tolerance, 12);
  const matte = emptyMatte(width, height, noise);
  const distance = distances(data, count, r, g, b);
  const { kind } = matte;
  markGround(matte, data, distance, cut);
  dropFaintIslands(matte, data, distance);
  // Steps inwards from the ground, over cells that are not out.
  const depth = new Uint16Array(count).fill(UNSEEN);
  const order = new Int32Array(count);
  let [first, last] = [0, 0];
  for (let cell = 0; cell < count; cell++) {
    if (kind[cell] !== OUT || data[cell * 4 + 3] === 0) continue;
    depth[cell] = 0;
    if (touchesOther(kind, cell, width, height)) order[last++] = cell;
  }
  const soft = new Uint8Array(count);
  // Farthest distance on the way to each cell, and for how many cells it has not grown.
  const top = new Float32Array(count);
  const still = new Uint8Array(count);
  for (; first < last; first++) {
    const cell = order[first];
    const next = depth[cell] + 1;
    if (next > MOST_SOFT) break;
    const x = cell % width;
    for (let n = 0; n < 8; n++) {
      const [dx, dy] = [NEAR_X[n], NEAR_Y[n]];
      if (x + dx < 0 || x + dx >= width) continue;
      const to = cell + dy * width + dx;
      if (to < 0 || to >= count || depth[to] <= next || data[to * 4 + 3] === 0) continue;
      // Going on a soft edge the colour leaves the ground's step by step and never turns back.
      const isSoft =
        (next === 1 ? distance[to] <= cut.tolerance + SOFT_STEP : soft[cell] === 1) &&
        distance[to] - distance[cell] <= SOFT_STEP &&
        distance[to] >= distance[cell] - 2 &&
        (distance[to] > top[cell] + 0.4 || still[cell] < MOST_STILL);
      if (next > EDGE && !isSoft) continue;
      depth[to] = next;
      soft[to] = isSoft ? 1 : 0;
      top[to] = Math.max(top[cell], distance[to]);
      still[to] = distance[to] > top[cell] + 0.4 ? 0 : still[cell] + 1;
      order[last++] = to;
    }
  }
  unmixInwards(pixels, matte, distance, depth, order.subarray(0, last), [r, g, b], ringing(cut.tolerance));
  return matte;
}

const NEAR_X = [1, -1, 0, 0, 1, 1, -1, -1];
const NEAR_Y = [0, 0, 1, -1, 1, -1, 1, -1];

/** Distance of every cell from a colour, root mean square of the channels, levels. */
function distances(data: Pixels['data'], count: number, r: number, g: number, b: number): Float32Array {
  const out = new Float32Array(count);
  for (let n = 0, i = 0; n < count; n++, i += 4) {
    const [dr, dg, db] = [data[i] - r, data[i + 1] - g, data[i + 2] - b];
    out[n] = Math.sqrt((dr * dr + dg * dg + db * db) / 3);
  }
  return out;
}

/** Marks what is out: the colour wherever it is, or where it hangs together with where it is followed from. */
function markGround({ width, height, kind, alpha }: Matte, data: Pixels['data'], distance: Float32Array, cut: ColourCut): void {
  const count = width * height;
  const isGround = (cell: number): boolean => distance[cell] <= cut.tolerance || data[cell * 4 + 3] === 0;
  const take = (cell: number): void => {
    kind[cell] = OUT;
    alpha[cell] = 0;
  };
  if (cut.from === 'everywhere') {
    for (let cell = 0; cell < count; cell++) if (isGround(cell)) take(cell);
    return;
  }
  const stack = new Int32Array(count);
  let size = 0;
  const reach = (cell: number): void => {
    if (kind[cell] === OUT || !isGround(cell)) return;
    take(cell);
    stack[size++] = cell;
  };
  if (cut.from === 'point' && cut.at) {
    const x = Math.min(width - 1, Math.max(0, Math.floor(cut.at.x * width)));
    const y = Math.min(height - 1, Math.max(0, Math.floor(cut.at.y * height)));
    reach(y * width + x);
  } else {
    for (let x = 0; x < width; x++) {
      reach(x);
      reach(count - 1 - x);
    }
    for (let y = 0; y < height; y++) {
      reach(y * width);
      reach(y * width + width - 1);
    }
    // What is clear already is outside too: a box may lie in the middle of a clear picture.
    for (let cell = 0; cell < count; cell++) if (data[cell * 4 + 3] === 0) reach(cell);
  }
  while (size) {
    const cell = stack[--size];
    const x = cell % width;
    if (x > 0) reach(cell - 1);
    if (x < width - 1) reach(cell + 1);
    if (cell >= width) reach(cell - width);
    if (cell < count - width) reach(cell + width);
  }
}

const touchesOther = (kind: Uint8Array, cell: number, width: number, height: number): boolean => {
  const x = cell % width;
  const y = (cell - x) / width;
  for (let n = 0; n < 8; n++) {
    const [nx, ny] = [x + NEAR_X[n], y + NEAR_Y[n]];
    if (nx >= 0 && nx < width && ny >= 0 && ny < height && kind[ny * width + nx] !== OUT) return true;
  }
  return false;
};

/** Small islands that hardly differ from the ground are what compression left of it. */
function dropFaintIslands({ width, height, kind, alpha }: Matte, data: Pixels['data'], distance: Float32Array): void {
  const count = width * height;
  const most = Math.max(12, count * 0.0004);
  const seen = new Uint8Array(count);
  const island = new Int32Array(count);
  for (let start = 0; start < count; start++) {
    if (seen[start] || kind[start] === OUT || distance[start] > FAINT) continue;
    let [size, at, faint] = [1, 0, true];
    island[0] = start;
    seen[start] = 1;
    while (at < size) {
      const cell = island[at++];
      if (distance[cell] > FAINT || data[cell * 4 + 3] < 255) faint = false;
      if (!faint || size > most) {
        faint = false;
        break;
      }
      const x = cell % width;
      for (let n = 0; n < 4; n++) {
        const to = cell + NEAR_Y[n] * width + NEAR_X[n];
        if (x + NEAR_X[n] < 0 || x + NEAR_X[n] >= width || to < 0 || to >= count) continue;
        if (seen[to] || kind[to] === OUT) continue;
        seen[to] = 1;
        island[size++] = to;
      }
    }
    if (!faint) continue;
    for (let n = 0; n < size; n++) {
      kind[island[n]] = OUT;
      alpha[island[n]] = 0;
    }
  }
}

/**
 * From the deepest cell outwards each takes over the pure colour of the neighbour behind it, where that lies farther
 * from the ground in the same direction of colour; else it is pure itself.
 */
function unmixInwards(
  { width, height, data }: Pixels,
  { kind, art, ground, alpha }: Matte,
  distance: Float32Array,
  depth: Uint16Array,
  order: Int32Array,
  rgb: readonly [number, number, number],
  rings: number,
): void {
  const count = width * height;
  for (let n = order.length - 1; n >= 0; n--) {
    const cell = order[n];
    if (kind[cell] === OUT) continue;
    const c = cell * 3;
    ground[c] = rgb[0];
    ground[c + 1] = rgb[1];
    ground[c + 2] = rgb[2];
    const own = distance[cell];
    let best = own + Math.max(3, own * 0.03);
    let from = -1;
    const x = cell % width;
    for (let k = 0; k < 8; k++) {
      const to = cell + NEAR_Y[k] * width + NEAR_X[k];
      if (x + NEAR_X[k] < 0 || x + NEAR_X[k] >= width || to < 0 || to >= count) continue;
      if (kind[to] === OUT || depth[to] < depth[cell] || data[to * 4 + 3] < 128) continue;
      const far = depth[to] === UNSEEN || kind[to] === IN ? distance[to] : farOf(art, to, rgb);
      if (far <= best) continue;
      // What is as faint as the rings of compression has no direction of colour of its own.
      if ((own > rings || far < 2 * own) && !isAligned(data, cell, art, kind, to, rgb, own, far)) continue;
      best = far;
      from = to;
    }
    kind[cell] = BAND;
    if (from < 0) {
      art[c] = data[cell * 4];
      art[c + 1] = data[cell * 4 + 1];
      art[c + 2] = data[cell * 4 + 2];
    } else if (kind[from] === BAND) {
      art[c] = art[from * 3];
      art[c + 1] = art[from * 3 + 1];
      art[c + 2] = art[from * 3 + 2];
    } else {
      art[c] = data[from * 4];
      art[c + 1] = data[from * 4 + 1];
      art[c + 2] = data[from * 4 + 2];
    }
    const far = farOf(art, cell, rgb);
    alpha[cell] = far > 0 ? Math.min(255, (own / far) * 255 + 0.5) : 255;
  }
}

function farOf(art: Uint8Array, cell: number, [r, g, b]: readonly [number, number, number]): number {
  const c = cell * 3;
  const [dr, dg, db] = [art[c] - r, art[c + 1] - g, art[c + 2] - b];
  return Math.sqrt((dr * dr + dg * dg + db * db) / 3);
}

/** How far two directions of colour may part, as the cosine of their angle; faint cells are mostly noise. */
const ALIGNED = 0.94;
const ALIGNED_FAINT = 0.7;

function isAligned(
  data: Pixels['data'],
  cell: number,
  art: Uint8Array,
  kind: Uint8Array,
  to: number,
  [r, g, b]: readonly [number, number, number],
  own: number,
  far: number,
): boolean {
  const i = cell * 4;
  const inBand = kind[to] === BAND;
  const dr = (inBand ? art[to * 3] : data[to * 4]) - r;
  const dg = (inBand ? art[to * 3 + 1] : data[to * 4 + 1]) - g;
  const db = (inBand ? art[to * 3 + 2] : data[to * 4 + 2]) - b;
  const dot = ((data[i] - r) * dr + (data[i + 1] - g) * dg + (data[i + 2] - b) * db) / 3;
  return dot >= own * far * (own < 40 ? ALIGNED_FAINT : ALIGNED);
}
