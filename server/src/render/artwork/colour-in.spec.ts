import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import { deltaE2000, labOf } from '@kettle/core/colour';
import { crc32 as crc, withProfileChunk } from '@kettle/core/raster';
import { encode } from 'fast-png';
import sharp from 'sharp';
import { testTiff } from '../../testing/tiff-writer.js';
import { greyProfile, rgbProfile, SRGB_PRIMARIES } from '../colour/icc-profile.js';
import { asWritten, decodeRaster } from './source.js';

const WIDE = rgbProfile(
  'Wide',
  { white: [0.3457, 0.3585], red: [0.7347, 0.2653], green: [0.1596, 0.8404], blue: [0.0366, 0.0001] },
  1.8,
);
const COLOURS = [
  [255, 0, 0],
  [200, 30, 90],
  [20, 120, 60],
  [40, 60, 200],
  [230, 210, 40],
  [128, 128, 128],
  [0, 0, 0],
  [255, 255, 255],
];
const GREYS = [[0], [30], [90], [128], [200], [255]];
const INKS = [
  [0, 255, 255, 0],
  [255, 60, 0, 0],
  [0, 0, 0, 180],
  [120, 20, 200, 30],
  [0, 0, 0, 0],
];

describe('colours that come in', () => {
  let folder = '';
  const profiles: Record<string, Buffer> = {};
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-colour-'));
    for (const name of ['srgb', 'p3', 'cmyk'] as const)
      profiles[name] = (
        await sharp(
          await sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } })
            .withIccProfile(name)
            .jpeg()
            .toBuffer(),
        ).metadata()
      ).icc!;
    Object.assign(profiles, { wide: WIDE, grey: greyProfile('Grey', 1.8) });
    for (const [name, icc] of Object.entries(profiles)) await writeFile(join(folder, `${name}.icc`), icc);
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  /** What Little CMS makes of the numbers, 0 to 255. Its CMYK is in percent. */
  function reference(profile: string, rows: readonly number[][]): number[][] {
    const percent = profile === 'cmyk' ? 100 / 255 : 1;
    const out = execFileSync('transicc', ['-n', '-s', '-t0', '-i', join(folder, `${profile}.icc`), '-o', '*sRGB'], {
      input: `${rows.map((row) => row.map((value) => value * percent).join(' ')).join('\n')}\n`,
      encoding: 'utf8',
      stdio: ['pipe', 'pipe', 'ignore'],
    });
    return out
      .trim()
      .split('\n')
      .map((line) =>
        line
          .trim()
          .split(/\s+/)
          .map((value) => Math.round(Number(value))),
      );
  }

  const withIcc = (png: Uint8Array, icc: Buffer): Buffer =>
    Buffer.concat(withProfileChunk(png, { name: 'p', deflated: deflateSync(icc) }));
  const numbers = (rows: readonly number[][], depth: number) => {
    const flat = rows.flat();
    return depth === 8 ? Uint8Array.from(flat) : Uint16Array.from(flat, (value) => value * 257);
  };

  async function compare(
    what: string,
    bytes: Buffer,
    profile: string,
    rows: readonly number[][],
    mostDeltaE = 1.2,
  ): Promise<void> {
    const { data } = await decodeRaster(bytes);
    const wanted = reference(profile, rows);
    for (let i = 0; i < rows.length; i++) {
      const [r, g, b] = data.subarray(i * 4, i * 4 + 3);
      const [wr, wg, wb] = wanted[i];
      expect(deltaE2000(labOf({ r, g, b }), labOf({ r: wr, g: wg, b: wb })))
        .withContext(`${what}: ${rows[i]} became ${[r, g, b]}, Little CMS says ${wanted[i]}`)
        .toBeLessThan(mostDeltaE);
    }
  }

  for (const depth of [8, 16] as const) {
    for (const profile of ['srgb', 'p3', 'wide']) {
      it(`are those of Little CMS: ${depth}-bit RGB with the ${profile} profile, PNG and TIFF, with alpha and without`, async () => {
        const icc = profiles[profile];
        const opaque = numbers(COLOURS, depth);
        const clear = numbers(
          COLOURS.map((row) => [...row, 255]),
          depth,
        );
        const size = { width: COLOURS.length, height: 1 };
        await compare('PNG', withIcc(encode({ ...size, channels: 3, depth, data: opaque }), icc), profile, COLOURS);
        await compare(
          'PNG with alpha',
          withIcc(encode({ ...size, channels: 4, depth, data: clear }), icc),
          profile,
          COLOURS,
        );
        await compare('TIFF', testTiff({ ...size, samples: 3, photometric: 2, data: opaque, icc }), profile, COLOURS);
        await compare(
          'TIFF with alpha',
          testTiff({ ...size, samples: 4, extra: 2, photometric: 2, data: clear, icc }),
          profile,
          COLOURS,
        );
      });
    }

    it(`are those of Little CMS: ${depth}-bit grey and CMYK with their profiles`, async () => {
      await compare(
        'grey PNG',
        withIcc(
          encode({ width: GREYS.length, height: 1, channels: 1, depth, data: numbers(GREYS, depth) }),
          profiles['grey'],
        ),
        'grey',
        GREYS,
      );
      await compare(
        'grey TIFF',
        testTiff({
          width: GREYS.length,
          height: 1,
          samples: 1,
          photometric: 1,
          data: numbers(GREYS, depth),
          icc: profiles['grey'],
        }),
        'grey',
        GREYS,
      );
      // Little CMS itself differs by this much between its 8-bit tables, which the decoder uses, and its floats.
      await compare(
        'CMYK TIFF',
        testTiff({
          width: INKS.length,
          height: 1,
          samples: 4,
          photometric: 5,
          data: numbers(INKS, depth),
          icc: profiles['cmyk'],
        }),
        'cmyk',
        INKS,
        3,
      );
    });
  }

  it('of a PNG whose cICP names them are those of the space it names, whatever a profile beside it says', async () => {
    const plain = Buffer.from(
      encode({ width: COLOURS.length, height: 1, channels: 3, depth: 8, data: numbers(COLOURS, 8) }),
    );
    const cicp = (...values: number[]): Buffer => {
      const body = Buffer.from([...Buffer.from('cICP'), ...values]);
      const [length, tail] = [Buffer.alloc(4), Buffer.alloc(4)];
      length.writeUInt32BE(values.length);
      tail.writeUInt32BE(crc(body));
      return Buffer.concat([plain.subarray(0, 33), length, body, tail, plain.subarray(33)]);
    };
    await compare('Display P3', cicp(12, 13, 0, 1), 'p3', COLOURS);
    await compare('Display P3 beside a wide profile', withIcc(cicp(12, 13, 0, 1), WIDE), 'p3', COLOURS);
    await writeFile(join(folder, 'linear.icc'), rgbProfile('Linear', SRGB_PRIMARIES, 1));
    await compare('linear light', cicp(1, 8, 0, 1), 'linear', COLOURS);
    // sRGB itself, and what is no picture's RGB, stay as they are.
    for (const values of [
      [1, 13, 0, 1],
      [12, 13, 1, 1],
      [12, 16, 0, 1],
      [77, 13, 0, 1],
    ]) {
      const { data } = await decodeRaster(cicp(...values));
      expect(COLOURS.map((_, i) => [...data.subarray(i * 4, i * 4 + 3)])).toEqual(COLOURS);
    }
  });

  it('are the same to the second drawing, which a file is judged by', async () => {
    const seen = async (bytes: Buffer): Promise<number[][]> => {
      const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
      return Array.from({ length: info.width }, (_, i) => [...data.subarray(i * 4, i * 4 + 3)]);
    };
    for (const depth of [8, 16] as const)
      for (const profile of ['none', 'srgb', 'p3', 'wide', 'grey', 'cmyk'])
        for (const kind of ['png', 'tiff'] as const) {
          const isGrey = profile === 'grey';
          if (profile === 'cmyk' && kind === 'png') continue;
          const rows = isGrey ? GREYS : profile === 'cmyk' ? INKS : COLOURS;
          const channels = rows[0].length;
          const size = { width: rows.length, height: 1 };
          const icc = profile === 'none' ? undefined : profiles[profile];
          const data = numbers(rows, depth);
          const png = kind === 'png' && encode({ ...size, channels: channels as 1 | 3, depth, data });
          const bytes = png
            ? icc
              ? withIcc(png, icc)
              : Buffer.from(png)
            : testTiff({ ...size, samples: channels, photometric: isGrey ? 1 : channels === 4 ? 5 : 2, data, icc });
          const path = join(folder, 'second');
          await writeFile(path, bytes);
          const first = await decodeRaster(bytes);
          const again = await seen(
            (await asWritten(path, { left: 0, top: 0, right: 1, bottom: 1 }, rows.length, 1)).png,
          );
          rows.forEach((row, i) =>
            again[i].forEach((value, k) =>
              expect(Math.abs(value - first.data[i * 4 + k]))
                .withContext(`${depth} bit ${profile} ${kind}: ${row.join()}`)
                .toBeLessThanOrEqual(3),
            ),
          );
        }
  });

  it('without a profile are sRGB at any depth', async () => {
    for (const depth of [8, 16] as const) {
      const { data } = await decodeRaster(
        Buffer.from(encode({ width: COLOURS.length, height: 1, channels: 3, depth, data: numbers(COLOURS, depth) })),
      );
      expect(COLOURS.map((_, i) => [...data.subarray(i * 4, i * 4 + 3)])).toEqual(COLOURS);
    }
  });

  it('of a PNG that only says its gamma and primaries are those of a profile that says the same', async () => {
    const chunk = (type: string, values: number[]) => {
      const body = Buffer.alloc(4 + values.length * 4);
      body.write(type, 0, 'latin1');
      values.forEach((value, i) => body.writeUInt32BE(value, 4 + i * 4));
      const head = Buffer.alloc(4);
      head.writeUInt32BE(values.length * 4);
      const tail = Buffer.alloc(4);
      tail.writeUInt32BE(crc(body));
      return Buffer.concat([head, body, tail]);
    };
    const plain = Buffer.from(
      encode({ width: COLOURS.length, height: 1, channels: 3, depth: 8, data: numbers(COLOURS, 8) }),
    );
    const saying = (...chunks: Buffer[]) => Buffer.concat([plain.subarray(0, 33), ...chunks, plain.subarray(33)]);
    await writeFile(join(folder, 'linear.icc'), rgbProfile('Linear', SRGB_PRIMARIES, 1));
    await compare('gamma 1', saying(chunk('gAMA', [100_000])), 'linear', COLOURS);
    await compare(
      'wide',
      saying(chunk('gAMA', [55_556]), chunk('cHRM', [34_570, 35_850, 73_470, 26_530, 15_960, 84_040, 3660, 10])),
      'wide',
      COLOURS,
    );
    // What every browser takes as sRGB stays untouched, and so does nonsense.
    for (const same of [
      chunk('gAMA', [45_455]),
      chunk('gAMA', [0]),
      chunk('cHRM', [31_270, 32_900, 64_000, 33_000, 30_000, 60_000, 15_000, 6000]),
      chunk('cHRM', [0, 0, 0, 0, 0, 0, 0, 0]),
    ]) {
      const { data } = await decodeRaster(saying(same));
      expect(COLOURS.map((_, i) => [...data.subarray(i * 4, i * 4 + 3)])).toEqual(COLOURS);
    }
  });
});
