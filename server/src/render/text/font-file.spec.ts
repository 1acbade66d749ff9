import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import wawoff2 from 'wawoff2';
import { FAMILIES, shippedFiles } from './font-catalogue.js';
import { RenderPool } from '../render-pool.js';
import { unpackFont } from './font-file.js';

describe('a seller’s own font', () => {
  let pool: RenderPool;
  let folder: string;
  let woff2: Buffer;
  let ttf: Buffer;
  beforeAll(async () => {
    pool = new RenderPool(1);
    folder = await mkdtemp(join(tmpdir(), 'fonts-'));
    woff2 = await readFile(shippedFiles('anton-latin-400')![0]);
    ttf = Buffer.from(await wawoff2.decompress(woff2));
  });
  afterAll(async () => {
    pool.close();
    await rm(folder, { recursive: true });
  });

  const check = async (bytes: Buffer) => {
    const path = join(folder, 'font');
    await writeFile(path, bytes);
    return pool.run('checkFont', { path });
  };
  const table = (font: Buffer, tag: string) => {
    for (let i = 0; i < font.readUInt16BE(4); i++)
      if (font.toString('latin1', 12 + i * 16, 16 + i * 16) === tag)
        return { entry: 12 + i * 16, offset: font.readUInt32BE(20 + i * 16), length: font.readUInt32BE(24 + i * 16) };
    throw new Error(`no table ${tag}`);
  };

  it('is taken as TTF, WOFF and WOFF2, with its name, weight and scripts', async () => {
    const facts = { family: 'Anton', weight: 400, scripts: ['Latin'] };
    for (const bytes of [ttf, woff2, asWoff(ttf)]) expect(await check(bytes)).toEqual(jasmine.objectContaining(facts));
  });

  it('is the same whether it is unpacked alone or many are at once', async () => {
    const packed = await Promise.all(FAMILIES.slice(0, 8).map(({ start }) => readFile(shippedFiles(start)![0])));
    const alone: Buffer[] = [];
    for (const bytes of packed) alone.push(Buffer.from(await wawoff2.decompress(bytes)));
    const together = await Promise.all(packed.map(unpackFont));
    expect(together.map((bytes, i) => alone[i].equals(bytes))).toEqual(packed.map(() => true));
  });

  it('may be as large as the fonts for all of Japanese, and is still read in time', async () => {
    const japanese = Buffer.from(await wawoff2.decompress(await readFile(shippedFiles('yuji-syuku-japanese-400')![0])));
    const large = Buffer.concat([japanese, Buffer.alloc(Math.max(0, 30_000_000 - japanese.length))]);
    expect(await check(large)).toEqual(
      jasmine.objectContaining({
        scripts: jasmine.arrayContaining(['Japanese']) as never,
        letters: jasmine.any(Number) as never,
      }),
    );
  });

  it('is refused with a sentence when it is no font, or a damaged one', async () => {
    const cases: [Buffer, RegExp][] = [
      [Buffer.from('GIF89a and so on and on'), /not a font/],
      [Buffer.alloc(3), /damaged/],
      [ttf.subarray(0, 300), /cut off/],
      [ttf.subarray(0, ttf.length - 2000), /cut off/],
      [woff2.subarray(0, 4000), /damaged/],
      [asWoff(ttf).subarray(0, 9000), /cut off/],
      [Buffer.concat([Buffer.from('ttcf'), Buffer.alloc(40)]), /collection/],
    ];
    for (const [bytes, words] of cases)
      await expectAsync(check(bytes)).withContext(String(words)).toBeRejectedWithError(words);
  });

  it('is refused when a table does not match its checksum, for its letters would be wrong without a word', async () => {
    for (const tag of ['glyf', 'cmap', 'hmtx']) {
      const spoilt = Buffer.from(ttf);
      const { offset, length } = table(spoilt, tag);
      spoilt[offset + Math.floor(length / 2)] ^= 0x41;
      await expectAsync(check(spoilt))
        .withContext(tag)
        .toBeRejectedWithError(new RegExp(`“${tag}” does not match its checksum`));
    }
    const woff = asWoff(ttf);
    expect(await check(woff)).toBeDefined();
  });

  it('of those that are shipped, every one passes', async () => {
    for (const { start, name } of FAMILIES)
      await expectAsync(check(await readFile(shippedFiles(start)![0])))
        .withContext(name)
        .toBeResolved();
  });

  it('is refused when its letters reach out of the box it says holds them all, which is all that WOFF2 can tell', async () => {
    const spoilt = Buffer.from(ttf);
    const head = table(spoilt, 'head');
    // A box half as high as the letters, and the checksum that goes with it.
    spoilt.writeInt16BE(Math.round(spoilt.readInt16BE(head.offset + 42) / 2), head.offset + 42);
    let sum = 0;
    for (let at = 0; at < head.length - (head.length % 4); at += 4)
      if (at !== 8) sum = (sum + spoilt.readUInt32BE(head.offset + at)) >>> 0;
    const rest = Buffer.alloc(4);
    spoilt.copy(rest, 0, head.offset + head.length - (head.length % 4), head.offset + head.length);
    spoilt.writeUInt32BE((sum + (head.length % 4 ? rest.readUInt32BE(0) : 0)) >>> 0, head.entry + 4);
    await expectAsync(check(spoilt)).toBeRejectedWithError(/reach out of the box/);
  });

  it('is refused when it says it unpacks to more than a font can be', async () => {
    const bomb = Buffer.from(woff2);
    bomb.writeUInt32BE(3_000_000_000, 16);
    await expectAsync(check(bomb)).toBeRejectedWithError(/64 MB/);
    const packed = deflateSync(Buffer.alloc(50_000_000));
    const woff = Buffer.alloc(64);
    woff.write('wOFF', 0, 'latin1');
    woff.writeUInt16BE(1, 12);
    woff.write('glyf', 44, 'latin1');
    [64, packed.length, 400_000_000].forEach((value, i) => woff.writeUInt32BE(value, 48 + i * 4));
    await expectAsync(check(Buffer.concat([woff, packed]))).toBeRejectedWithError(/64 MB/);
  });

  it('never hangs on composites that lead in a circle, on a glyph count that is a lie, or on random damage', async () => {
    const circle = Buffer.from(ttf);
    const [loca, glyf, head] = [table(circle, 'loca'), table(circle, 'glyf'), table(circle, 'head')];
    const long = circle.readUInt16BE(head.offset + 50) === 1;
    // Each glyph becomes a composite of itself and of its neighbour.
    for (let glyph = 1; glyph + 1 < loca.length / (long ? 4 : 2); glyph++) {
      const at = (i: number) =>
        long ? circle.readUInt32BE(loca.offset + i * 4) : circle.readUInt16BE(loca.offset + i * 2) * 2;
      const [from, to] = [glyf.offset + at(glyph), glyf.offset + at(glyph + 1)];
      if (to - from < 26) continue;
      circle.writeInt16BE(-1, from);
      [0x0020, glyph, 0, 0x0000, glyph + 1, 0].forEach((value, i) => circle.writeUInt16BE(value, from + 10 + i * 2));
    }
    const many = Buffer.from(ttf);
    many.writeUInt16BE(65535, table(many, 'maxp').offset + 4);
    let seed = 7;
    const random = (below: number) => {
      seed = (seed * 1103515245 + 12345) % 2147483648;
      return seed % below;
    };
    const damaged = Array.from({ length: 12 }, () => {
      const copy = Buffer.from(ttf);
      for (let i = 0; i < 200; i++) copy[400 + random(copy.length - 400)] = random(256);
      return copy;
    });
    for (const bytes of [circle, many, ...damaged]) {
      // Taken or refused: either is an answer, and the same process gives the next one.
      await check(bytes).catch((error: Error) => expect(error.message).toMatch(/font/i));
    }
    expect((await check(ttf)).family).toBe('Anton');
  });
});

