import { createHash } from 'node:crypto';
import { open, rename, rm } from 'node:fs/promises';
import { CompressionType, FilterType, Transformer } from '@napi-rs/image';
import sharp from 'sharp';
import { flatten, pixelsPerMetre, withPrintChunks, type FileFacts, type PrintRecipe } from '@kettle/core';
import { drawLayers, placedLayers, type Files } from './draw-layers.js';
import { pngProfile } from './icc.js';
import { withoutExtras } from './png-extras.js';
import { likeness } from './likeness.js';
import { readBack } from './read-back.js';

/** What became of a print file: its hash, and what a reader found in it. */
export interface MadePrintFile {
  readonly sha256: string;
  readonly facts: FileFacts;
}

/** Shares of the time that are over when all layers are drawn, the file is encoded, and it is read back. */
const [DRAWN, ENCODED, READ] = [0.35, 0.7, 0.85];

/**
 * Canvases above this many pixels are never held whole: 40 million are 160 MB, and the fast way needs three times
 * that.
 */
const MOST_IN_MEMORY = 40_000_000;

/**
 * Bytes of a print file, in the pieces they are written in. The way it is drawn depends on its size alone, so that a
 * recipe always gives the same bytes.
 */
export async function encodePrintFile(
  recipe: PrintRecipe,
  files: Files,
  progress: (share: number) => void = () => undefined,
): Promise<Uint8Array[]> {
  const large = recipe.widthPx * recipe.heightPx > MOST_IN_MEMORY;
  // The row-by-row way knows no blend modes: such a design needs its whole canvas in memory, however large.
  const plain =
    large && !recipe.layers.some((layer) => layer.blend)
      ? await streamed(recipe, files)
      : await drawn(recipe, files, progress);
  return withPrintChunks(withoutExtras(plain), pixelsPerMetre(recipe.dpi), await pngProfile(recipe.mode));
}

/** Slower and small: libvips lays the pictures on an empty canvas row by row while it encodes. */
export async function streamed(recipe: PrintRecipe, files: Files): Promise<Uint8Array> {
  const grid = { width: recipe.widthPx, height: recipe.heightPx };
  const layers = await placedLayers(grid, recipe.layers, files);
  const laid = sharp({
    create: {
      ...grid,
      channels: 4,
      background: recipe.alpha ? { r: 0, g: 0, b: 0, alpha: 0 } : { r: 255, g: 255, b: 255, alpha: 1 },
    },
    limitInputPixels: false,
  }).composite(
    layers.map(({ pixels, left, top }) => ({
      input: Buffer.from(pixels.data.buffer, pixels.data.byteOffset, pixels.data.byteLength),
      raw: { width: pixels.width, height: pixels.height, channels: 4 as const },
      left,
      top,
    })),
  );
  return (recipe.alpha ? laid : laid.removeAlpha())
    .toColourspace(recipe.mode === 'grey' ? 'b-w' : 'srgb')
    .png({ compressionLevel: 4, palette: false, progressive: false })
    .toBuffer();
}

async function drawn(recipe: PrintRecipe, files: Files, progress: (share: number) => void): Promise<Uint8Array> {
  const grid = { width: recipe.widthPx, height: recipe.heightPx };
  const canvas = await drawLayers(grid, recipe.layers, files, {
    drawn: (count) => progress((DRAWN * count) / recipe.layers.length),
  });
  if (!recipe.alpha) flatten(canvas, { r: 255, g: 255, b: 255 });
  const raw = { raw: { ...grid, channels: 4 as const } };
  return recipe.alpha && recipe.mode === 'rgb'
    ? Transformer.fromRgbaPixels(canvas.data, grid.width, grid.height).png({
        compressionType: CompressionType.Fast,
        filterType: FilterType.Adaptive,
      })
    : (recipe.alpha ? sharp(canvas.data, raw) : sharp(canvas.data, raw).removeAlpha())
        .toColourspace(recipe.mode === 'grey' ? 'b-w' : 'srgb')
        .png({ compressionLevel: 6, palette: false, progressive: false })
        .toBuffer();
}

/** Makes a print file at `out`: written beside it, read back, and only then given its name. */
export async function makePrintFile(
  recipe: PrintRecipe,
  files: Files,
  out: string,
  progress: (share: number) => void = () => undefined,
): Promise<MadePrintFile> {
  const pieces = await encodePrintFile(recipe, files, progress);
  progress(ENCODED);
  const coming = `${out}.part`;
  try {
    const hash = createHash('sha256');
    const file = await open(coming, 'w');
    try {
      for (const piece of pieces) {
        hash.update(piece);
        await file.write(piece);
      }
      await file.sync();
    } finally {
      await file.close();
    }
    const { facts, pixels } = await readBack(coming);
    progress(READ);
    const found = await likeness(recipe, files, pixels);
    await rename(coming, out);
    return { sha256: hash.digest('hex'), facts: { ...facts, likeness: found } };
  } catch (error) {
    await rm(coming, { force: true });
    throw error;
  }
}
