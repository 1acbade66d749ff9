import { deflateSync } from 'node:zlib';
import { isPng, pngChunks, withProfileChunk } from '@kettle/core';
import { greyProfile, rgbProfile, SRGB_PRIMARIES, type Chromaticities } from './icc-profile.js';

/** How the colours of a PNG without a profile are meant, when it says so. */
export interface PngColour {
  readonly gamma: number | null;
  readonly primaries: Chromaticities | null;
  readonly grey: boolean;
}

/**
 * An exponent nearer to sRGB's than this is sRGB (PNG specification, third edition, 11.3.2.2: writers of sRGB store 1
 * / 2.2).
 */
const SRGB_GAMMA = 2.2;
const NEAR_GAMMA = 0.05;
const NEAR_PRIMARY = 0.004;

/**
 * What gAMA and cHRM of a PNG say, or null where nothing differs from sRGB or a stronger chunk (iCCP, sRGB, cICP)
 * decides.
 */
export function pngColour(bytes: Uint8Array): PngColour | null {
  if (!isPng(bytes)) return null;
  let [gamma, primaries, grey]: [number | null, Chromaticities | null, boolean] = [null, null, false];
  for (const { type, data } of pngChunks(bytes)) {
    const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
    if (type === 'IHDR') grey = data[9] === 0 || data[9] === 4;
    else if (type === 'iCCP' || type === 'sRGB' || type === 'cICP') return null;
    else if (type === 'gAMA' && data.length === 4 && view.getUint32(0) > 0) gamma = 100_000 / view.getUint32(0);
    else if (type === 'cHRM' && data.length === 32) {
      const at = (i: number) => [view.getUint32(i * 8) / 100_000, view.getUint32(i * 8 + 4) / 100_000] as const;
      primaries = { white: at(0), red: at(1), green: at(2), blue: at(3) };
    } else if (type === 'IDAT') break;
  }
  if (gamma !== null && Math.abs(gamma - SRGB_GAMMA) < NEAR_GAMMA) gamma = null;
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
    return Buffer.concat(withProfileChunk(bytes, { name, deflated: deflateSync(icc) }));
  } catch (error) {
    if (error instanceof RangeError) return bytes;
    throw error;
  }
}
