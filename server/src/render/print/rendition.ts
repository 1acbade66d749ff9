import { rename } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import type { RecipeLayer } from '@kettle/core';
import { drawLayers, type Files } from './draw-layers.js';
import { drawWholeSvg, readSource } from '../artwork/source.js';
import { safeSvg } from '../artwork/svg.js';

/** A PNG of an artwork file, no side longer than `size` px; raster pictures are never enlarged. */
export async function makeRendition(sha256: string, path: string, size: number, out: string): Promise<void> {
  const source = await readSource(sha256, path);
  if ('svg' in source) {
    const own = safeSvg(source.svg);
    const factor = size / Math.max(own.width, own.height);
    const { width, height, data } = await drawWholeSvg(source.svg, own.width * factor, own.height * factor);
    await writePng(sharp(data, { raw: { width, height, channels: 4 } }), out);
  } else {
    const { width, height, data } = source.pixels;
    await writePng(sharp(data, { raw: { width, height, channels: 4 } }).resize(size, size, { fit: 'inside', withoutEnlargement: true }), out);
  }
}

/** A small PNG of a whole target. */
export async function makeMiniature(grid: { width: number; height: number }, layers: readonly RecipeLayer[], files: Files, out: string): Promise<void> {
  const { width, height, data } = await drawLayers(grid, layers, files, { subpixel: true });
  await writePng(sharp(data, { raw: { width, height, channels: 4 } }), out);
}

async function writePng(image: Sharp, out: string): Promise<void> {
  await image.png({ compressionLevel: 4 }).toFile(`${out}.part`);
  await rename(`${out}.part`, out);
}
