import sharp from 'sharp';
import { filesOfBlank, type MovingBlank } from '@kettle/core/mockup';
import { writeZip, type ZipInput } from '../archive/zip.js';
import type { PackFiles } from './blank-pack.js';
import { wholeFile } from '../../floor/files/whole-file.js';

/** Frames that are reduced at the same time. */
const AT_ONCE = 4;

/**
 * Writes all pictures of a moving blank as an archive for who shows it small: those that are as large as the blank at half
 * their size, the smaller maps as they are.
 */
export async function writeHalfPack(blank: MovingBlank, files: PackFiles, out: string): Promise<void> {
  const names = filesOfBlank(blank);
  const inputs: ZipInput[] = [];
  for (let from = 0; from < names.length; from += AT_ONCE)
    inputs.push(
      ...(await Promise.all(names.slice(from, from + AT_ONCE).map((name) => half(name, files[name], blank)))),
    );
  await wholeFile(out, (coming) => writeZip(coming, inputs));
}

async function half(name: string, path: string, { width, height, files }: MovingBlank): Promise<ZipInput> {
  const image = sharp(path);
  // Maps that are smaller already are enlarged to the picture where they are read; positions are never resampled.
  if ((await image.metadata()).width !== width) return { name, path, store: true };
  const small = image.resize(width / 2, height / 2, { fit: 'fill', kernel: 'linear' });
  const isPhoto = name.startsWith(`${files.photo}/`);
  const content = await small
    .webp(isPhoto ? { quality: 90, alphaQuality: 100, effort: 0 } : { lossless: true, effort: 0 })
    .toBuffer();
  return { name, content, store: true };
}
