import { linearOf } from '@kettle/core/colour';

/**
 * Chromaticities x, y of a display: white point and the three primaries (PNG specification, third edition, 11.3.2.1
 * cHRM).
 */
export interface Chromaticities {
  readonly white: Xy;
  readonly red: Xy;
  readonly green: Xy;
  readonly blue: Xy;
}
type Xy = readonly [number, number];
type Vector = readonly [number, number, number];
type Matrix = readonly [Vector, Vector, Vector];

/** sRGB's own, IEC 61966-2-1. */
export const SRGB_PRIMARIES: Chromaticities = {
  white: [0.3127, 0.329],
  red: [0.64, 0.33],
  green: [0.3, 0.6],
  blue: [0.15, 0.06],
};

/** Linear light of a television's value, 0 to 1 (ITU-R BT.709-6, 1.2, turned round). */
const bt709Curve = (value: number): number => (value < 0.081 ? value / 4.5 : ((value + 0.099) / 1.099) ** (1 / 0.45));

const CURVE_STEPS = 1024;
const D50: Vector = [0.9642, 1, 0.8249];
/** Bradford cone responses (ICC.1:2022, annex E). */
const BRADFORD: Matrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];

const times = (m: Matrix, v: Vector): Vector =>
  m.map((row) => row[0] * v[0] + row[1] * v[1] + row[2] * v[2]) as unknown as Vector;
const product = (m: Matrix, n: Matrix): Matrix =>
  transposed(transposed(n).map((column) => times(m, column)) as unknown as Matrix);
const transposed = (m: Matrix): Matrix => [0, 1, 2].map((i) => m.map((row) => row[i])) as unknown as Matrix;

function inverse(m: Matrix): Matrix {
  const [[a, b, c], [d, e, f], [g, h, i]] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (!(Math.abs(det) > 1e-9)) throw new RangeError('These primaries lie on one line.');
  return [
    [e * i - f * h, c * h - b * i, b * f - c * e],
    [f * g - d * i, a * i - c * g, c * d - a * f],
    [d * h - e * g, b * g - a * h, a * e - b * d],
  ].map((row) => row.map((value) => value / det)) as unknown as Matrix;
}

const xyz = ([x, y]: Xy): Vector => [x / y, 1, (1 - x - y) / y];

/** Columns are the XYZ of red, green and blue under D50. @throws RangeError for primaries that make no space */
function primariesToD50({ white, red, green, blue }: Chromaticities): Matrix {
  const corners = transposed([xyz(red), xyz(green), xyz(blue)]);
  const share = times(inverse(corners), xyz(white));
  const toXyz = corners.map((row) => row.map((value, i) => value * share[i])) as unknown as Matrix;
  const [from, to] = [times(BRADFORD, xyz(white)), times(BRADFORD, D50)];
  const gain: Matrix = [
    [to[0] / from[0], 0, 0],
    [0, to[1] / from[1], 0],
    [0, 0, to[2] / from[2]],
  ];
  return product(product(inverse(BRADFORD), product(gain, BRADFORD)), toXyz);
}

function text(type: 'desc' | 'text', words: string): Buffer {
  if (type === 'text') return Buffer.from(`text\0\0\0\0${words}\0`, 'latin1');
  const bytes = Buffer.alloc(12 + words.length + 1 + 78);
  bytes.write('desc', 0, 'latin1');
  bytes.writeUInt32BE(words.length + 1, 8);
  bytes.write(words, 12, 'latin1');
  return bytes;
}

const fixed = (value: number): number => Math.round(value * 65536);

function xyzTag(values: Vector): Buffer {
  const bytes = Buffer.alloc(20);
  bytes.write('XYZ ', 0, 'latin1');
  values.forEach((value, i) => bytes.writeInt32BE(fixed(value), 8 + i * 4));
  return bytes;
}

/** Linear light = value ^ exponent, or one of the curves that have a name. */
export type Gamma = number | 'bt709' | null;

function curveTag(gamma: Gamma): Buffer {
  const curve = gamma === null ? linearOf : gamma === 'bt709' ? bt709Curve : (value: number) => value ** gamma;
  const bytes = Buffer.alloc(12 + CURVE_STEPS * 2);
  bytes.write('curv', 0, 'latin1');
  bytes.writeUInt32BE(CURVE_STEPS, 8);
  for (let i = 0; i < CURVE_STEPS; i++)
    bytes.writeUInt16BE(Math.round(curve(i / (CURVE_STEPS - 1)) * 65535), 12 + i * 2);
  return bytes;
}

/** An ICC profile, version 2.4 (ICC.1:2001-04): header, tag table, tags. */
function profile(space: 'GRAY' | 'RGB ', tags: readonly (readonly [string, Buffer])[]): Buffer {
  const head = Buffer.alloc(128 + 4 + tags.length * 12);
  let at = head.length;
  const pieces = tags.map(([name, data], i) => {
    const entry = 132 + i * 12;
    head.write(name, entry, 'latin1');
    head.writeUInt32BE(at, entry + 4);
    head.writeUInt32BE(data.length, entry + 8);
    const padded = Buffer.concat([data, Buffer.alloc((4 - (data.length % 4)) % 4)]);
    at += padded.length;
    return padded;
  });
  head.writeUInt32BE(at, 0);
  head.writeUInt32BE(0x02400000, 8);
  head.write(`mntr${space}XYZ `, 12, 'latin1');
  [2026, 1, 1].forEach((value, i) => head.writeUInt16BE(value, 24 + i * 2));
  head.write('acsp', 36, 'latin1');
  D50.forEach((value, i) => head.writeInt32BE(fixed(value), 68 + i * 4));
  head.writeUInt32BE(tags.length, 128);
  return Buffer.concat([head, ...pieces]);
}

const COPYRIGHT = ['cprt', text('text', 'Public domain')] as const;

/**
 * A grey profile: sRGB's tone curve unless a file's own exponent is given. @param gamma linear light = value ^ gamma
 */
export function greyProfile(name: string, gamma: Gamma = null): Buffer {
  return profile('GRAY', [['desc', text('desc', name)], COPYRIGHT, ['wtpt', xyzTag(D50)], ['kTRC', curveTag(gamma)]]);
}

/**
 * An RGB profile from primaries and one exponent.
 * @param gamma linear light = value ^ gamma; null for sRGB's own curve
 * @throws RangeError for primaries that make no space
 */
export function rgbProfile(name: string, primaries: Chromaticities, gamma: Gamma): Buffer {
  const columns = transposed(primariesToD50(primaries));
  const curve = curveTag(gamma);
  return profile('RGB ', [
    ['desc', text('desc', name)],
    COPYRIGHT,
    ['wtpt', xyzTag(D50)],
    ['rXYZ', xyzTag(columns[0])],
    ['gXYZ', xyzTag(columns[1])],
    ['bXYZ', xyzTag(columns[2])],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ]);
}