/** The same font packed table by table (WOFF 1.0). */
function asWoff(ttf: Buffer): Buffer {
  const count = ttf.readUInt16BE(4);
  const entries = Array.from({ length: count }, (_, i) => {
    const at = 12 + i * 16;
    return {
      tag: ttf.subarray(at, at + 4),
      sum: ttf.readUInt32BE(at + 4),
      data: ttf.subarray(ttf.readUInt32BE(at + 8), ttf.readUInt32BE(at + 8) + ttf.readUInt32BE(at + 12)),
    };
  });
  const head = Buffer.alloc(44 + count * 20);
  head.write('wOFF', 0, 'latin1');
  ttf.copy(head, 4, 0, 4);
  head.writeUInt16BE(count, 12);
  const parts: Buffer[] = [head];
  let end = head.length;
  entries.forEach(({ tag, sum, data }, i) => {
    const packed = deflateSync(data);
    const kept = packed.length < data.length ? packed : data;
    tag.copy(head, 44 + i * 20);
    [end, kept.length, data.length, sum].forEach((value, k) => head.writeUInt32BE(value, 48 + i * 20 + k * 4));
    const padded = Buffer.alloc(Math.ceil(kept.length / 4) * 4);
    kept.copy(padded);
    parts.push(padded);
    end += padded.length;
  });
  return Buffer.concat(parts);
}
