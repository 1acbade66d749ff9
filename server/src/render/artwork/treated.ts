import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { mkdir, readFile, stat, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { CompressionType, FilterType, Transformer } from '@napi-rs/image';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import { measureInk, type InkFacts } from '@kettle/core/raster';
import { canonicalJson, cropOf, cropPixels, type Treatment } from '@kettle/core/model';
import { compileTreatKernel, reduced, Treater, workingSize, type Treated } from '@kettle/core/treatments';
import { readPlainPng } from './plain-png.js';
import { decodeRaster, drawWholeSvg, looksLikeSvg, unpackedSource } from './source.js';
import { safeSvg } from './svg.js';
import { wholeFile } from '../../floor/files/whole-file.js';

const KERNEL = compileTreatKernel(readFileSync(fileURLToPath(import.meta.resolve('@kettle/core/treat.wasm'))));

/** Longer side that a drawing is made of pixels at before it is treated, px: 13.6 in at 300 DPI. */
const DRAWN_SIDE = 4096;

const KEPT = process.env['KETTLE_KEPT'];
/** Where treated pictures are kept, so that none is worked out twice; nowhere when the variable is not set. */
const FOLDER = KEPT && join(KEPT, 'treated');

/** What is known of a treated picture. */
export interface TreatedFacts extends InkFacts {
  readonly width: number;
  readonly height: number;
}

/** Name of a treated picture: its file and all that is done to it. */
export const treatedName = (sha256: string, treated: Treated): string =>
  createHash('sha256').update(canonicalJson({ sha256, treated })).digest('hex');

/** A treated picture as a PNG that lies on the disk, made when it is not there. */
export async function treatedFile(sha256: string, path: string, treated: Treated): Promise<string> {
  const out = join(FOLDER ?? '', `${treatedName(sha256, treated)}.png`);
  if (await stat(out).catch(() => null)) {
    const now = new Date();
    await utimes(out, now, now).catch(() => undefined);
    return out;
  }
  await mkdir(FOLDER ?? '.', { recursive: true });
  const { width, height, data } = await treat(path, treated);
  const png = await Transformer.fromRgbaPixels(data as Uint8Array, width, height).png({
    compressionType: CompressionType.Fast,
    filterType: FilterType.Adaptive,
  });
  await wholeFile(out, (coming) => writeFile(coming, png));
  return out;
}

/** Pixels of a treated picture. */
export async function treatedPixels(sha256: string, path: string, treated: Treated): Promise<Pixels> {
  if (!FOLDER) return treat(path, treated);
  const bytes = await readFile(await treatedFile(sha256, path, treated));
  return (await readPlainPng(bytes)) ?? decodeRaster(bytes);
}

async function treat(path: string, treated: Treated): Promise<Pixels> {
  const picture = await decoded(path);
  return (await treaterOf(picture)).apply(picture, treatmentsOf(treated));
}

/** The steps as the computation takes them: in their order, by which they are named. */
const treatmentsOf = ({ steps }: Treated): Treatment[] =>
  steps.map((step, n) => ({ ...step, id: String(n) }) as Treatment);

async function treaterOf(picture: Pixels): Promise<Treater> {
  return new Treater(KERNEL, await workingCopy(picture), picture.width, picture.height);
}

/**
 * The copy that treatments are worked out on. It is made here alone, and browsers get it from here: so both work out the
 * same.
 */
async function workingCopy(picture: Pixels): Promise<Pixels> {
  const size = workingSize(picture.width, picture.height);
  if (size.width === picture.width) return { ...picture, data: new Uint8ClampedArray(picture.data) };
  const raw = { width: picture.width, height: picture.height, channels: 4 as const };
  const data = await sharp(picture.data as Uint8Array, { raw, limitInputPixels: false })
    .resize(size.width, size.height, { fit: 'fill', kernel: 'linear' })
    .raw()
    .toBuffer();
  return { ...size, data: new Uint8ClampedArray(data.buffer, data.byteOffset, data.byteLength) };
}

async function decoded(path: string): Promise<Pixels> {
  const bytes = unpackedSource(await readFile(path));
  if (!looksLikeSvg(bytes)) return own((await readPlainPng(bytes)) ?? (await decodeRaster(bytes)));
  const svg = safeSvg(bytes);
  const factor = DRAWN_SIDE / Math.max(svg.width, svg.height);
  return own(await drawWholeSvg(bytes, svg.width * factor, svg.height * factor));
}

/** Pixels in memory of their own, which may be changed. */
const own = ({ width, height, data }: Pixels): Pixels => ({
  width,
  height,
  data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength),
});

/** What is found on a treated picture, measured on its working copy. */
export async function treatedFacts(path: string, treated: Treated): Promise<TreatedFacts> {
  const picture = await decoded(path);
  const treatments = treatmentsOf(treated);
  const shown = (await treaterOf(picture)).shown(treatments);
  const { width, height } = cropPixels(cropOf(treatments), picture.width, picture.height);
  const factor = Math.min(1, 512 / Math.max(shown.width, shown.height));
  const small = reduced(
    shown,
    Math.max(1, Math.round(shown.width * factor)),
    Math.max(1, Math.round(shown.height * factor)),
  );
  return {
    ...measureInk(small),
    width,
    height,
  };
}

/** First bytes of a working copy: its size and that of the whole picture, as four 32-bit numbers, low byte first. */
const WORKING_HEADER = 16;

/** Writes a picture's working copy as it is: sizes, then straight RGBA. */
export async function writeWorking(path: string, out: string): Promise<void> {
  const picture = await decoded(path);
  const { width, height, data } = await workingCopy(picture);
  const header = Buffer.alloc(WORKING_HEADER);
  [width, height, picture.width, picture.height].forEach((value, n) => header.writeUInt32LE(value, n * 4));
  const pixels = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
  await wholeFile(out, (coming) => writeFile(coming, [header, pixels]));
}
