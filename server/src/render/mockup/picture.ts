import { rename, writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { Transformer } from '@napi-rs/image';
import sharp, { type Sharp } from 'sharp';
import {
  canonicalJson,
  formatBytes,
  withProfileChunk,
  writePreview,
  type Blank,
  type PictureRecipe,
  type Pixels,
  type SceneKernel,
} from '@kettle/core';
import { blankAreaMaps, blankMaps, readyBlank, smallBlank, type PackFiles } from './blank-pack.js';
import { drawLayers, type Files } from '../print/draw-layers.js';
import { pngProfile } from '../print/icc.js';
import { underLimit } from '../print/formats/under-limit.js';
import { withoutExtras } from '../print/png-extras.js';
import { ProblemError } from '../../safety/problem-error.js';

/** The design last drawn for a print area: a set of colourways uses the same one for every picture. */
let lastTexture: { key: string; pixels: Pixels } | null = null;

export async function textureOf(recipe: PictureRecipe, files: Files): Promise<Pixels> {
  const key = canonicalJson(recipe.texture);
  if (lastTexture?.key !== key) {
    const pixels = await drawLayers(recipe.texture, recipe.texture.layers, files, { subpixel: true, light: true });
    clipOutside(pixels, recipe.texture.clip);
    lastTexture = { key, pixels };
  }
  return lastTexture.pixels;
}

function clipOutside(
  { width, height, data }: Pixels,
  clip: { x: number; y: number; width: number; height: number },
): void {
  for (let y = 0; y < height; y++) {
    const row = y * width * 4;
    if (y < clip.y || y >= clip.y + clip.height) data.fill(0, row, row + width * 4);
    else {
      data.fill(0, row, row + clip.x * 4);
      data.fill(0, row + (clip.x + clip.width) * 4, row + width * 4);
    }
  }
}

/** Draws a scene with an already drawn design. */
export function drawScene(
  kernel: SceneKernel,
  recipe: Pick<PictureRecipe, 'garment' | 'backdrop' | 'inkOpacity' | 'shadow' | 'areaId' | 'texture'>,
  design: Pixels,
): Pixels {
  kernel.setTexture(design, recipe.texture);
  return kernel.render(recipe, recipe.areaId);
}

/** What a reader found in a finished picture. */
export interface PictureFacts {
  readonly width: number;
  readonly height: number;
  readonly format: string;
  readonly bytes: number;
}

/** Makes a listing picture at `out`, and reads back what it is. */
export async function makePicture(
  recipe: PictureRecipe,
  blank: Blank,
  pack: PackFiles,
  sources: Files,
  out: string,
  progress: (share: number) => void = () => undefined,
): Promise<PictureFacts> {
  const kernel = await readyBlank(pack, blank, recipe.areaId, recipe.size);
  progress(0.4);
  const scene = drawScene(kernel, recipe, await textureOf(recipe, sources));
  progress(0.7);
  const bytes = await encodePicture(scene, recipe);
  const facts = await readPicture(bytes);
  await writeFile(`${out}.part`, bytes);
  await rename(`${out}.part`, out);
  return facts;
}

/** Decodes a finished picture to its last pixel with a reader that did not write it. @throws when it does not decode */
export async function readPicture(bytes: Buffer): Promise<PictureFacts> {
  const reader = new Transformer(bytes);
  const { width, height, format } = await reader.metadata();
  await reader.rawPixels();
  return { width, height, format: format.toLowerCase(), bytes: bytes.length };
}

/** A scene as a file: made smaller, framed and packed as it was asked for. Always opaque, always sRGB. */
export async function encodePicture(
  { width, height, data }: Pixels,
  { format, fit = {}, backdrop }: Pick<PictureRecipe, 'format' | 'fit' | 'backdrop'>,
): Promise<Buffer> {
  const rgba = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
  const whole = sharp(rgba, { raw: { width, height, channels: 4 } }).removeAlpha();
  const { longest, frame, maxBytes } = fit;
  const fitted = frame
    ? whole.resize(frame.width, frame.height, { fit: 'contain', background: backdrop })
    : longest !== undefined
      ? whole.resize(longest, longest, { fit: 'inside' })
      : whole;
  // Each try begins from the same pixels.
  const { data: pixels, info } = await fitted.raw().toBuffer({ resolveWithObject: true });
  const image = (): Sharp => sharp(pixels, { raw: { width: info.width, height: info.height, channels: 3 } });
  const encode = async (quality: number): Promise<Buffer> => {
    switch (format) {
      case 'png': {
        // Below the best, a picture of few colours: PNG has no other way of becoming smaller.
        const plain = await image()
          .png(quality > 90 ? { compressionLevel: 4, palette: false } : { palette: true, quality, effort: 4 })
          .toBuffer();
        return Buffer.concat(withProfileChunk(quality > 90 ? withoutExtras(plain) : plain, await pngProfile('rgb')));
      }
      case 'jpeg':
        return image()
          .withIccProfile('srgb')
          .jpeg({ quality: Math.min(quality, 90), chromaSubsampling: quality >= 80 ? '4:4:4' : '4:2:0' })
          .toBuffer();
      default:
        return image()
          .withIccProfile('srgb')
          .webp({ quality: Math.min(quality, 88), effort: 2 })
          .toBuffer();
    }
  };
  const { bytes } = await underLimit(encode, maxBytes);
  if (maxBytes !== undefined && bytes.length > maxBytes)
    throw new ProblemError(
      422,
      'over-limit',
      `No ${format.toUpperCase()} of ${info.width} × ${info.height} px fits into ${formatBytes(maxBytes)} and still looks good: the smallest has ${formatBytes(bytes.length)}. Ask for a smaller picture${format === 'png' ? ' or a JPEG' : ''}.`,
    );
  return bytes;
}

/** Texture density of a blank's print area at a picture width, px per mm. */
export async function areaDensity(blank: Blank, files: PackFiles, areaId: string, size: number): Promise<number> {
  return (await readyBlank(files, blank, areaId, size)).areaMaps(areaId).pixelsPerMm;
}

/** The bare product in its first colour, as a small WebP. */
export async function blankThumbnail(blank: Blank, files: PackFiles, out: string): Promise<void> {
  const kernel = await smallBlank(files, blank, 240);
  const { width, height, data } = kernel.render(
    { garment: blank.colourways[0].hex, backdrop: blank.backdrop, inkOpacity: 1, shadow: blank.shadowStrength },
    null,
  );
  await sharp(Buffer.from(data), { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .webp({ quality: 82 })
    .toFile(`${out}.part`);
  await rename(`${out}.part`, out);
}

const compress = promisify(gzip);

/** Everything a preview needs of a blank at a width, compressed, at `out`. */
export async function blankPreview(
  blank: Blank,
  files: PackFiles,
  areaId: string,
  size: number,
  out: string,
): Promise<void> {
  const maps = await blankMaps(files, blank, size);
  const bytes = writePreview({ maps, area: await blankAreaMaps(files, blank, areaId, maps) });
  // A browser takes it apart in a few hundredths of a second; a better compression would take this machine seconds.
  await writeFile(`${out}.part`, await compress(bytes, { level: 2 }));
  await rename(`${out}.part`, out);
}
