import { CompressionType, FilterType, Transformer } from '@napi-rs/image';
import sharp from 'sharp';
import { readFile } from 'node:fs/promises';
import { pixelsPerMetre } from '@kettle/core/units';
import { rgbOf } from '@kettle/core/colour';
import { pngFacts, withPrintChunks } from '@kettle/core/raster';
import type { FileFacts } from '@kettle/core/requirement';
import type { PrintRecipe } from '@kettle/core/recipes';
import { openRaster } from '../../artwork/source.js';
import { asImage, drawCanvas } from '../canvas.js';
import { letGo } from '../../../floor/processes/let-go.js';
import type { Files } from '../../artwork/files.js';
import { placedLayers } from '../draw-layers.js';
import { plainProfile, pngProfile, profileName } from '../../colour/icc.js';
import { withoutExtras } from '../../colour/png-extras.js';
import { lookOver } from '../likeness.js';
import type { PrintFormat } from './format.js';

/**
 * Canvases above this many pixels are never held whole: 40 million are 160 MB, and the fast way needs three times
 * that.
 */
const MOST_IN_MEMORY = 40_000_000;

const COLOUR_TYPES: Readonly<Record<number, FileFacts['mode']>> = {
  0: 'grey',
  2: 'rgb',
  3: 'palette',
  4: 'grey',
  6: 'rgb',
};

/** PNG: exact pixels with true transparency. */
export const PNG: PrintFormat = {
  type: 'png',
  writer: '@napi-rs/image',
  reader: 'libvips and a reader of chunks',

  async encode(recipe, files, progress) {
    const large = recipe.widthPx * recipe.heightPx > MOST_IN_MEMORY;
    // The row-by-row way knows no blend modes: such a design needs its whole canvas in memory, however large.
    const plain =
      large && !recipe.layers.some((layer) => layer.blend)
        ? await streamed(recipe, files)
        : await drawn(recipe, files, progress);
    return withPrintChunks(
      withoutExtras(plain),
      pixelsPerMetre(recipe.dpi),
      await pngProfile(recipe.mode === 'grey' ? 'grey' : 'rgb'),
    );
  },

  async open(path, recipe) {
    const bytes = await readFile(path);
    const chunks = pngFacts(bytes);
    const hasAlpha = chunks.colourType === 4 || chunks.colourType === 6 || chunks.hasTransparencyChunk;
    const { icc, width, height } = await sharp(bytes).metadata();
    if (width !== chunks.width || height !== chunks.height)
      throw new Error('Two readers disagree on the size of the print file.');
    // Decoding to the last row proves the file whole. Its pixels go on to be compared with the design; those in the
    // very profile of ours are what they are to be, and need no conversion.
    const isOurs = icc !== undefined && icc.equals(await plainProfile('rgb'));
    const { data } = await (
      isOurs ? sharp(bytes, { ignoreIcc: true, limitInputPixels: false }) : openRaster(bytes).toColourspace('srgb')
    )
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const seen = lookOver({ width, height, data }, recipe);
    return {
      pixels: seen,
      profile: chunks.profile && icc ? icc : null,
      facts: {
        fileType: 'png',
        widthPx: chunks.width,
        heightPx: chunks.height,
        pixelsPerMetreX: chunks.pixelsPerMetreX,
        pixelsPerMetreY: chunks.pixelsPerMetreY,
        mode: COLOUR_TYPES[chunks.colourType] ?? 'other',
        bitsPerChannel: chunks.bitDepth,
        hasAlpha,
        transparentShare: hasAlpha ? seen.clearShare : 0,
        profile: chunks.profile && icc ? profileName(icc) : null,
        interlaced: chunks.interlaced,
        privateData: chunks.privateChunks,
        bytes: bytes.length,
      },
    };
  },
};

/** Slower and small: libvips lays the pictures on an empty canvas row by row while it encodes. */
export async function streamed(recipe: PrintRecipe, files: Files): Promise<Uint8Array> {
  const grid = { width: recipe.widthPx, height: recipe.heightPx };
  const layers = await placedLayers(grid, recipe.layers, files);
  const laid = sharp({
    create: {
      ...grid,
      channels: 4,
      background: recipe.alpha ? { r: 0, g: 0, b: 0, alpha: 0 } : { ...rgbOf(recipe.ground ?? '#ffffff'), alpha: 1 },
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
  const canvas = await drawCanvas(recipe, files, progress);
  await letGo();
  return recipe.alpha && recipe.mode === 'rgb'
    ? Transformer.fromRgbaPixels(canvas.data, canvas.width, canvas.height).png({
        compressionType: CompressionType.Fast,
        filterType: FilterType.Adaptive,
      })
    : asImage(canvas, recipe).png({ compressionLevel: 6, palette: false, progressive: false }).toBuffer();
}
