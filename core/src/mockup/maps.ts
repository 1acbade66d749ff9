import type { PrintArea } from './blank.js';

/** Edition of how maps are made. It grows whenever the same pack would give other maps: what was kept is made anew. */
export const MAPS_EDITION = 2;

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
  /** Pixel number in the picture. */
  readonly index: Uint32Array;
  /** 0 to 65535 across and down the print area. */
  readonly u: Uint16Array;
  readonly v: Uint16Array;
  readonly coverage: Uint8Array;
  /** 1/32 mip levels that keep the print from glittering where it is seen at a slant. */
  readonly detail: Uint8Array;
  /** Density at which the area is seen where it faces the camera, picture pixels per mm. */
  readonly pixelsPerMm: number;
}

/** Source columns and their weights for each target column; weights of a column sum to 1. */
interface Span {
  readonly first: number;
  readonly weights: readonly number[];
}

function spans(from: number, to: number): Span[] {
  const step = from / to;
  return Array.from({ length: to }, (_, i) => {
    const [start, end] = [i * step, (i + 1) * step];
    const first = Math.floor(start + 1e-9);
    const last = Math.min(from, Math.ceil(end - 1e-9));
    const weights = Array.from(
      { length: Math.max(1, last - first) },
      (_, k) => Math.min(end, first + k + 1) - Math.max(start, first + k),
    );
    const sum = weights.reduce((a, b) => a + b, 0);
    return { first: Math.min(first, from - 1), weights: weights.map((w) => w / sum) };
  });
}

/** Area average of some channels. Sizes may differ in either direction; enlarging repeats pixels. */
function averaged(
  plane: Plane,
  width: number,
  height: number,
  take: readonly number[],
  outChannels: number,
): Uint8Array {
  const out = new Uint8Array(width * height * outChannels);
  const { channels, data } = plane;
  if (plane.width === width && plane.height === height) {
    for (let i = 0, s = 0, o = 0; i < width * height; i++, s += channels, o += outChannels) {
      for (let k = 0; k < take.length; k++) out[o + k] = data[s + take[k]];
    }
    return out;
  }
  const [columns, rows] = [spans(plane.width, width), spans(plane.height, height)];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      for (let k = 0; k < take.length; k++) {
        let sum = 0;
        for (let j = 0; j < rows[y].weights.length; j++) {
          const row = (rows[y].first + j) * plane.width;
          for (let i = 0; i < columns[x].weights.length; i++) {
            sum += data[(row + columns[x].first + i) * channels + take[k]] * columns[x].weights[i] * rows[y].weights[j];
          }
        }
        out[(y * width + x) * outChannels + k] = sum + 0.5;
      }
    }
  }
  return out;
}

/** Area average of a picture with straight alpha: colour is weighted by alpha so that no dark rim comes in. */
function averagedPhoto(plane: Plane, width: number, height: number): Uint8Array {
  if (plane.width === width && plane.height === height) return Uint8Array.from(plane.data);
  const out = new Uint8Array(width * height * 4);
  const [columns, rows] = [spans(plane.width, width), spans(plane.height, height)];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let j = 0; j < rows[y].weights.length; j++) {
        for (let i = 0; i < columns[x].weights.length; i++) {
          const s = ((rows[y].first + j) * plane.width + columns[x].first + i) * 4;
          const weight = columns[x].weights[i] * rows[y].weights[j] * plane.data[s + 3];
          a += weight;
          r += plane.data[s] * weight;
          g += plane.data[s + 1] * weight;
          b += plane.data[s + 2] * weight;
        }
      }
      const o = (y * width + x) * 4;
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
    shadow: enlargedSmoothly(pictures.shadow, width, height),
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

