import { encodedOf, hexOf, LINEAR_OF_CODE } from '../colour/srgb.js';

import { guided, weightedMean } from '../raster/box-mean.js';

/** Light on a product, found on a photo of it. */
export interface FoundLight {
  /** Light that falls on it, linear; 1 where it is as bright as a lit place of it usually is. */
  readonly light: Float32Array;
  /** Gloss on top of it, linear. */
  readonly gloss: Float32Array;
  /** The product's own colour as it was photographed in full light. */
  readonly hex: string;
  /** What the seller should know, in sentences: what could not be told from the photo. */
  readonly doubts: readonly string[];
}

/** Linear light below which a cloth is so dark that sheen and noise are as strong as the light on it. */
const DARK = 0.03;
/** How far apart two colours of a cloth lie, in standard deviations within them, when they are a pattern. */
const PATTERN = 5;
/** How strong a hue is, (most − least) / most of its channels, from which white gloss on it can be told from light. */
const HUE = 0.45;
/** Pixels across which colours of a pattern change, and the share of places that lie at such edges. */
const [EDGE, LEAST_EDGES] = [3, 0.02];
/** Share of the product that must have a second colour before it is a pattern rather than a label. */
const LEAST_PATTERN = 0.06;

/**
 * Takes a product's colour out of its photo: what is left is the light on it.
 * @param rgba straight sRGB @param mask 0 to 255, how much of a pixel is product
 */
export function lightOf(
  rgba: Uint8Array | Uint8ClampedArray,
  mask: Uint8Array,
  width: number,
  height: number,
): FoundLight {
  const count = width * height;
  const weight = Float32Array.from(mask, (value) => value / 255);
  const inside: number[] = [];
  for (let i = 0; i < count; i++) if (mask[i] === 255) inside.push(i);
  if (inside.length < 400)
    throw new RangeError('The product covers hardly anything of this photo. Rub over it once more to say what it is.');
  const every = Math.max(1, Math.floor(inside.length / 40_000));
  const samples = inside.filter((_, i) => i % every === 0);
  const linear = (i: number, k: number): number => LINEAR_OF_CODE[rgba[i * 4 + k]];
  const doubts: string[] = [];

  const { colours, patterned } = coloursIn(samples, linear, mask, width);
  if (patterned)
    doubts.push(
      'The cloth has a pattern. Its light was told from its colours one by one; where they meet, small folds may be lost. A plain product gives a truer blank.',
    );
  const [main] = colours;
  if (luminance(main) < DARK)
    doubts.push(
      'The product is very dark on this photo: light colours will show its folds coarser than they are. A photo of a lighter one, or more light, gives a truer blank.',
    );

  // How many times as bright as its own colour each pixel is.
  const light = new Float32Array(count);
  const gloss = new Float32Array(count);
  const lengths = colours.map((colour) => colour.reduce((sum, v) => sum + v * v, 0));
  const chromatic = colours.map((colour) => (Math.max(...colour) - Math.min(...colour)) / Math.max(...colour));
  for (let i = 0; i < count; i++) {
    if (mask[i] === 0) continue;
    const pixel = [linear(i, 0), linear(i, 1), linear(i, 2)];
    const own = colours.length > 1 ? nearest(pixel, colours) : 0;
    const colour = colours[own];
    let times = pixel.reduce((sum, v, k) => sum + v * colour[k], 0) / lengths[own];
    if (chromatic[own] > HUE) {
      // White on top of a hue: the least of gloss that leaves no channel brighter than the hue explains.
      const low = Math.min(...pixel.map((v, k) => v / Math.max(colour[k], 1e-4)));
      const rest = pixel.map((v, k) => v - low * colour[k]);
      const white = Math.min(...rest.filter((_, k) => colour[k] < Math.max(...colour)), Math.max(...rest));
      if (white > 0.02) {
        gloss[i] = white;
        times = Math.max(0, pixel.reduce((sum, v, k) => sum + (v - white) * colour[k], 0) / lengths[own]);
      }
    }
    light[i] = times;
  }
  const typical = quantile(
    samples.map((i) => light[i]),
    0.8,
  );
  for (let i = 0; i < count; i++) light[i] /= typical || 1;
  // What is far brighter than lit cloth is not light on it but its sheen.
  for (const i of inside)
    if (light[i] > 1.6) {
      gloss[i] += (light[i] - 1.6) * typical * Math.max(...main);
      light[i] = 1.6;
    }

  // Noise is judged where light changes slowly, in a scale on which sensor noise is alike in dark and light.
  const even = light.map((value) => Math.sqrt(Math.max(0, value)));
  const noise = noiseOf(even, mask, width, height);
  const smooth = guided(even, weight, width, height, patterned ? 5 : 2, Math.max(0.004, noise * (patterned ? 4 : 1.6)));
  // A pixel that is product in part takes its light from those beside it that wholly are.
  const whole = weight.map((value) => (value >= 1 ? 1 : 0));
  const beside = weightedMean(smooth, whole, width, height, 4);
  for (let i = 0; i < count; i++) light[i] = (mask[i] === 255 || beside[i] === 0 ? smooth[i] : beside[i]) ** 2;
  const [r, g, b] = main.map((v) => Math.round(255 * encodedOf(Math.min(1, v * typical))));
  return { light, gloss, hex: hexOf({ r, g, b }), doubts };
}

