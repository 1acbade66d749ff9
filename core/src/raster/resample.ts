import { invert, type Affine, type Box } from '../geometry/affine.js';
import type { Pixels } from '../geometry/pixels.js';

interface ResampleExports {
  readonly memory: { readonly buffer: ArrayBuffer };
  allocate(bytes: number): number;
  useLight(): void;
  filterRow(...values: number[]): void;
  filterDown(...values: number[]): void;
  turnRow(...values: number[]): void;
  gatherRow(...values: number[]): void;
  settleRow(...values: number[]): void;
  clearInRow(row: number, width: number): number;
}

// Core knows neither the browser's nor Node's types; both offer this much.
declare const WebAssembly: {
  Module: new (bytes: Uint8Array | ArrayBuffer) => object;
  Instance: new (module: object, imports: Record<string, Record<string, unknown>>) => { readonly exports: unknown };
};

/** Compiles the resampling kernel once; pass the result to {@link stretch}, {@link turn} and {@link average}. */
export const compileResampler = (wasm: Uint8Array | ArrayBuffer): object => new WebAssembly.Module(wasm);

const start = (module: object): ResampleExports =>
  new WebAssembly.Instance(module, {
    env: {
      abort: () => {
        throw new Error('The resampling kernel stopped.');
      },
    },
  }).exports as ResampleExports;

/** Where a picture's two ends lie along an axis of the grid, in px; `to` before `from` mirrors it. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/**
 * Catmull-Rom, a cubic with a = −1/2 (Keys 1981, «Cubic convolution interpolation»). It overshoots once on each side
 * of an edge: cut at 0 and 255, alpha
 * has no ring outside the art's own reach and no dip inside it, which a Lanczos filter has.
 */
const cubic = (x: number): number => {
  const d = Math.abs(x);
  return d < 1 ? (1.5 * d - 2.5) * d * d + 1 : d < 2 ? ((-0.5 * d + 2.5) * d - 4) * d + 2 : 0;
};

/** Source pixels and weights of each target pixel of a window. */
interface Taps {
  readonly first: number;
  readonly last: number;
  readonly count: number;
  readonly starts: Uint32Array;
  readonly weights: Float32Array;
}

/** Filter of one axis: `length` source pixels over a span, for the target pixels `begin` to `begin + size`. */
function tapsOf(length: number, { from, to }: Span, begin: number, size: number): Taps {
  const step = length / (to - from);
  // Reducing, the filter grows with the step, so that every source pixel has its say.
  const reach = Math.max(1, Math.abs(step));
  const columns = Array.from({ length: size }, (_, i) => {
    const target = begin + i;
    const middle = (target + 0.5 - from) * step;
    let first = Math.max(0, Math.min(length - 1, Math.ceil(middle - 2 * reach - 0.5)));
    const last = Math.max(first, Math.min(length - 1, Math.floor(middle + 2 * reach - 0.5)));
    let weights = Array.from({ length: last - first + 1 }, (_, k) => cubic((first + k + 0.5 - middle) / reach));
    const used = weights.findIndex((weight) => Math.abs(weight) > 1e-7);
    const end = weights.findLastIndex((weight) => Math.abs(weight) > 1e-7);
    if (used < 0) weights = [1];
    else {
      weights = weights.slice(used, end + 1);
      first += used;
    }
    const sum = weights.reduce((a, b) => a + b, 0);
    // A pixel that the picture covers in part takes that part of it.
    const covered = Math.max(0, Math.min(target + 1, Math.max(from, to)) - Math.max(target, Math.min(from, to)));
    return { first, weights: weights.map((weight) => (weight / sum) * covered) };
  });
  const count = Math.max(...columns.map((column) => column.weights.length));
  const first = Math.min(...columns.map((column) => column.first));
  const last = Math.max(...columns.map((column) => column.first + column.weights.length - 1));
  const starts = new Uint32Array(size);
  const weights = new Float32Array(size * count);
  columns.forEach((column, i) => {
    // All columns read as many pixels; the added ones weigh nothing and stay within the picture.
    const begins = Math.max(first, Math.min(column.first, last + 1 - count));
    starts[i] = begins - first;
    weights.set(column.weights, i * count + column.first - begins);
  });
  return { first, last, count, starts, weights };
}

/**
 * The part of an upright or mirrored picture that lies in a window of the grid, filtered once in premultiplied sRGB
 * values, which is what screens and
 * browsers show and what everything else here blends in.
 * @param across, down where the picture's edges lie on the grid; edges between pixels cover them in part
 * @param window whole pixels, at least 1 × 1
 * @param into the whole grid, when the part is to be written there and not to a picture of its own
 * @param light filters in linear light instead, as a lens does: right for pictures of things, too thin for a print of
 * light lettering
 */
