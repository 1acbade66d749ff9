import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import sharp from 'sharp';
import { SELLER } from '../../floor/basics/caller.js';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { HEIC_PHOTO } from '../../testing/heic-photo.js';
import { testServer } from '../../testing/test-house.js';
import { heicToPng, isHeic } from './heic.js';
import { decodeRaster } from './source.js';

/** Loss of the photo’s coding on flat fields, levels. */
const LOSS = 6;
const QUARTERS = [
  [0.25, 0.25, 0xc8, 0x28, 0x28],
  [0.75, 0.25, 0x28, 0xa0, 0x3c],
  [0.25, 0.75, 0x28, 0x3c, 0xb4],
  [0.75, 0.75, 0xe6, 0xdc, 0xc8],
] as const;

describe('an HEIC photo', () => {
  let folder = '';
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-heic-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  const expectQuarters = async (png: Buffer) => {
    const { width, height, data } = await decodeRaster(png);
    expect([width, height]).toEqual([128, 96]);
    for (const [x, y, ...rgb] of QUARTERS) {
      const at = (Math.round(y * height) * width + Math.round(x * width)) * 4;
      rgb.forEach((value, k) => expect(Math.abs(data[at + k] - value)).toBeLessThanOrEqual(LOSS));
      expect(data[at + 3]).toBe(255);
    }
  };

  it('is told by its first box, and not taken for its kin', async () => {
    expect(isHeic(HEIC_PHOTO)).toBeTrue();
    const avif = await sharp({ create: { width: 32, height: 32, channels: 3, background: '#888' } })
      .avif()
      .toBuffer();
    expect(isHeic(avif)).toBeFalse();
    expect(isHeic(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'))).toBeFalse();
    expect(isHeic(HEIC_PHOTO.subarray(0, 12))).toBeFalse();
    expect(isHeic(Buffer.alloc(0))).toBeFalse();
  });

  it('becomes a PNG of the same colours, with its profile', async () => {
    const [from, out] = [join(folder, 'a.heic'), join(folder, 'a.png')];
    await writeFile(from, HEIC_PHOTO);
    await heicToPng(from, out);
    const png = await readFile(out);
    const { icc, hasAlpha, format } = await sharp(png).metadata();
    expect([format, hasAlpha]).toEqual(['png', false]);
    expect(icc?.length).toBeGreaterThan(128);
    await expectQuarters(png);
  });

  it('is refused in a sentence when it is cut off or scrambled', async () => {
    const [from, out] = [join(folder, 'b.heic'), join(folder, 'b.png')];
    const scrambled = Buffer.from(HEIC_PHOTO);
    scrambled.fill(0xa5, 40, 900);
    for (const bytes of [HEIC_PHOTO.subarray(0, 400), scrambled, HEIC_PHOTO.subarray(0, 60)]) {
      await writeFile(from, bytes);
      await expectAsync(heicToPng(from, out)).toBeRejectedWithError(ProblemError, /Export it as JPEG/);
    }
  });

  it('is taken in like any picture, and it is said what became of it', async () => {
    const server = await testServer();
    const { house } = server;
    const asset = await house.assets.takeIn(SELLER, Readable.from([HEIC_PHOTO]), 'IMG 2041.HEIC');
    expect([asset.filename, asset.format, asset.width, asset.height]).toEqual(['IMG 2041.png', 'PNG', 128, 96]);
    expect(asset.conversions[0]).toContain('Kept as PNG');
    expect(asset.conversions[1]).toMatch(/Converted from .*P3/i);
    const { path } = await house.assets.content(SELLER, asset.id);
    await expectQuarters(await readFile(path));
    await expectAsync(
      house.assets.takeIn(SELLER, Readable.from([HEIC_PHOTO.subarray(0, 500)]), 'IMG 2042.HEIC'),
    ).toBeRejectedWithError(ProblemError, /broken/);
    await server.stop();
  });
});
