import { deflateSync } from 'node:zlib';
import sharp from 'sharp';

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
        return Buffer.from(icc.subarray(start, start + length)).swap16().toString('utf16le').trim();
      }
      return icc.toString('latin1', at + 12, at + 12 + icc.readUInt32BE(at + 8) - 1).trim();
    }
  } catch {
    return 'an unreadable profile';
  }
  return 'an unnamed profile';
}

const made = new Map<string, Promise<{ name: string; deflated: Buffer }>>();

/** The built-in profile for a PNG, ready for its iCCP chunk. */
export function pngProfile(kind: 'rgb' | 'grey'): Promise<{ name: string; deflated: Buffer }> {
  let profile = made.get(kind);
  if (!profile) {
    profile = (async () => {
      const tiny = sharp({ create: { width: 1, height: 1, channels: 3, background: '#000' } });
      const png = kind === 'rgb' ? tiny.withIccProfile('srgb') : tiny.toColourspace('b-w').withIccProfile('srgb');
      const { icc } = await sharp(await png.png().toBuffer()).metadata();
      if (!icc) throw new Error('The colour profile could not be made.');
      return { name: kind === 'rgb' ? 'sRGB' : 'Grey, sRGB tone curve', deflated: deflateSync(icc, { level: 9 }) };
    })();
    made.set(kind, profile);
  }
  return profile;
}