export function stretch(
  module: object,
  source: Pixels,
  across: Span,
  down: Span,
  window: Box,
  into?: Pixels,
  light = false,
): Pixels {
  const kernel = start(module);
  if (light) kernel.useLight();
  const columns = tapsOf(source.width, across, window.x, window.width);
  const rows = tapsOf(source.height, down, window.y, window.height);
  const width = columns.last - columns.first + 1;
  const put = (values: Uint32Array | Float32Array): number => {
    const at = kernel.allocate(values.byteLength);
    new Uint8Array(kernel.memory.buffer, at, values.byteLength).set(
      new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
    );
    return at;
  };
  const [row, scratch, out] = [
    kernel.allocate(width * 4),
    kernel.allocate(width * 16),
    kernel.allocate(window.width * 4),
  ];
  const [starts, weights, downWeights] = [put(columns.starts), put(columns.weights), put(rows.weights)];
  const ring = Array.from({ length: rows.count }, () => kernel.allocate(window.width * 16));
  const order = kernel.allocate(rows.count * 4);
  const memory = new Uint8Array(kernel.memory.buffer);
  const addresses = new Uint32Array(kernel.memory.buffer, order, rows.count);
  const target = into ?? {
    width: window.width,
    height: window.height,
    data: new Uint8Array(window.width * window.height * 4),
  };
  const first = into ? (window.y * into.width + window.x) * 4 : 0;
  const held = new Array<number>(rows.count).fill(-1);
  for (let y = 0; y < window.height; y++) {
    for (let k = 0; k < rows.count; k++) {
      const wanted = rows.first + rows.starts[y] + k;
      const slot = wanted % rows.count;
      if (held[slot] !== wanted) {
        const from = (wanted * source.width + columns.first) * 4;
        memory.set(source.data.subarray(from, from + width * 4), row);
        kernel.filterRow(row, width, scratch, starts, weights, columns.count, window.width, ring[slot]);
        held[slot] = wanted;
      }
      addresses[k] = ring[slot];
    }
    kernel.filterDown(order, downWeights + y * rows.count * 4, rows.count, window.width, out);
    target.data.set(memory.subarray(out, out + window.width * 4), first + y * target.width * 4);
  }
  return target;
}

/** A part of a larger picture: pixels, and where they lie in the whole. */
export interface PicturePart {
  readonly pixels: Pixels;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/**
 * The part of a turned picture that lies in a window of the grid: bicubic, with edges that cover their pixels in part.
 * @param part of the picture, at about the size it is drawn at
 * @param map whole picture's unit square to grid pixels
 */
export function turn(module: object, part: PicturePart, map: Affine, window: Box): Pixels {
  const kernel = start(module);
  const { pixels, width, height } = part;
  const back = invert([map[0] / width, map[1] / width, map[2] / height, map[3] / height, map[4], map[5]]);
  const source = kernel.allocate(pixels.width * pixels.height * 4);
  const out = kernel.allocate(window.width * 4);
  const memory = new Uint8Array(kernel.memory.buffer);
  memory.set(pixels.data, source);
  const data = new Uint8Array(window.width * window.height * 4);
  const [slopeX, slopeY] = [Math.hypot(back[0], back[2]), Math.hypot(back[1], back[3])];
  for (let y = 0; y < window.height; y++) {
    const [gx, gy] = [window.x + 0.5, window.y + y + 0.5];
    kernel.turnRow(
      source,
      pixels.width,
      pixels.height,
      back[0] * gx + back[2] * gy + back[4],
      back[1] * gx + back[3] * gy + back[5],
      back[0],
      back[1],
      part.left,
      part.top,
      width,
      height,
      slopeX,
      slopeY,
      window.width,
      out,
    );
    data.set(memory.subarray(out, out + window.width * 4), y * window.width * 4);
  }
  return { width: window.width, height: window.height, data };
}

/** A picture on a coarser grid, and the share of its own pixels that are wholly clear, 0 to 1. */
export interface Averaged extends Pixels {
  readonly clearShare: number;
}

/**
 * A picture as a coarser grid: each cell the mean of its area, in premultiplied sRGB values, what lies in two cells
 * divided between them. Reads the picture once and holds one row of it.
 * @param grid px, of any size
 */
export function average(module: object, source: Pixels, grid: { width: number; height: number }): Averaged {
  const kernel = start(module);
  const { width, height } = source;
  const [row, cells, out] = [
    kernel.allocate(width * 4),
    kernel.allocate(grid.width * 16),
    kernel.allocate(grid.width * 4),
  ];
  const memory = new Uint8Array(kernel.memory.buffer);
  const [across, down] = [width / grid.width, height / grid.height];
  const data = new Uint8Array(grid.width * grid.height * 4);
  let [clear, counted] = [0, 0];
  for (let y = 0; y < grid.height; y++) {
    memory.fill(0, cells, cells + grid.width * 16);
    const [from, to] = [y * down, Math.min(height, (y + 1) * down)];
    for (let line = Math.min(height - 1, Math.floor(from)); line < to; line++) {
      memory.set(source.data.subarray(line * width * 4, (line + 1) * width * 4), row);
      kernel.gatherRow(row, width, cells, grid.width, across, Math.min(line + 1, to) - Math.max(line, from));
      // A row that lies in two cells is counted in the first.
      if (line < counted) continue;
      clear += kernel.clearInRow(row, width);
      counted = line + 1;
    }
    kernel.settleRow(cells, grid.width, 1 / (across * down), out);
    data.set(memory.subarray(out, out + grid.width * 4), y * grid.width * 4);
  }
  return { ...grid, data, clearShare: clear / (width * height) };
}
