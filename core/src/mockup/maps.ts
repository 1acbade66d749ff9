import type { Box } from '../geometry/affine.js';
import type { PrintArea } from '../model/blank.js';
import { isWhole, type BlankView } from './crop.js';

/** Edition of how maps are made. It grows whenever the same pack would give other maps: what was kept is made anew. */
export const MAPS_EDITION = 4;

/** A decoded data picture: rows from the top, `channels` bytes a pixel. */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly channels: number;
  readonly data: Uint8Array | Uint8ClampedArray;
}

/** A blank's pictures at one size, as the kernel wants them. */
export interface SceneMaps {
  readonly width: number;
  readonly height: number;
  /** RGBA, straight alpha. */
  readonly photo: Uint8Array;
  /** Linear coverage of the part that takes the product's colour. */
  readonly mask: Uint8Array;
  /** R, G, B light codes and a spare byte. */
  readonly shade: Uint8Array;
  readonly shadow: Uint8Array;
}

/** The pixels of one print area, in row order. */
export interface AreaMaps {
  readonly count: number;
  /** The part of the print area that is seen, in shares of it; all of it on a whole picture. */
  readonly part: Box;
  /** Pixel number in the picture. */
  readonly index: Uint32Array;
  /** 0 to 65535 across and down that part. */
  readonly u: Uint16Array;
  readonly v: Uint16Array;
  readonly coverage: Uint8Array;
  /** 1/32 mip levels that keep the print from glittering where it is seen at a slant. */
  readonly detail: Uint8Array;
  /**
   * Where a pixel sees much more of the print one way than the other, it is sampled more than once along the longer one
   * instead of being blurred both ways: how far across and down the print, in 1/16 of what a pixel spans at
   * {@link pixelsPerMm}, two numbers a pixel. Both are 0 where once is enough; the first is odd where four times are
   * needed, and even where twice will do.
   */
  readonly along: Int8Array;
  /** Density at which the area is seen where it faces the camera, picture pixels per mm. */
  readonly pixelsPerMm: number;
}

/** Source columns and their weights for each target column; weights of a column sum to 1. */
interface Spans {
  readonly first: Int32Array;
  /** How many source columns a target column takes, and the most that any takes. */
  readonly count: Uint8Array;
  readonly most: number;
  /** `most` weights for each target column, those beyond its count 0. */
  readonly weights: Float64Array;
}

/**
 * Averages where there are more source columns than target columns, linear between their centres where there are fewer.
 * @param begin first source column of what is looked at, and `length` how many of them: all when absent
 */
function spans(from: number, to: number, begin = 0, length = from): Spans {
  const step = length / to;
  const grows = step < 1 - 1e-9;
  const most = grows ? 2 : Math.ceil(step) + 1;
  const [first, count, weights] = [new Int32Array(to), new Uint8Array(to), new Float64Array(to * most)];
  for (let i = 0; i < to; i++) {
    if (grows) {
      const at = begin + (i + 0.5) * step - 0.5;
      first[i] = Math.min(from - 1, Math.max(0, Math.floor(at)));
      const share = first[i] === from - 1 ? 0 : Math.min(1, Math.max(0, at - first[i]));
      count[i] = share > 0 ? 2 : 1;
      weights[i * 2] = 1 - share;
      weights[i * 2 + 1] = share;
      continue;
    }
    const [start, end] = [begin + i * step, begin + (i + 1) * step];
    first[i] = Math.min(from - 1, Math.floor(start + 1e-9));
    const last = Math.min(from, Math.ceil(end - 1e-9));
    count[i] = Math.max(1, last - first[i]);
    let sum = 0;
    for (let k = 0; k < count[i]; k++) {
      const weight = Math.min(end, first[i] + k + 1) - Math.max(start, first[i] + k);
      weights[i * most + k] = weight;
      sum += weight;
    }
    for (let k = 0; k < count[i]; k++) weights[i * most + k] /= sum;
  }
  return { first, count, most, weights };
}

/** Bits of a weight where channels are averaged in whole numbers: 255 · 2²² fits 32 bits, and no level is 0.2 off. */
const WEIGHT_BITS = 11;

/** The same weights as whole numbers whose sums are 2¹¹. */
function wholeWeights({ first, count, most, weights }: Spans): {
  first: Int32Array;
  most: number;
  weights: Int32Array;
} {
  const whole = new Int32Array(weights.length);
  for (let i = 0; i < first.length; i++) {
    let left = 1 << WEIGHT_BITS;
    for (let k = 0; k < count[i]; k++) {
      const last = k === count[i] - 1;
      whole[i * most + k] = last ? left : Math.round(weights[i * most + k] * (1 << WEIGHT_BITS));
      left -= whole[i * most + k];
    }
  }
  return { first, most, weights: whole };
}

