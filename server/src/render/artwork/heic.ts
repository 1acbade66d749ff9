import { readFile, writeFile } from 'node:fs/promises';
import { deflateSync } from 'node:zlib';
import { MAX_PIXELS } from '@kettle/core/geometry';
import { withProfileChunk } from '@kettle/core/raster';
import sharp from 'sharp';
import { ProblemError } from '../../floor/basics/problem-error.js';

/** Marks of files whose pictures are coded with HEVC (ISO/IEC 23008-12, annex B). */
const BRANDS = new Set(['heic', 'heix', 'heim', 'heis', 'hevc', 'hevx']);
/** Bytes at the start of a file that tell. */
export const HEIC_HEAD = 64;

const fourLetters = (bytes: Buffer, at: number): string => bytes.toString('latin1', at, at + 4);

/** True for the start of an HEIC file: the marks it goes by stand in its first box. */
export function isHeic(head: Buffer): boolean {
  if (head.length < 16 || fourLetters(head, 4) !== 'ftyp') return false;
  const end = Math.min(head.length, head.readUInt32BE(0));
  for (let at = 8; at + 4 <= end; at += 4) if (at !== 12 && BRANDS.has(fourLetters(head, at))) return true;
  return false;
}

/** The colour profile of its first picture that has one (ISO/IEC 14496-12, the box `colr` of kind `prof`). */
function profileIn(bytes: Buffer): Buffer | null {
  const at = bytes.indexOf('colrprof', 0, 'latin1');
  if (at < 4) return null;
  const end = at - 4 + bytes.readUInt32BE(at - 4);
  const icc = end <= bytes.length ? bytes.subarray(at + 8, end) : null;
  return icc && icc.length > 128 && fourLetters(icc, 36) === 'acsp' ? icc : null;
}

/**
 * Writes the first picture of an HEIC file as a PNG of the same pixels and colour profile.
 * @throws ProblemError with a sentence when it cannot be read or is too large
 */
export async function heicToPng(path: string, out: string): Promise<void> {
  const bytes = await readFile(path);
  // The reader is large, and few files need it.
  const { default: decode } = await import('heic-decode');
  const pictures = await decode.all({ buffer: bytes }).catch(() => null);
  if (!pictures?.length) throw unreadable();
  try {
    const [first] = pictures;
    if (first.width * first.height > MAX_PIXELS)
      throw new ProblemError(
        413,
        'too-many-pixels',
        `This photo has ${first.width} × ${first.height} px, which is more than can be worked on. Make it smaller first.`,
      );
    const { width, height, data } = await first.decode().catch(() => {
      throw unreadable();
    });
    const pixels = sharp(Buffer.from(data.buffer, data.byteOffset, data.byteLength), {
      raw: { width, height, channels: 4 },
    });
    const { isOpaque } = await pixels.clone().stats();
    const png = await (isOpaque ? pixels.removeAlpha() : pixels).png({ compressionLevel: 4 }).toBuffer();
    const icc = profileIn(bytes);
    await writeFile(
      out,
      icc ? Buffer.concat(withProfileChunk(png, { name: 'ICC profile', deflated: deflateSync(icc) })) : png,
    );
  } finally {
    pictures.dispose();
  }
}

const unreadable = (): ProblemError =>
  new ProblemError(
    422,
    'unreadable',
    'This HEIC photo is broken or of a kind that cannot be read. Export it as JPEG and drop that.',
  );