const luminance = ([r, g, b]: readonly number[]): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;
}

/** A colour as lightness and two differences, in which light alone moves only the first. */
function features([r, g, b]: readonly number[]): readonly [number, number, number] {
  const sum = r + g + b + 1e-4;
  return [Math.log(luminance([r, g, b]) + 2e-3), (4 * (r - g)) / sum, (4 * (b - g)) / sum];
}

/** The median colour of a product, or its colours when it has a pattern of two that stand clearly apart. */
function coloursIn(
  samples: readonly number[],
  linear: (i: number, k: number) => number,
  mask: Uint8Array,
  width: number,
): { colours: readonly (readonly number[])[]; patterned: boolean } {
  const pixels = samples.map((i) => [linear(i, 0), linear(i, 1), linear(i, 2)]);
  const medianOf = (of: readonly (readonly number[])[]): number[] =>
    [0, 1, 2].map((k) =>
      Math.max(
        1e-4,
        quantile(
          of.map((pixel) => pixel[k]),
          0.5,
        ),
      ),
    );
  const points = pixels.map(features);
  // Two means, begun at the darkest and the lightest tenth.
  const byLight = points.map((point) => point[0]);
  let centres = [0.1, 0.9].map((share) => {
    const edge = quantile(byLight, share);
    const of = points.filter((point) => (share < 0.5 ? point[0] <= edge : point[0] >= edge));
    return [0, 1, 2].map((k) => of.reduce((sum, point) => sum + point[k], 0) / Math.max(1, of.length));
  });
  const distance = (a: readonly number[], b: readonly number[]): number =>
    Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  let members: number[] = [];
  for (let round = 0; round < 12; round++) {
    members = points.map((point) => (distance(point, centres[0]) <= distance(point, centres[1]) ? 0 : 1));
    centres = centres.map((centre, n) => {
      const of = points.filter((_, i) => members[i] === n);
      return of.length ? [0, 1, 2].map((k) => of.reduce((sum, point) => sum + point[k], 0) / of.length) : centre;
    });
  }
  const spread = [0, 1].map((n) => {
    const of = points.filter((_, i) => members[i] === n);
    return Math.sqrt(of.reduce((sum, point) => sum + distance(point, centres[n]) ** 2, 0) / Math.max(1, of.length) / 3);
  });
  const share = members.filter((n) => n === 1).length / members.length;
  const apart = distance(centres[0], centres[1]) / Math.max(1e-3, (spread[0] + spread[1]) / 2);
  const plain = { colours: [medianOf(pixels)], patterned: false };
  if (apart < PATTERN || Math.min(share, 1 - share) < LEAST_PATTERN) return plain;
  // Colours of a pattern meet at edges; light changes from one place to the next by little.
  const between = distance(centres[0], centres[1]);
  const isFirst = (point: readonly number[]): boolean => distance(point, centres[0]) <= distance(point, centres[1]);
  let [pairs, steps] = [0, 0];
  samples.forEach((i, n) => {
    for (const step of [EDGE, EDGE * width]) {
      if (mask[i + step] !== 255) continue;
      const other = features([0, 1, 2].map((k) => linear(i + step, k)));
      if (isFirst(other) === (members[n] === 0)) continue;
      pairs++;
      if (distance(points[n], other) > between / 2) steps++;
    }
  });
  if (steps < samples.length * LEAST_EDGES || steps < pairs / 2) return plain;
  const groups = [0, 1].map((n) => medianOf(pixels.filter((_, i) => members[i] === n)));
  return { colours: share > 0.5 ? groups.reverse() : groups, patterned: true };
}

/** Which of some colours a pixel most likely is, whatever light falls on it within reason. */
function nearest(pixel: readonly number[], colours: readonly (readonly number[])[]): number {
  const own = features(pixel);
  let [best, least] = [0, Infinity];
  colours.forEach((colour, n) => {
    const [l, a, b] = features(colour);
    const apart = Math.hypot(own[0] - l, own[1] - a, own[2] - b);
    if (apart < least) [best, least] = [n, apart];
  });
  return best;
}

/** Standard deviation of a plane's noise. Immerkær 1996, by the median of what a second difference leaves. */
function noiseOf(plane: Float32Array, mask: Uint8Array, width: number, height: number): number {
  const found: number[] = [];
  const every = Math.max(1, Math.floor((width * height) / 60_000));
  for (let i = width + 1; i < width * (height - 1) - 1; i += every) {
    if ([i - width - 1, i - width + 1, i + width - 1, i + width + 1, i].some((at) => mask[at] < 255)) continue;
    const at = (n: number): number => plane[i + n];
    found.push(
      Math.abs(
        at(-width - 1) -
          2 * at(-width) +
          at(-width + 1) -
          2 * at(-1) +
          4 * at(0) -
          2 * at(1) +
          at(width - 1) -
          2 * at(width) +
          at(width + 1),
      ),
    );
  }
  return found.length ? quantile(found, 0.5) / 0.6745 / 6 : 0;
}