/**
 * Area average of some channels where the picture shrinks, linear between its pixels' centres where it grows.
 * @param take channels that are kept
 */
export function averaged(
  plane: Plane,
  width: number,
  height: number,
  take: readonly number[],
  outChannels: number,
): Uint8Array {
  const out = new Uint8Array(width * height * outChannels);
  const { channels, data } = plane;
  if (plane.width === width && plane.height === height) {
    if (channels === outChannels && take.every((from, to) => from === to)) {
      out.set(data);
      return out;
    }
    for (let k = 0; k < take.length; k++)
      for (let s = take[k], o = k; o < out.length; s += channels, o += outChannels) out[o] = data[s];
    return out;
  }
  const [columns, rows] = [spans(plane.width, width), spans(plane.height, height)];
  const [across, down] = [wholeWeights(columns), wholeWeights(rows)];
  const { width: from } = plane;
  // One row of the target before it is averaged across; what lies beyond its last column counts nothing.
  const sums = new Int32Array(from + columns.most);
  const half = 1 << (2 * WEIGHT_BITS - 1);
  for (let k = 0; k < take.length; k++) {
    for (let y = 0; y < height; y++) {
      const count = rows.count[y];
      for (let j = 0; j < count; j++) {
        const weight = down.weights[y * down.most + j];
        let s = (down.first[y] + j) * from * channels + take[k];
        if (j === 0) for (let x = 0; x < from; x++, s += channels) sums[x] = data[s] * weight;
        else for (let x = 0; x < from; x++, s += channels) sums[x] += data[s] * weight;
      }
      averageRow(sums, across, out, y * width * outChannels + k, outChannels, width, half);
    }
  }
  return out;
}

function averageRow(
  sums: Int32Array,
  { first, most, weights }: { first: Int32Array; most: number; weights: Int32Array },
  out: Uint8Array,
  start: number,
  step: number,
  width: number,
  half: number,
): void {
  if (most === 2)
    for (let x = 0, o = start, w = 0; x < width; x++, o += step, w += 2) {
      const s = first[x];
      out[o] = (sums[s] * weights[w] + sums[s + 1] * weights[w + 1] + half) >> (2 * WEIGHT_BITS);
    }
  else if (most === 3)
    for (let x = 0, o = start, w = 0; x < width; x++, o += step, w += 3) {
      const s = first[x];
      out[o] =
        (sums[s] * weights[w] + sums[s + 1] * weights[w + 1] + sums[s + 2] * weights[w + 2] + half) >>
        (2 * WEIGHT_BITS);
    }
  else
    for (let x = 0, o = start, w = 0; x < width; x++, o += step, w += most) {
      let sum = half;
      for (let i = 0, s = first[x]; i < most; i++, s++) sum += sums[s] * weights[w + i];
      out[o] = sum >> (2 * WEIGHT_BITS);
    }
}

/** Area average of a picture with straight alpha: colour is weighted by alpha so that no dark rim comes in. */
function averagedPhoto(plane: Plane, width: number, height: number): Uint8Array {
  if (plane.width === width && plane.height === height) return new Uint8Array(plane.data);
  const out = new Uint8Array(width * height * 4);
  const { data } = plane;
  const { first, count, most, weights } = spans(plane.width, width);
  const rows = spans(plane.height, height);
  // Colours times alpha, and alpha, of one row of the target before it is reduced across.
  const sums = new Float32Array(plane.width * 4);
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    for (let j = 0; j < rows.count[y]; j++) {
      const down = rows.weights[y * rows.most + j];
      let s = (rows.first[y] + j) * plane.width * 4;
      for (let o = 0; o < sums.length; o += 4, s += 4) {
        const alpha = data[s + 3];
        if (alpha === 0) continue;
        const weight = down * alpha;
        sums[o] += data[s] * weight;
        sums[o + 1] += data[s + 1] * weight;
        sums[o + 2] += data[s + 2] * weight;
        sums[o + 3] += weight;
      }
    }
    let o = y * width * 4;
    for (let x = 0; x < width; x++, o += 4) {
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let i = 0, s = first[x] * 4; i < count[x]; i++, s += 4) {
        const weight = weights[x * most + i];
        r += sums[s] * weight;
        g += sums[s + 1] * weight;
        b += sums[s + 2] * weight;
        a += sums[s + 3] * weight;
      }
      if (a > 0) {
        out[o] = r / a + 0.5;
        out[o + 1] = g / a + 0.5;
        out[o + 2] = b / a + 0.5;
        out[o + 3] = a + 0.5;
      }
    }
  }
  return out;
}

