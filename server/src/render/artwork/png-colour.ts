import { deflateSync } from 'node:zlib';
import { withoutChunks } from '../colour/png-extras.js';
import { isPng, pngChunks, withProfileChunk } from '@kettle/core/raster';
import { greyProfile, rgbProfile, SRGB_PRIMARIES, type Chromaticities, type Gamma } from '../colour/icc-profile.js';

/** How the colours of a PNG without a profile are meant, when it says so. */
export interface PngColour {
  /** Exponent of its light, or that of television (ITU-R BT.709); null for sRGB's own curve. */
  readonly gamma: Gamma;
  readonly primaries: Chromaticities | null;
  readonly grey: boolean;
}

const D65 = SRGB_PRIMARIES.white;
/** Code points of cICP (ITU-T H.273, table 2) that a still picture for print has. */
const PRIMARIES: Readonly<Record<number, Chromaticities>> = {
  1: SRGB_PRIMARIES,
  5: { white: D65, red: [0.64, 0.33], green: [0.29, 0.6], blue: [0.15, 0.06] },
  6: { white: D65, red: [0.63, 0.34], green: [0.31, 0.595], blue: [0.155, 0.07] },
  9: { white: D65, red: [0.708, 0.292], green: [0.17, 0.797], blue: [0.131, 0.046] },
  11: { white: [0.314, 0.351], red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06] },
  12: { white: D65, red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06] },
};
/** The same of its curves (table 3). Those of screens brighter than paper, 16 and 18, are not among them. */
const CURVES: Readonly<Record<number, Gamma>> = {
  1: 'bt709',
  4: 2.2,
  5: 2.8,
  6: 'bt709',
  8: 1,
  13: null,
  14: 'bt709',
  15: 'bt709',
};

/** True for a PNG that is meant for screens brighter than paper (PQ, HLG), which is read as if it were not. */
export const isForBrightScreens = (bytes: Uint8Array): boolean =>
  isPng(bytes) && [...pngChunks(bytes)].some(({ type, data }) => type === 'cICP' && (data[1] === 16 || data[1] === 18));

/**
 * An exponent nearer to sRGB's than this is sRGB (PNG specification, third edition, 11.3.2.2: writers of sRGB store 1
 * / 2.2).
 */
const SRGB_GAMMA = 2.2;
const NEAR_GAMMA = 0.05;
const NEAR_PRIMARY = 0.004;

/**
 * What cICP, or gAMA and cHRM, of a PNG say, or null where nothing differs from sRGB or a stronger chunk decides: cICP
 * before iCCP, that before sRGB (PNG specification, third edition, 4.3). mDCV and sBIT say what a screen was able to show and how many
 * bits meant something, and change no colour.
 */
export function pngColour(bytes: Uint8Array): PngColour | null {
  if (!isPng(bytes)) return null;
  let [gamma, primaries, grey]: [Gamma, Chromaticities | null, boolean] = [null, null, false];
  let decided = false;
  for (const { type, data } of pngChunks(bytes)) {
    const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
    if (type === 'IHDR') grey = data[9] === 0 || data[9] === 4;
    else if (type === 'cICP') {
      const [space, curve, matrix, full] = data;
      // What cannot be a picture's RGB is passed over.
      if (matrix !== 0 || full !== 1 || !Object.hasOwn(PRIMARIES, space) || !Object.hasOwn(CURVES, curve)) continue;
      [primaries, gamma] = [PRIMARIES[space], CURVES[curve]];
      if (gamma === null && (grey || isSrgb(primaries))) return null;
      return { gamma, primaries: grey ? null : primaries, grey };
    } else if (decided) continue;
    else if (type === 'iCCP' || type === 'sRGB') decided = true;
    else if (type === 'gAMA' && data.length === 4 && view.getUint32(0) > 0) gamma = 100_000 / view.getUint32(0);
    else if (type === 'cHRM' && data.length === 32) {
      const at = (i: number) => [view.getUint32(i * 8) / 100_000, view.getUint32(i * 8 + 4) / 100_000] as const;
      primaries = { white: at(0), red: at(1), green: at(2), blue: at(3) };
    } else if (type === 'IDAT') break;
  }
  if (decided) return null;
  if (typeof gamma === 'number' && Math.abs(gamma - SRGB_GAMMA) < NEAR_GAMMA) gamma = null;
  if (grey || (primaries && isSrgb(primaries))) primaries = null;
  return gamma === null && primaries === null ? null : { gamma, primaries, grey };
}

const isSrgb = (given: Chromaticities): boolean =>
  (['white', 'red', 'green', 'blue'] as const).every((key) =>
    [0, 1].every((i) => Math.abs(given[key][i] - SRGB_PRIMARIES[key][i]) < NEAR_PRIMARY),
  );

/**
 * The PNG with its meaning said as a profile, which is what the decoder goes by. Nonsense in the chunks is passed
 * over, as browsers do.
 */
export function withSaidColour(bytes: Buffer): Buffer {
  try {
    const said = pngColour(bytes);
    if (!said) return bytes;
    const name = 'As the PNG says';
    const icc = said.grey
      ? greyProfile(name, said.gamma)
      : rgbProfile(name, said.primaries ?? SRGB_PRIMARIES, said.gamma);
    return Buffer.concat(
      withProfileChunk(withoutChunks(bytes, ['iCCP', 'sRGB', 'cICP', 'gAMA', 'cHRM']), {
        name,
        deflated: deflateSync(icc),
      }),
    );
  } catch (error) {
    if (error instanceof RangeError) return bytes;
    throw error;
  }
}
