import sharp, { type Sharp } from 'sharp';
import { stretch } from '@kettle/core/raster';
import { repeatedLayers, type RecipeLayer } from '@kettle/core/recipes';
import { RESAMPLER } from './resampler.js';
import type { Files } from '../artwork/files.js';
import { drawLayers } from './draw-layers.js';
import { readShown, type ShownSource } from '../artwork/shown.js';
import { drawWholeSvg } from '../artwork/source.js';
import { safeSvg } from '../artwork/svg.js';
import { wholeFile } from '../../floor/files/whole-file.js';

/**
 * A PNG of an artwork file, no side longer than `size` px; raster pictures are never enlarged.
 * @param light reduces in linear light, for pictures of products
 */
export async function makeRendition(
  shown: ShownSource,
  path: string,
  size: number,
  out: string,
  light = false,
): Promise<void> {
  const source = await readShown(shown, path);
  if ('svg' in source) {
    const own = safeSvg(source.svg);
    const factor = size / Math.max(own.width, own.height);
    const { width, height, data } = await drawWholeSvg(source.svg, own.width * factor, own.height * factor);
    await writePng(sharp(data, { raw: { width, height, channels: 4 } }), out);
  } else {
    const { width, height, data } = source.pixels;
    const factor = size / Math.max(width, height);
    if (light && factor < 1) {
      const [w, h] = [Math.max(1, Math.round(width * factor)), Math.max(1, Math.round(height * factor))];
      const window = { x: 0, y: 0, width: w, height: h };
      const seen = stretch(RESAMPLER, source.pixels, { from: 0, to: w }, { from: 0, to: h }, window, undefined, true);
      await writePng(sharp(seen.data, { raw: { width: w, height: h, channels: 4 } }), out);
      return;
    }
    await writePng(
      sharp(data, { raw: { width, height, channels: 4 } }).resize(size, size, {
        fit: 'inside',
        withoutEnlargement: true,
      }),
      out,
    );
  }
}

/** A small PNG of a whole target. */
export async function makeMiniature(
  grid: { width: number; height: number },
  layers: readonly RecipeLayer[],
  files: Files,
  out: string,
): Promise<void> {
  const { width, height, data } = await drawLayers(grid, repeatedLayers(layers), files, { subpixel: true });
  await writePng(sharp(data, { raw: { width, height, channels: 4 } }), out);
}

/** Small pictures side by side, each in the middle of a box of its own. */
export async function makeStrip(
  files: readonly string[],
  box: { width: number; height: number },
  out: string,
): Promise<void> {
  const placed = await Promise.all(
    files.map(async (file, i) => {
      const { data, info } = await sharp(file)
        .resize(box.width, box.height, { fit: 'inside', withoutEnlargement: true })
        .png()
        .toBuffer({ resolveWithObject: true });
      return {
        input: data,
        left: i * box.width + Math.round((box.width - info.width) / 2),
        top: Math.round((box.height - info.height) / 2),
      };
    }),
  );
  const strip = sharp({
    create: {
      width: Math.max(1, files.length) * box.width,
      height: box.height,
      channels: 4,
      background: { r: 0, g: 0, b: 0, alpha: 0 },
    },
  });
  await writePng(strip.composite(placed), out);
}

async function writePng(image: Sharp, out: string): Promise<void> {
  await wholeFile(out, (coming) => image.png({ compressionLevel: 4 }).toFile(coming));
}