/** Brings a blank's pictures to one size. Photo has 4 channels, mask, shadow at least 1, shade at least 3. */
export function sceneMaps(
  pictures: { photo: Plane; mask: Plane; shade: Plane; shadow: Plane },
  width: number,
  height: number,
): SceneMaps {
  return {
    width,
    height,
    photo: averagedPhoto(opaque(pictures.photo), width, height),
    mask: averaged(pictures.mask, width, height, [0], 1),
    shade: averaged(pictures.shade, width, height, [0, 1, 2], 4),
    shadow: averaged(pictures.shadow, width, height, [0], 1),
  };
}

/** A photo that fills its frame may come without an alpha channel. */
function opaque(photo: Plane): Plane {
  if (photo.channels === 4) return photo;
  const { width, height, channels, data } = photo;
  const rgba = new Uint8Array(width * height * 4).fill(255);
  for (let i = 0; i < width * height; i++) for (let k = 0; k < 3; k++) rgba[i * 4 + k] = data[i * channels + k];
  return { width, height, channels: 4, data: rgba };
}

/**
 * Reads a print area's position map (double height: high bytes above, low bytes below) at a picture size.
 * Positions are averaged with coverage as weight and never across the edge of the coverage.
 * @param part of the area, in shares of it, that all of what is seen lies in
 * @param pixelsPerMm density the area is taken to be seen at, found on the map when absent: all frames of a moving blank
 *   have one, or the print's sharpness would breathe
 */
export function areaMaps(
  uv: Plane,
  area: PrintArea,
  { crop, width, height }: BlankView,
  part: Box = WHOLE_AREA,
  pixelsPerMm?: number,
): AreaMaps {
  const fullHeight = uv.height / 2;
  const [columns, rows] = [spans(uv.width, width, crop.x, crop.width), spans(fullHeight, height, crop.y, crop.height)];
  const { data, channels } = uv;
  const lower = fullHeight * uv.width * channels;
  const isAsIs =
    isWhole({ width: uv.width, height: fullHeight }, { crop, width, height }) &&
    uv.width === width &&
    fullHeight === height;
  // Room for every pixel of the picture; what is not used is never touched.
  const room = width * height;
  const index = new Uint32Array(room);
  const [us, vs] = [new Float32Array(room), new Float32Array(room)];
  const cover = new Uint8Array(room);
  let count = 0;
  const add = (pixel: number, u: number, v: number, c: number): void => {
    index[count] = pixel;
    us[count] = u;
    vs[count] = v;
    cover[count] = Math.round(c);
    count++;
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (isAsIs) {
        const s = (y * width + x) * channels;
        if (data[s + 2] === 0) continue;
        add(y * width + x, data[s] * 256 + data[lower + s], data[s + 1] * 256 + data[lower + s + 1], data[s + 2]);
        continue;
      }
      let [u, v, c] = [0, 0, 0];
      for (let j = 0; j < rows.count[y]; j++) {
        let s = ((rows.first[y] + j) * uv.width + columns.first[x]) * channels;
        const down = rows.weights[y * rows.most + j];
        for (let i = 0; i < columns.count[x]; i++, s += channels) {
          const cover = data[s + 2];
          if (cover === 0) continue;
          const weight = cover * columns.weights[x * columns.most + i] * down;
          c += weight;
          u += weight * (data[s] * 256 + data[lower + s]);
          v += weight * (data[s + 1] * 256 + data[lower + s + 1]);
        }
      }
      if (c < 0.5) continue;
      add(y * width + x, u / c, v / c, c);
    }
  }
  return areaMapsOf({ index, us, vs, cover, count }, area, width, part, pixelsPerMm);
}

/** The pixels of a print area as they were read: the first `count` of each, positions 0 to 65535 over all of the area. */
export interface ReadArea {
  readonly index: Uint32Array;
  readonly us: Float32Array;
  readonly vs: Float32Array;
  readonly cover: Uint8Array;
  readonly count: number;
}

/** The maps of a print area whose pixels are known. @param width of the picture, px */
export function areaMapsOf(
  { index, us, vs, cover, count }: ReadArea,
  area: PrintArea,
  width: number,
  part: Box = WHOLE_AREA,
  pixelsPerMm?: number,
): AreaMaps {
  const [u, v] = [us.subarray(0, count), vs.subarray(0, count)];
  const seen = detailOf(index.subarray(0, count), u, v, area, width, pixelsPerMm);
  if (part !== WHOLE_AREA) {
    within(u, part.x, part.width);
    within(v, part.y, part.height);
  }
  return {
    count,
    part,
    index: index.slice(0, count),
    u: wholeNumbers(u),
    v: wholeNumbers(v),
    coverage: cover.slice(0, count),
    ...seen,
  };
}

