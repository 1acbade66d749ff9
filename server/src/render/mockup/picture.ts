import { rename, writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { Transformer } from '@napi-rs/image';
import sharp from 'sharp';
import {
  canonicalJson,
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
import { withoutExtras } from '../print/png-extras.js';
import { ProblemError } from '../../safety/problem-error.js';

/** The design last drawn for a print area: a set of colourways uses the same one for every picture. */
let lastTexture: { key: string; pixels: Pixels } | null = null;

async function texture(recipe: PictureRecipe, files: Files): Promise<Pixels> {
  const key = canonicalJson(recipe.texture);
  if (lastTexture?.key !== key) {
    const pixels = await drawLayers(recipe.texture, recipe.texture.layers, files, { subpixel: true });
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
  const scene = drawScene(kernel, recipe, await texture(recipe, sources));
  progress(0.7);
  const bytes = await encode(scene, recipe.format);
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
  return { width, height, format: format.toLowerCase() };
}

async function encode({ width, height, data }: Pixels, format: 'jpeg' | 'png'): Promise<Buffer> {
  const rgba = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
  switch (format) {
    case 'png': {
      // A listing picture is opaque: an alpha that is full everywhere would only make it larger.
      const plain = await sharp(rgba, { raw: { width, height, channels: 4 } })
        .removeAlpha()
        .png({ compressionLevel: 4, palette: false })
        .toBuffer();
      return Buffer.concat(withProfileChunk(withoutExtras(plain), await pngProfile('rgb')));
    }
    case 'jpeg':
      return sharp(rgba, { raw: { width, height, channels: 4 } })
        .removeAlpha()
        .withIccProfile('srgb')
        .jpeg({ quality: 90, chromaSubsampling: '4:4:4', mozjpeg: false })
        .toBuffer();
    default:
      throw new ProblemError(422, 'format', 'Pictures are made as JPEG or PNG.');
  }
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
