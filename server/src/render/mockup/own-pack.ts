import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp, { type WebpOptions } from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import type { Blank } from '@kettle/core/model';
import type { Treated } from '@kettle/core/treatments';
import { frameOfBlank, isMovingBlank, type Plane } from '@kettle/core/mockup';
import { OWN_SIDE, ownBlankManifest, ownBlankMaps, type OwnBlankSource } from '@kettle/core/own-blank';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { decodeRaster, looksLikeSvg, unpackedSource } from '../artwork/source.js';
import { treatedPixels } from '../artwork/treated.js';
import type { PackFiles } from './blank-pack.js';

/** What an own blank is made from, with its photo on the disk. */
export interface OwnPackJob {
  readonly id: string;
  readonly source: OwnBlankSource;
  readonly path: string;
  readonly sha256: string;
  /** The steps that leave the product alone; none when all of the photo is product. */
  readonly treated: Treated | null;
  /** Where the pack is to lie. */
  readonly folder: string;
}

/** Makes a pack of a photo. @returns what the seller should know @throws ProblemError with a sentence */
export async function makeOwnPack({ id, source, path, sha256, treated, folder }: OwnPackJob): Promise<string[]> {
  const bytes = unpackedSource(await readFile(path));
  if (looksLikeSvg(bytes))
    throw new ProblemError(422, 'no-photo', 'A blank is made of a photo. This file is a drawing.');
  const whole = await decodeRaster(bytes);
  const photo = await fitted(whole);
  const cut = treated ? await fitted(await treatedPixels(sha256, path, treated)) : photo;
  if (cut.width !== photo.width || cut.height !== photo.height)
    throw new ProblemError(
      422,
      'cropped',
      'A photo that is cropped cannot become a blank. Take the crop out of its steps.',
    );
  try {
    const maps = ownBlankMaps(photo, cut, source);
    const blank = ownBlankManifest(id, source, maps);
    const { photo: shown, mask, shade, shadow } = blank.files;
    await Promise.all([
      write(maps.photo, join(folder, shown), { quality: 92, alphaQuality: 100 }),
      write(maps.mask, join(folder, mask), { lossless: true, effort: 1 }),
      write(maps.shade, join(folder, shade), { lossless: true, effort: 1 }),
      write(maps.shadow, join(folder, shadow), { lossless: true, effort: 1 }),
      write(maps.uv, join(folder, blank.areas[0].uv), { lossless: true, effort: 1 }),
    ]);
    await writeFile(join(folder, 'blank.json'), JSON.stringify(blank, null, 1));
    return [...maps.doubts];
  } catch (error) {
    if (error instanceof RangeError) throw new ProblemError(422, 'no-blank', error.message);
    throw error;
  }
}

async function fitted({ width, height, data }: Pixels): Promise<Pixels> {
  const factor = Math.min(1, OWN_SIDE / Math.max(width, height));
  const even = (value: number): number => Math.max(16, Math.round((value * factor) / 2) * 2);
  const size = { width: even(width), height: even(height) };
  const bytes = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
  const small = await sharp(bytes, { raw: { width, height, channels: 4 }, limitInputPixels: false })
    .resize(size.width, size.height, { fit: 'fill' })
    .raw()
    .toBuffer();
  return { ...size, data: new Uint8Array(small.buffer, small.byteOffset, small.byteLength) };
}

const write = ({ width, height, channels, data }: Plane, out: string, options: WebpOptions) =>
  sharp(Buffer.from(data.buffer, data.byteOffset, data.byteLength), {
    raw: { width, height, channels: channels as 1 | 3 | 4 },
  })
    .webp(options)
    .toFile(out);

/** Most pixels that a picture of a pack from outside may have. */
const MOST_PIXELS = 36_000_000;

/** Looks at the pictures of a pack from outside. @throws ProblemError with a sentence that names the one that is wrong */
export async function checkPack(blank: Blank, files: PackFiles): Promise<null> {
  const { width, height } = blank;
  const wrong = (name: string, what: string): ProblemError =>
    new ProblemError(422, 'bad-pack', `The picture “${name}” of this blank pack ${what}.`);
  const look = async (name: string, most: { width: number; height: number }, exact: boolean): Promise<Plane> => {
    const image = sharp(files[name], { limitInputPixels: MOST_PIXELS, failOn: 'error' });
    const { data, info } = await image
      .raw()
      .toBuffer({ resolveWithObject: true })
      .catch(() => {
        throw wrong(name, 'cannot be read');
      });
    if (exact ? info.width !== most.width || info.height !== most.height : info.width > most.width)
      throw wrong(name, `has ${info.width} × ${info.height} px instead of ${most.width} × ${most.height}`);
    return { width: info.width, height: info.height, channels: info.channels, data };
  };
  const scaled = (share: number): { width: number; height: number } => ({
    width: Math.round(width * share),
    height: Math.round(height * share),
  });
  const frames = isMovingBlank(blank)
    ? Array.from({ length: blank.frames }, (_, frame) => frameOfBlank(blank, frame))
    : [blank];
  const scales = isMovingBlank(blank) ? blank.scales : { shade: 1, shadow: 1, uv: 1 };
  for (const frame of frames) {
    const { photo, mask, shade, shadow } = frame.files;
    await look(photo, { width, height }, true);
    await look(mask, { width, height }, true);
    if ((await look(shade, scaled(scales.shade), true)).channels < 3) throw wrong(shade, 'has no three channels');
    await look(shadow, { width, height }, false);
    for (const { uv, cover, name } of frame.areas) {
      const size = scaled(scales.uv);
      const map = await look(uv, { width: size.width, height: size.height * 2 }, true);
      if (map.channels < 3) throw wrong(uv, 'has no three channels');
      const coverage = cover ? await look(cover, { width, height }, true) : null;
      const covered = coverage ? coveredPixels(coverage, 0, 1) : coveredPixels(map, 2, 0.5);
      // A moving blank may turn an area out of sight, not where it shows itself best.
      if (covered < 100 && frames.indexOf(frame) === (isMovingBlank(blank) ? blank.poster : 0))
        throw wrong(cover ?? uv, `shows nothing of the area “${name}”`);
    }
  }
  return null;
}

/** @param share of the rows, from the top, that tell */
function coveredPixels({ width, height, channels, data }: Plane, channel: number, share: number): number {
  let covered = 0;
  for (let i = channel; i < width * height * share * channels; i += channels) if (data[i]) covered++;
  return covered;
}