/** All of a print area. */
export const WHOLE_AREA: Box = { x: 0, y: 0, width: 1, height: 1 };

/** Positions on a print area as positions on a part of it. */
function within(values: Float32Array, from: number, length: number): void {
  for (let i = 0; i < values.length; i++) values[i] = Math.max(0, Math.min(65535, (values[i] - from * 65535) / length));
}

/** Rounded; none is negative. */
function wholeNumbers(values: Float32Array): Uint16Array {
  const out = new Uint16Array(values.length);
  for (let i = 0; i < values.length; i++) out[i] = values[i] + 0.5;
  return out;
}

/** Pixels whose density is looked at to tell the one an area is seen at. */
const MOST_JUDGED = 100_000;

/** From how many times as much one way as the other a pixel is sampled more than once. */
const SLANTED = 1.35;
/** From how many times as much it is sampled four times instead of twice. */
const STEEP = 2.2;

/** How many mm of print one pixel spans, the mip level that follows from it, and which way it spans more. */
function detailOf(
  index: Uint32Array,
  us: Float32Array,
  vs: Float32Array,
  area: PrintArea,
  width: number,
  pixelsPerMm?: number,
): Pick<AreaMaps, 'detail' | 'along' | 'pixelsPerMm'> {
  const count = index.length;
  // What a step to the right and a step down move on the print, in mm.
  const [rightU, rightV] = [new Float32Array(count), new Float32Array(count)];
  const [downU, downV] = [new Float32Array(count), new Float32Array(count)];
  const [mmU, mmV] = [area.widthMm / 65535, area.heightMm / 65535];
  let below = 0;
  for (let i = 0; i < count; i++) {
    while (index[below] < index[i] - width) below++;
    if (i > 0 && index[i - 1] === index[i] - 1) {
      rightU[i] = (us[i] - us[i - 1]) * mmU;
      rightV[i] = (vs[i] - vs[i - 1]) * mmV;
    }
    if (index[below] === index[i] - width) {
      downU[i] = (us[i] - us[below]) * mmU;
      downV[i] = (vs[i] - vs[below]) * mmV;
    }
  }
  const across = lengths(rightU, rightV);
  const down = lengths(downU, downV);
  const typical = pixelsPerMm === undefined ? typicalOf(across, down) : 1 / pixelsPerMm;
  const [detail, along] = [new Uint8Array(count), new Int8Array(count * 2)];
  const unit = 16 / typical;
  for (let i = 0; i < count; i++) {
    const isWide = across[i] >= down[i];
    const long = isWide ? across[i] : down[i];
    if (long <= typical) continue;
    const short = isWide ? down[i] : across[i];
    let spans = long;
    // A pixel at the rim has no neighbour to tell how it lies.
    if (short > 0 && long > SLANTED * short) {
      const isSteep = long > STEEP * short;
      along[i * 2] = 2 * held(((isWide ? rightU[i] : downU[i]) * unit) / 2) + (isSteep ? 1 : 0);
      along[i * 2 + 1] = 2 * held(((isWide ? rightV[i] : downV[i]) * unit) / 2);
      spans = Math.max(short, long / (isSteep ? 4 : 2));
    }
    if (spans > typical) detail[i] = Math.min(255, Math.round(Math.log2(spans / typical) * 32));
  }
  return { detail, along, pixelsPerMm: 1 / typical };
}

function lengths(xs: Float32Array, ys: Float32Array): Float32Array {
  const out = new Float32Array(xs.length);
  for (let i = 0; i < out.length; i++) out[i] = Math.sqrt(xs[i] * xs[i] + ys[i] * ys[i]);
  return out;
}

/** Mm that a pixel spans: a quarter of the area is seen so closely or closer, and the texture is made for it (see textureGrid). */
function typicalOf(across: Float32Array, down: Float32Array): number {
  // Some of them tell as much as all.
  const every = Math.max(1, Math.floor(across.length / MOST_JUDGED));
  const known = across.map((value, i) => Math.max(value, down[i])).filter((value, i) => value > 0 && i % every === 0);
  known.sort();
  return known.length ? known[Math.floor(known.length / 4)] : 1;
}

const held = (value: number): number => Math.max(-63, Math.min(63, Math.round(value)));
