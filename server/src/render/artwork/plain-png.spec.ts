import { withPrintChunks } from '@kettle/core/raster';
import sharp from 'sharp';
import { pngProfile } from '../colour/icc.js';
import { readPlainPng } from './plain-png.js';
import { decodeRaster } from './source.js';

describe('plain artwork', () => {
  const noise = sharp({
    create: {
      width: 83,
      height: 59,
      channels: 4,
      background: { r: 200, g: 90, b: 30, alpha: 0.4 },
      noise: { type: 'gaussian', mean: 128, sigma: 60 },
    },
  });
  // Made once: its noise is another each time.
  let made: Promise<Buffer> | null = null;
  const art = (): Promise<Buffer> => (made ??= noise.clone().png().toBuffer());
  const chunk = (bytes: Buffer, type: string): Buffer => {
    // A chunk with no content and any checksum, after the header: readers here pass over checksums of what they skip.
    const own = Buffer.concat([Buffer.alloc(4), Buffer.from(type, 'latin1'), Buffer.alloc(4)]);
    return Buffer.concat([bytes.subarray(0, 33), own, bytes.subarray(33)]);
  };

  it('is read to the very pixels that the library reads', async () => {
    for (const bytes of [await art(), chunk(await art(), 'sRGB')]) {
      const [plain, known] = [await readPlainPng(bytes), await decodeRaster(await art())];
      expect([plain!.width, plain!.height]).toEqual([83, 59]);
      expect(Buffer.compare(Buffer.from(plain!.data), Buffer.from(known.data))).toBe(0);
    }
  });

  it('is left to the library when it says anything of its colours, or is not 8-bit RGBA', async () => {
    const other: Record<string, Buffer> = {
      profile: Buffer.concat(withPrintChunks(await art(), 11811, await pngProfile('rgb'))),
      gamma: chunk(await art(), 'gAMA'),
      turned: chunk(await art(), 'eXIf'),
      deep: await noise.clone().toColourspace('rgb16').png().toBuffer(),
      opaque: await noise.clone().removeAlpha().png().toBuffer(),
      interlaced: await noise.clone().png({ progressive: true }).toBuffer(),
      jpeg: await noise.clone().jpeg().toBuffer(),
      torn: (await art()).subarray(0, 900),
      nothing: Buffer.alloc(0),
    };
    for (const [name, bytes] of Object.entries(other))
      expect(await readPlainPng(bytes))
        .withContext(name)
        .toBeNull();
  });
});