/** The shadow map is half size: bilinear when it must grow, averaged when it must shrink. */
function enlargedSmoothly(plane: Plane, width: number, height: number): Uint8Array {
  if (plane.width >= width) return averaged(plane, width, height, [0], 1);
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const sy = Math.min(plane.height - 1, Math.max(0, ((y + 0.5) * plane.height) / height - 0.5));
    const y0 = Math.floor(sy);
    const y1 = Math.min(plane.height - 1, y0 + 1);
    for (let x = 0; x < width; x++) {
      const sx = Math.min(plane.width - 1, Math.max(0, ((x + 0.5) * plane.width) / width - 0.5));
      const x0 = Math.floor(sx);
      const x1 = Math.min(plane.width - 1, x0 + 1);
      const at = (i: number, j: number) => plane.data[(j * plane.width + i) * plane.channels];
      const upper = at(x0, y0) + (at(x1, y0) - at(x0, y0)) * (sx - x0);
      const lower = at(x0, y1) + (at(x1, y1) - at(x0, y1)) * (sx - x0);
      out[y * width + x] = upper + (lower - upper) * (sy - y0) + 0.5;
    }
  }
  return out;
}

/**
 * Reads a print area's position map (double height: high bytes above, low bytes below) at a picture size.
 * Positions are averaged with coverage as weight and never across the edge of the coverage.
 */
export function areaMaps(uv: Plane, area: PrintArea, width: number, height: number): AreaMaps {
  const fullHeight = uv.height / 2;
  const [columns, rows] = [spans(uv.width, width), spans(fullHeight, height)];
  const { data, channels } = uv;
  const lower = fullHeight * uv.width * channels;
  const isWhole = uv.width === width && fullHeight === height;
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
      if (isWhole) {
        const s = (y * width + x) * channels;
        if (data[s + 2] === 0) continue;
        add(y * width + x, data[s] * 256 + data[lower + s], data[s + 1] * 256 + data[lower + s + 1], data[s + 2]);
        continue;
      }
      let [u, v, c] = [0, 0, 0];
      for (let j = 0; j < rows[y].weights.length; j++) {
        const row = (rows[y].first + j) * uv.width;
        for (let i = 0; i < columns[x].weights.length; i++) {
          const s = (row + columns[x].first + i) * channels;
          const weight = data[s + 2] * columns[x].weights[i] * rows[y].weights[j];
          if (weight === 0) continue;
          c += weight;
          u += weight * (data[s] * 256 + data[lower + s]);
          v += weight * (data[s + 1] * 256 + data[lower + s + 1]);
        }
      }
      if (c < 0.5) continue;
      add(y * width + x, u / c, v / c, c);
    }
  }
  const [u, v] = [us.subarray(0, count), vs.subarray(0, count)];
  const { detail, pixelsPerMm } = detailOf(index.subarray(0, count), u, v, area, width);
  return {
    count,
    index: index.slice(0, count),
    u: wholeNumbers(u),
    v: wholeNumbers(v),
    coverage: cover.slice(0, count),
    detail,
    pixelsPerMm,
  };
}

/** Rounded; none is negative. */
function wholeNumbers(values: Float32Array): Uint16Array {
  const out = new Uint16Array(values.length);
  for (let i = 0; i < values.length; i++) out[i] = values[i] + 0.5;
  return out;
}

/** How many mm of print one pixel spans, and the mip level that follows from it. */
function detailOf(
  index: Uint32Array,
  us: Float32Array,
  vs: Float32Array,
  area: PrintArea,
  width: number,
): { detail: Uint8Array; pixelsPerMm: number } {
  const spansMm = new Float32Array(index.length);
  const [mmU, mmV] = [area.widthMm / 65535, area.heightMm / 65535];
  /** Square of the distance on the print between a pixel and a neighbour that may not be there. */
  const squared = (i: number, near: number): number =>
    near < 0 ? 0 : ((us[i] - us[near]) * mmU) ** 2 + ((vs[i] - vs[near]) * mmV) ** 2;
  let below = 0;
  for (let i = 0; i < index.length; i++) {
    while (index[below] < index[i] - width) below++;
    const left = i > 0 && index[i - 1] === index[i] - 1 ? i - 1 : -1;
    const above = index[below] === index[i] - width ? below : -1;
    spansMm[i] = Math.sqrt(Math.max(squared(i, left), squared(i, above)));
  }
  const known = spansMm.filter((value) => value > 0).sort();
  // A quarter of the area is seen at this density or closer, and the texture is made for it (see textureGrid).
  const typical = known.length ? known[Math.floor(known.length / 4)] : 1;
  const detail = Uint8Array.from(spansMm, (span) =>
    Math.min(255, Math.round(Math.log2(Math.max(span, typical) / typical) * 32)),
  );
  return { detail, pixelsPerMm: 1 / typical };
}
