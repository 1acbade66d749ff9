import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import UTIF from 'utif2';
import { deltaE2000, type Lab } from '@kettle/core/colour';
import { INTENTS, type Intent, type TiffPacking } from '@kettle/core/model';
import { inkTable, inksOf, proofTables } from '../colour/colour-engine.js';
import { pressKernel } from '../colour/kernel.js';
import { checkProfile, shippedProfile } from '../colour/profiles.js';
import { tiffPieces } from '../print/formats/tiff-writer.js';

const run = promisify(execFile);
/** A small sequence of numbers that look random, the same each time. */
function sequence(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 1103515245 + 12345) % 2147483648) / 2147483648;
}

describe('the press', () => {
  let folder = '';
  let profile: Buffer;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-press-'));
    profile = await shippedProfile();
    await writeFile(join(folder, 'press.icc'), profile);
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  const DIGITS: Readonly<Record<Intent, string>> = { perceptual: '0', relative: '1', saturation: '2', absolute: '3' };
  /** Runs transicc, Debian's own Little CMS, over lines of numbers. */
  async function transicc(args: readonly string[], lines: readonly string[]): Promise<number[][]> {
    const child = run('transicc', ['-n', ...args], { maxBuffer: 1 << 24 });
    child.child.stdin!.end(`${lines.join('\n')}\n`);
    const { stdout } = await child;
    return stdout
      .split('\n')
      .map((line) => line.trim().split(/\s+/).map(Number))
      .filter((row) => row.length >= 3 && row.every(Number.isFinite));
  }

  it('brings colours to its inks as Little CMS does, by each intent, with and without black point compensation', async () => {
    const next = sequence(7);
    const patches: [number, number, number][] = [
      [0, 0, 0],
      [255, 255, 255],
      [255, 0, 0],
      [0, 255, 0],
      [0, 0, 255],
      [128, 128, 128],
      ...Array.from({ length: 120 }, (): [number, number, number] => [
        Math.floor(next() * 256),
        Math.floor(next() * 256),
        Math.floor(next() * 256),
      ]),
    ];
    const rgba = Uint8Array.from(patches.flatMap((patch) => [...patch, 255]));
    const labsOf = async (inks: readonly (readonly number[])[]): Promise<Lab[]> =>
      (
        await transicc(
          ['-i', join(folder, 'press.icc'), '-o*Lab4', '-t3'],
          inks.map((row) => row.join(' ')),
        )
      ).map(([L, a, b]) => ({ L, a, b }));
    for (const intent of INTENTS)
      for (const blackPoint of [false, true]) {
        const made = pressKernel().convert(rgba, await inkTable(profile, { intent, blackPoint }), false);
        const ours = patches.map((_, i) => [...made.subarray(i * 4, i * 4 + 4)].map((ink) => (ink / 255) * 100));
        const theirs = await transicc(
          ['-i*sRGB', '-o', join(folder, 'press.icc'), `-t${DIGITS[intent]}`, ...(blackPoint ? ['-b'] : [])],
          patches.map((patch) => patch.join(' ')),
        );
        expect(theirs.length).toBe(patches.length);
        const [one, other] = [await labsOf(ours), await labsOf(theirs)];
        const deltas = one.map((lab, i) => deltaE2000(lab, other[i]));
        expect(Math.max(...deltas))
          .withContext(`${intent}${blackPoint ? ' with black point' : ''}`)
          .toBeLessThan(1);
        if (blackPoint) {
          // Black, white and grey stay without a cast, on the paper's own white.
          const white = one[1];
          for (const i of intent === 'absolute' ? [] : [0, 5])
            expect(Math.hypot(one[i].a - white.a * (one[i].L / 100), one[i].b - white.b * (one[i].L / 100)))
              .withContext(`${intent}: ${patches[i].join()}`)
              .toBeLessThan(4);
        }
      }
  });

  it('keeps alpha apart and untouched: no ink where nothing is, the same ink however thin it lies', async () => {
    const table = await inkTable(profile, { intent: 'relative', blackPoint: true });
    const rgba = Uint8Array.from([200, 40, 30, 255, 200, 40, 30, 128, 200, 40, 30, 1, 200, 40, 30, 0]);
    const made = pressKernel().convert(rgba, table, true);
    const [full, half, least, none] = [0, 1, 2, 3].map((i) => [...made.subarray(i * 5, i * 5 + 5)]);
    expect(half).toEqual([...full.slice(0, 4), 128]);
    expect(least).toEqual([...full.slice(0, 4), 1]);
    expect(none).toEqual([0, 0, 0, 0, 0]);
  });

  it('shows a print as it will look, near what a direct transform says, and how far that is from the screen', async () => {
    const conversion = { profile: null, intent: 'relative', blackPoint: true } as const;
    const { seen } = await proofTables(profile, conversion, false);
    const patches = [
      [255, 0, 0],
      [0, 255, 0],
      [30, 60, 200],
      [128, 128, 128],
    ];
    const shown = pressKernel().convert(Uint8Array.from(patches.flatMap((patch) => [...patch, 255])), seen, false);
    // Pure green is far from what inks can do; grey is not.
    expect(shown[7]).toBeGreaterThan(100);
    expect(shown[15]).toBeLessThan(30);
    const direct = await inksOf(Uint16Array.from(patches.flat().map((value) => value * 257)), profile, conversion);
    const table = await inkTable(profile, conversion);
    const inks = pressKernel().convert(Uint8Array.from(patches.flatMap((patch) => [...patch, 255])), table, false);
    const worst = Math.max(...[...inks].map((ink, i) => Math.abs(ink - direct[i] / 257)));
    expect(worst).toBeLessThan(2.5);
  });

  it('writes TIFFs that two other readers open to the same pixels, however they are packed', async () => {
    const next = sequence(11);
    const [width, height] = [301, 203];
    // Flat parts, steps and noise: runs that fill the table of codes, and data that do not pack at all.
    const at = (x: number, y: number): number =>
      y < 60 ? 200 : y < 120 ? (x * 3 + y) & 255 : y < 160 ? Math.floor(next() * 256) : x & 8 ? 255 : 0;
    for (const mode of ['rgb', 'cmyk', 'grey'] as const)
      for (const alpha of [true, false])
        for (const packing of ['none', 'lzw', 'deflate'] as const satisfies readonly TiffPacking[]) {
          const channels = { grey: 1, rgb: 3, cmyk: 4 }[mode] + (alpha ? 1 : 0);
          const samples = Uint8Array.from({ length: width * height * channels }, (_, i) => {
            const pixel = Math.floor(i / channels);
            return (at(pixel % width, Math.floor(pixel / width)) + (i % channels) * 31) & 255;
          });
          const pieces = await tiffPieces(
            { width, height, mode, alpha, samples, dpi: 300, profile, packing },
            pressKernel(),
          );
          const bytes = Buffer.concat(pieces);
          const words = `${mode} ${alpha ? 'with alpha' : ''} ${packing}`;
          const [page] = UTIF.decode(Uint8Array.from(bytes).buffer);
          UTIF.decodeImage(Uint8Array.from(bytes).buffer, page);
          expect(Buffer.compare(Buffer.from(page.data), Buffer.from(samples)))
            .withContext(words)
            .toBe(0);
          const about = await sharp(bytes).metadata();
          expect([about.width, about.height, about.channels, about.hasAlpha, about.density])
            .withContext(words)
            .toEqual([width, height, channels, alpha, 300]);
          expect(about.icc && Buffer.compare(about.icc, profile))
            .withContext(words)
            .toBe(0);
          if (mode === 'cmyk') {
            const read = await sharp(bytes).pipelineColourspace('cmyk').toColourspace('cmyk').raw().toBuffer();
            expect(Buffer.compare(read, Buffer.from(samples)))
              .withContext(words)
              .toBe(0);
          }
        }
  });

  it('packs to the last code of every width, and long strips that begin anew', () => {
    const next = sequence(3);
    for (const length of [0, 1, 2, 253, 254, 255, 256, 511, 512, 4093, 40_000]) {
      const strip = Uint8Array.from({ length }, (_, i) => (i % 3 ? Math.floor(next() * 4) : i & 255));
      const packed = pressKernel().lzw(strip, Math.max(1, length), 1, false);
      expect(unpacked(packed).length).withContext(String(length)).toBe(length);
      expect(Buffer.compare(Buffer.from(unpacked(packed)), Buffer.from(strip)))
        .withContext(String(length))
        .toBe(0);
    }
  });

  it('refuses what is no profile of a press, each with a sentence that says what to do', async () => {
    const write = async (name: string, bytes: Buffer): Promise<string> => {
      await writeFile(join(folder, name), bytes);
      return join(folder, name);
    };
    const why = async (path: string): Promise<string> =>
      checkProfile(path).then(
        () => 'taken',
        (error: Error) => error.message,
      );
    const { icc: srgb } = await sharp(
      await sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } })
        .withIccProfile('srgb')
        .png()
        .toBuffer(),
    ).metadata();
    const changed = (change: (bytes: Buffer) => void): Buffer => {
      const bytes = Buffer.from(profile);
      change(bytes);
      return bytes;
    };
    expect(await why(join(folder, 'press.icc'))).toBe('taken');
    expect((await checkProfile(join(folder, 'press.icc'))).name.length).toBeGreaterThan(3);
    expect(await why(await write('text.icc', Buffer.from('this is no profile at all '.repeat(20))))).toContain(
      'not an ICC',
    );
    expect(await why(await write('empty.icc', Buffer.alloc(0)))).toContain('not an ICC');
    expect(await why(await write('rgb.icc', srgb!))).toContain('RGB');
    expect(
      await why(
        await write(
          'link.icc',
          changed((bytes) => bytes.write('link', 12, 'latin1')),
        ),
      ),
    ).toContain('not a press');
    expect(await why(await write('cut.icc', profile.subarray(0, 5000)))).toContain('broken');
    // The right size, and nonsense inside: tables, offsets, counts.
    expect(
      await why(
        await write(
          'noise.icc',
          changed((bytes) => bytes.fill(0xee, 400)),
        ),
      ),
    ).toContain('broken');
    expect(
      await why(
        await write(
          'tags.icc',
          changed((bytes) => bytes.writeUInt32BE(0xffffffff, 128)),
        ),
      ),
    ).toContain('broken');
    const next = sequence(5);
    for (let round = 0; round < 12; round++) {
      const torn = changed((bytes) => {
        for (let k = 0; k < 40; k++) bytes[Math.floor(132 + next() * 2000)] = Math.floor(next() * 256);
      });
      expect(await why(await write('torn.icc', torn))).toMatch(/^taken$|broken/);
    }
    // After all of that it still works.
    expect(await why(join(folder, 'press.icc'))).toBe('taken');
    expect((await readFile(join(folder, 'press.icc'))).length).toBe(profile.length);
  });
});

/** A plain reader of TIFF's LZW, written from its description (TIFF 6.0, section 13). */
function unpacked(packed: Uint8Array): number[] {
  const out: number[] = [];
  let table: number[][] = [];
  const reset = (): void => {
    table = Array.from({ length: 258 }, (_, i) => (i < 256 ? [i] : []));
  };
  let [bit, width] = [0, 9];
  const code = (): number => {
    let value = 0;
    for (let k = 0; k < width; k++, bit++) value = (value << 1) | ((packed[bit >> 3] >> (7 - (bit & 7))) & 1);
    return value;
  };
  let before: number[] | null = null;
  for (;;) {
    const next = code();
    if (next === 257) return out;
    if (next === 256) {
      reset();
      width = 9;
      before = null;
      continue;
    }
    const entry: number[] = table[next] ?? [...before!, before![0]];
    out.push(...entry);
    if (before) table.push([...before, entry[0]]);
    before = entry;
    width = table.length >= 2047 ? 12 : table.length >= 1023 ? 11 : table.length >= 511 ? 10 : 9;
  }
}
