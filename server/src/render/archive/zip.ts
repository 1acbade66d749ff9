import { createWriteStream } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { crc32, inflateRawSync } from 'node:zlib';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { ProblemError } from '../../floor/basics/problem-error.js';

/**
 * A file to be put into an archive: its content, or the path of it. Pictures and fonts are packed already and are only
 * stored.
 */
export interface ZipInput {
  readonly name: string;
  readonly content?: Buffer | string;
  readonly path?: string;
  readonly store?: boolean;
}

/** A file taken out of an archive. `problem` says why it could not be; then there is no path. */
export interface ZipOutput {
  readonly name: string;
  readonly path: string | null;
  readonly problem: string | null;
}

export interface Unpacked {
  readonly files: readonly ZipOutput[];
  /** True when the archive's own list was unusable and its parts were looked for one by one. */ readonly salvaged: boolean;
}

/** Most files, and most bytes, an archive may unpack to. */
const MOST_FILES = 2000;
const MOST_BYTES = 1024 * 1024 * 1024;
const MOST_BYTES_EACH = 256 * 1024 * 1024;
/** All files carry the same time, so that the same design gives the same bytes. */
const TIME = new Date(2026, 0, 1);

/**
 * Writes an archive. Sizes and checksums stand before each file, so that a cut archive can still be read from its
 * front.
 */
export async function writeZip(out: string, inputs: readonly ZipInput[]): Promise<void> {
  const zip = new yazl.ZipFile();
  for (const { name, content, path, store } of inputs)
    zip.addBuffer(content === undefined ? await readFile(path!) : Buffer.from(content), name, {
      compress: !store,
      mtime: TIME,
      mode: 0o100644,
    });
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(out));
}

const bomb = (): ProblemError =>
  new ProblemError(413, 'too-many-bytes', 'This file unpacks to far more than a design needs, so it was not opened.');
const climbing = (): ProblemError =>
  new ProblemError(422, 'climbing-name', 'This file holds names that lead out of its own folder. It was not opened.');

/**
 * Unpacks an archive into a folder, each file under a number of its own: no name out of the archive ever becomes a
 * path.
 * @throws ProblemError for bombs, climbing names, or when nothing can be read
 */
export async function unpackZip(path: string, folder: string): Promise<Unpacked> {
  const bytes = await readFile(path);
  try {
    return { files: await byDirectory(bytes, folder), salvaged: false };
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    if (/invalid relative path|absolute path|invalid characters in fileName/i.test(String(error))) throw climbing();
    const files = await bySearch(bytes, folder);
    if (!files.length)
      throw new ProblemError(
        422,
        'damaged-archive',
        'This file is damaged: it is no ZIP archive, or nothing in it can be read.',
      );
    return { files, salvaged: true };
  }
}

/** Reads what the archive's own list names. */
async function byDirectory(bytes: Buffer, folder: string): Promise<ZipOutput[]> {
  const archive = await new Promise<yauzl.ZipFile>((resolve, reject) => {
    yauzl.fromBuffer(bytes, { lazyEntries: true, strictFileNames: true, validateEntrySizes: true }, (error, zip) => {
      if (error) reject(error);
      else resolve(zip);
    });
  });
  const entries = await new Promise<yauzl.Entry[]>((resolve, reject) => {
    const found: yauzl.Entry[] = [];
    archive.on('entry', (entry: yauzl.Entry) => {
      found.push(entry);
      if (found.length > MOST_FILES) reject(bomb());
      else archive.readEntry();
    });
    archive.on('end', () => resolve(found));
    archive.on('error', reject);
    archive.readEntry();
  });
  if (
    entries.reduce((sum, entry) => sum + entry.uncompressedSize, 0) > MOST_BYTES ||
    entries.some((entry) => entry.uncompressedSize > MOST_BYTES_EACH)
  )
    throw bomb();
  const files: ZipOutput[] = [];
  for (const entry of entries) {
    if (entry.fileName.endsWith('/')) continue;
    const content = await contentOf(archive, entry).catch(() => null);
    const whole = content && crc32(content) === entry.crc32;
    files.push(await keep(folder, files.length, entry.fileName, whole ? content : null));
  }
  return files;
}

function contentOf(archive: yauzl.ZipFile, entry: yauzl.Entry): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    archive.openReadStream(entry, (error, stream) => {
      if (error) {
        reject(error);
        return;
      }
      const pieces: Buffer[] = [];
      stream.on('data', (piece: Buffer) => pieces.push(piece));
      stream.on('end', () => resolve(Buffer.concat(pieces)));
      stream.on('error', reject);
    });
  });
}

async function keep(folder: string, number: number, name: string, content: Buffer | null): Promise<ZipOutput> {
  if (!content) return { name, path: null, problem: 'It is damaged in the file.' };
  const path = join(folder, String(number));
  await writeFile(path, content);
  return { name, path, problem: null };
}

const LOCAL_HEADER = 0x04034b50;

/** Looks for the parts of a cut or damaged archive by their own headers (APPNOTE 6.3.9, 4.3.7). */
async function bySearch(bytes: Buffer, folder: string): Promise<ZipOutput[]> {
  const files: ZipOutput[] = [];
  let [total, at] = [0, 0];
  const mark = Buffer.from([0x50, 0x4b, 0x03, 0x04]);
  while ((at = bytes.indexOf(mark, at)) >= 0 && at + 30 <= bytes.length && files.length < MOST_FILES) {
    if (bytes.readUInt32LE(at) !== LOCAL_HEADER) break;
    const [method, crc, packed, length, nameLength, extraLength] = [
      bytes.readUInt16LE(at + 8),
      bytes.readUInt32LE(at + 14),
      bytes.readUInt32LE(at + 18),
      bytes.readUInt32LE(at + 22),
      bytes.readUInt16LE(at + 26),
      bytes.readUInt16LE(at + 28),
    ];
    const begin = at + 30 + nameLength + extraLength;
    const name = bytes.toString('utf8', at + 30, Math.min(bytes.length, at + 30 + nameLength));
    if (name.split(/[\\/]/).includes('..') || /^[\\/]|^[a-z]:/i.test(name)) throw climbing();
    const known = packed > 0 || length > 0;
    let content: Buffer | null = null;
    try {
      if (method === 8)
        content = inflateRawSync(known ? bytes.subarray(begin, begin + packed) : bytes.subarray(begin), {
          maxOutputLength: Math.min(MOST_BYTES_EACH, MOST_BYTES - total),
        });
      else if (method === 0 && known && begin + packed <= bytes.length) content = bytes.subarray(begin, begin + packed);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') throw bomb();
    }
    if (content && known && crc32(content) !== crc) content = null;
    total += content?.length ?? 0;
    if (name && !name.endsWith('/')) files.push(await keep(folder, files.length, name, content));
    at = content && known ? begin + packed : begin;
  }
  return files.some((file) => file.path) ? files : [];
}
