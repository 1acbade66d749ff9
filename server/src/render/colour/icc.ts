import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import type { PngProfile } from '@kettle/core/raster';
import { greyProfile } from './icc-profile.js';

/**
 * Description of an ICC profile: the `desc` tag, as text (version 2) or multi-localised Unicode (version 4).
 * Source: ICC.1:2022, 7.3 and 10.15.
 */
export function profileName(icc: Buffer): string {
  try {
    const count = icc.readUInt32BE(128);
    for (let i = 0; i < Math.min(count, 100); i++) {
      const entry = 132 + i * 12;
      if (icc.toString('latin1', entry, entry + 4) !== 'desc') continue;
      const at = icc.readUInt32BE(entry + 4);
      if (icc.toString('latin1', at, at + 4) === 'mluc') {
        const length = icc.readUInt32BE(at + 20);
        const start = at + icc.readUInt32BE(at + 24);
        return Buffer.from(icc.subarray(start, start + length))
          .swap16()
          .toString('utf16le')
          .trim();
      }
      return icc.toString('latin1', at + 12, at + 12 + icc.readUInt32BE(at + 8) - 1).trim();
    }
  } catch {
    return 'an unreadable profile';
  }
  return 'an unnamed profile';
}

const GREY = 'Grey with the sRGB tone curve';
const made = new Map<string, Promise<Buffer>>();

/** The profile of a file of ours in RGB or grey: sRGB, or grey with its tone curve. */
export function plainProfile(mode: 'rgb' | 'grey'): Promise<Buffer> {
  let profile = made.get(mode);
  if (!profile) {
    profile = (async () => {
      if (mode === 'grey') return greyProfile(GREY);
      const { icc } = await sharp(
        await sharp({ create: { width: 1, height: 1, channels: 3, background: '#000' } })
          .withIccProfile('srgb')
          .png()
          .toBuffer(),
      ).metadata();
      if (!icc) throw new Error('The colour profile could not be made.');
      return icc;
    })();
    made.set(mode, profile);
  }
  return profile;
}

/**
 * The profile of a PNG of ours, ready for its iCCP chunk. A grey PNG must carry a grey one (PNG specification, third
 * edition, 11.3.2.3).
 */
export const pngProfile = async (mode: 'rgb' | 'grey'): Promise<PngProfile> => ({
  name: mode === 'grey' ? GREY : 'sRGB',
  deflated: deflateSync(await plainProfile(mode), { level: 9 }),
});
