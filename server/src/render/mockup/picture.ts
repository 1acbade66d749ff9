import { createHash } from 'node:crypto';
import { mkdir, readFile, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { Transformer } from '@napi-rs/image';
import sharp, { type Sharp } from 'sharp';
import { formatBytes, pixelsPerMetre } from '@kettle/core/units';
import type { Pixels } from '@kettle/core/geometry';
import { withPrintChunks, withProfileChunk } from '@kettle/core/raster';
import { canonicalJson, type Blank } from '@kettle/core/model';
import { ENGINE_VERSION, repeatedLayers } from '@kettle/core/recipes';
import {
  writePreview,
  areaGrid,
  AreaLookup,
  measuresSvg,
  seenLine,
  asBehind,
  gradientBehind,
  onWall,
  seenBehind,
  areaOf,
  viewOf,
  type AreaGrid,
  type BlankView,
  type PictureRecipe,
  type PrintRecipeOnArea,
  type SceneKernel,
  type SceneMaps,
} from '@kettle/core/mockup';
import {
  type AreaPart,
  blankAreaMaps,
  blankMaps,
  exposureFor,
  readyBlank,
  smallBlank,
  type PackFiles,
} from './blank-pack.js';
import type { Files } from '../artwork/files.js';
import { drawLayers } from '../print/draw-layers.js';
import { pngProfile } from '../colour/icc.js';
import { readShown } from '../artwork/shown.js';
import { drawWholeSvg } from '../artwork/source.js';
import { safeSvg } from '../artwork/svg.js';
import { underLimit } from '../print/formats/under-limit.js';
import { withoutChunks, withoutExtras } from '../colour/png-extras.js';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { wholeFile } from '../../floor/files/whole-file.js';

/** Designs last drawn for print areas: a set of colourways uses the same ones for every picture. */
const textures = new Map<string, Pixels>();
const MOST_TEXTURES = 4;

const KEPT = process.env['KETTLE_KEPT'];
/** Where they are kept for all processes that make pictures; nowhere when the variable is not set. */
const FOLDER = KEPT && join(KEPT, 'textures');

/** The design as it is printed on one area. */
export async function textureOf(print: PrintRecipeOnArea, files: Files): Promise<Pixels> {
  const { areaId: _area, ...drawn } = print;
  const key = canonicalJson({ engine: ENGINE_VERSION, ...drawn });
  let pixels = textures.get(key);
  textures.delete(key);
  if (!pixels) {
    const path = FOLDER && join(FOLDER, `${createHash('sha256').update(key).digest('hex')}.raw`);
    pixels = (path && (await keptTexture(path, print))) || (await drawnTexture(print, files));
    if (path) await keepTexture(path, pixels);
  }
  textures.set(key, pixels);
  for (const oldest of textures.keys()) if (textures.size > MOST_TEXTURES) textures.delete(oldest);
  return pixels;
}

async function drawnTexture(print: PrintRecipeOnArea, files: Files): Promise<Pixels> {
  const pixels = await drawLayers(print, repeatedLayers(print.layers), files, { subpixel: true, light: true });
  clipOutside(pixels, print.clip);
  return pixels;
}

/** What another process, or this one some time ago, has drawn; null when it is not there or not whole. */
async function keptTexture(path: string, { width, height }: PrintRecipeOnArea): Promise<Pixels | null> {
  const data = await readFile(path).catch(() => null);
  return data?.length === width * height * 4 ? { width, height, data } : null;
}

async function keepTexture(path: string, { data }: Pixels): Promise<void> {
  const now = new Date();
  if (
    await utimes(path, now, now).then(
      () => true,
      () => false,
    )
  )
    return;
  try {
    await mkdir(FOLDER!, { recursive: true });
    await wholeFile(path, (coming) => writeFile(coming, data));
  } catch {
    // A full disk makes the next picture slower, not this one fail.
  }
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

/** Draws a scene. */
export async function drawScene(
  kernel: SceneKernel,
  recipe: Pick<PictureRecipe, 'garment' | 'backdrop' | 'inkOpacity' | 'shadow' | 'look' | 'prints'>,
  files: Files,
  behind: Pixels | null = null,
): Promise<Pixels> {
  kernel.setBehind(behind);
  for (const print of recipe.prints) kernel.setTexture(print.areaId, await textureOf(print, files), print);
  return kernel.render(
    recipe,
    recipe.prints.map((print) => print.areaId),
  );
}

/** The measured lines of a scene, and the scene with them over it; null where none are asked for. */
export async function measuresOver(
  kernel: SceneKernel,
  { measures }: Pick<PictureRecipe, 'measures'>,
  blank: Blank,
  { width, height, data }: Pixels,
): Promise<{ readonly over: Pixels; readonly picture: Pixels } | null> {
  if (!measures) return null;
  const lookup = new AreaLookup(kernel.areaMaps(measures.areaId), areaOf(blank, measures.areaId), width);
  const lines = measures.lines.map((line) => ({
    points: seenLine(line, (point) => lookup.pixelOf(point)),
    text: line.text,
  }));
  const input = Buffer.from(measuresSvg(lines, { width, height }));
  const pixels = await sharp(Buffer.from(data.buffer, data.byteOffset, data.byteLength), {
    raw: { width, height, channels: 4 },
  })
    .composite([{ input }])
    .raw()
    .toBuffer();
  const over = await sharp(input).resize(width, height, { fit: 'fill' }).ensureAlpha().raw().toBuffer();
  return { over: { width, height, data: over }, picture: { width, height, data: pixels } };
}

/** How a picture sees its blank. */
const viewBy = ({ crop, size }: Pick<PictureRecipe, 'crop' | 'size'>, blank: Blank): BlankView =>
  viewOf(blank, crop ?? null, size);

/** What a reader found in a finished picture. */
export interface PictureFacts {
  readonly width: number;
  readonly height: number;
  readonly format: string;
  readonly bytes: number;
}

/** What stands behind a picture; null for the backdrop's colour. */
async function behindOf(
  { behind, backdrop }: Pick<PictureRecipe, 'behind' | 'backdrop'>,
  blank: Pick<Blank, 'width' | 'height'>,
  view: BlankView,
  sources: Files,
): Promise<Pixels | null> {
  if (!behind) return null;
  if (behind.kind === 'gradient') return gradientBehind(backdrop, behind, blank, view);
  const source = await readShown({ sha256: behind.sha256 }, sources[behind.sha256]);
  // Outlines are drawn as large as the whole of the blank is at this size.
  const scale = view.width / view.crop.width;
  const pixels = 'svg' in source ? await drawnToCover(source.svg, blank, scale) : source.pixels;
  const box = seenBehind(pixels, blank, view);
  const [left, top] = [Math.floor(box.x), Math.floor(box.y)];
  const data = await sharp(pixels.data, { raw: { width: pixels.width, height: pixels.height, channels: 4 } })
    .extract({
      left,
      top,
      width: Math.max(1, Math.min(pixels.width - left, Math.round(box.width))),
      height: Math.max(1, Math.min(pixels.height - top, Math.round(box.height))),
    })
    .flatten({ background: backdrop })
    .resize(view.width, view.height, { fit: 'fill' })
    .ensureAlpha()
    .raw()
    .toBuffer();
  return asBehind({ width: view.width, height: view.height, data }, behind, blank, view);
}

async function drawnToCover(svg: Buffer, blank: Pick<Blank, 'width' | 'height'>, scale: number): Promise<Pixels> {
  const own = safeSvg(svg);
  const factor = scale * Math.max(blank.width / own.width, blank.height / own.height);
  return drawWholeSvg(svg, own.width * factor, own.height * factor);
}

/** A scene of its own size, with what it was drawn of. Its pixels stay valid until the kernel draws again. */
export async function sceneOf(
  recipe: PictureRecipe,
  blank: Blank,
  pack: PackFiles,
  sources: Files,
): Promise<{ readonly kernel: SceneKernel; readonly behind: Pixels | null; readonly picture: Pixels }> {
  const view = viewBy(recipe, blank);
  const kernel = await readyBlank(pack, blank, recipe.prints, view);
  const behind = await behindOf(recipe, blank, view, sources);
  return { kernel, behind, picture: await drawScene(kernel, recipe, sources, behind) };
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
  const view = viewBy(recipe, blank);
  const kernel = await readyBlank(pack, blank, recipe.prints, view);
  progress(0.4);
  const frame = recipe.wall && recipe.fit?.frame;
  const { wall, ...on } = frame ? onWall(blank, view.crop, frame) : { wall: blank, crop: view.crop, frame: null };
  const behind = await behindOf(recipe, wall, { ...view, crop: on.crop }, sources);
  const drawn = await drawScene(kernel, recipe, sources, behind);
  const scene = (await measuresOver(kernel, recipe, blank, drawn))?.picture ?? drawn;
  progress(0.7);
  const around = frame && on.frame && (await behindOf(recipe, wall, { ...frame, crop: on.frame }, sources));
  const bytes = await encodePicture(scene, recipe, around || null);
  const facts = await readPicture(bytes);
  await wholeFile(out, (coming) => writeFile(coming, bytes));
  return facts;
}

/** Decodes a finished picture to its last pixel with a reader that did not write it. @throws when it does not decode */
export async function readPicture(bytes: Buffer): Promise<PictureFacts> {
  const reader = new Transformer(bytes);
  const { width, height, format } = await reader.metadata();
  await reader.rawPixels();
  return { width, height, format: format.toLowerCase(), bytes: bytes.length };
}

/**
 * A scene as a file: made smaller, framed and packed as it was asked for. Always opaque, always sRGB.
 * @param around what fills the frame beside the scene, as large as the frame; null for the backdrop's colour
 */
export async function encodePicture(
  { width, height, data }: Pixels,
  { format, fit = {}, backdrop }: Pick<PictureRecipe, 'format' | 'fit' | 'backdrop'>,
  around: Pixels | null = null,
): Promise<Buffer> {
  const rgba = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
  const whole = sharp(rgba, { raw: { width, height, channels: 4 } }).removeAlpha();
  const { longest, frame, maxBytes, dpi } = fit;
  const fitted = frame
    ? around
      ? await framedBy(around, whole)
      : whole.resize(frame.width, frame.height, { fit: 'contain', background: backdrop })
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
        const profile = await pngProfile('rgb');
        const bare = quality > 90 ? withoutExtras(plain) : withoutChunks(plain, ['pHYs']);
        return Buffer.concat(
          dpi ? withPrintChunks(bare, pixelsPerMetre(dpi), profile) : withProfileChunk(bare, profile),
        );
      }
      case 'jpeg':
        return (dpi ? image().withMetadata({ density: dpi }) : image())
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

/** A picture in the middle of another one, as large as that holds it. */
async function framedBy({ width, height, data }: Pixels, picture: Sharp): Promise<Sharp> {
  const input = await picture.resize(width, height, { fit: 'inside' }).raw().toBuffer({ resolveWithObject: true });
  const { width: w, height: h, channels } = input.info;
  return sharp(data, { raw: { width, height, channels: 4 } })
    .composite([{ input: input.data, raw: { width: w, height: h, channels }, gravity: 'centre' }])
    .removeAlpha();
}

/** Width at which it is found where a print area is seen. */
const GRID_SIZE = 500;

/** Where a print area is seen on its blank. */
export async function gridOfArea(blank: Blank, files: PackFiles, areaId: string): Promise<AreaGrid> {
  const view = viewOf(blank, null, GRID_SIZE);
  return areaGrid(await blankAreaMaps(files, blank, areaId, view), areaOf(blank, areaId), view);
}

/** The bare product in its first colour, as a small WebP. */
export async function blankThumbnail(blank: Blank, files: PackFiles, out: string): Promise<void> {
  const kernel = await smallBlank(files, blank);
  const { width, height, data } = kernel.render(
    { garment: blank.colourways[0].hex, backdrop: blank.backdrop, inkOpacity: 1, shadow: blank.shadowStrength },
    [],
  );
  const picture = sharp(Buffer.from(data), { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .webp({ quality: 82 });
  await wholeFile(out, (coming) => picture.toFile(coming));
}

const compress = promisify(gzip);

/** Stands for maps that are there already. */
const noMaps = ({ width, height }: BlankView): SceneMaps => {
  const none = new Uint8Array(0);
  return { width, height, photo: none, mask: none, shade: none, shadow: none };
};

/** Everything a preview needs of a blank at a size, compressed, at `out`. */
export async function blankPreview(
  blank: Blank,
  files: PackFiles,
  { areaId, part, alone }: AreaPart & { readonly alone: boolean },
  view: BlankView,
  out: string,
): Promise<void> {
  const [maps, area, exposure] = await Promise.all([
    alone ? noMaps(view) : blankMaps(files, blank, view),
    blankAreaMaps(files, blank, areaId, view, part),
    alone ? undefined : exposureFor(files, blank, view),
  ]);
  const bytes = writePreview({ maps, area, ...(exposure === undefined ? {} : { exposure }) });
  // A browser takes it apart in a few hundredths of a second; a better compression would take this machine seconds.
  const packed = await compress(bytes, { level: 2 });
  await wholeFile(out, (coming) => writeFile(coming, packed));
}
