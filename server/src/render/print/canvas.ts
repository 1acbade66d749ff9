import sharp, { type Sharp } from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import { rgbOf } from '@kettle/core/colour';
import { flatten } from '@kettle/core/raster';
import type { PrintRecipe } from '@kettle/core/recipes';
import type { Files } from '../artwork/files.js';
import { drawLayers } from './draw-layers.js';

/** The whole canvas of a recipe, laid on its ground where it has no transparency. */
export async function drawCanvas(
  recipe: PrintRecipe,
  files: Files,
  progress: (share: number) => void = () => undefined,
): Promise<Pixels> {
  const canvas = await drawLayers({ width: recipe.widthPx, height: recipe.heightPx }, recipe.layers, files, {
    drawn: (count) => progress(count / recipe.layers.length),
  });
  if (!recipe.alpha) flatten(canvas, rgbOf(recipe.ground ?? '#ffffff'));
  return canvas;
}

/** A canvas for libvips, in the recipe's mode and without alpha where the file has none. */
export function asImage({ data, width, height }: Pixels, { mode, alpha }: Pick<PrintRecipe, 'mode' | 'alpha'>): Sharp {
  const image = sharp(data as Uint8Array, { raw: { width, height, channels: 4 }, limitInputPixels: false });
  return (alpha ? image : image.removeAlpha()).toColourspace(mode === 'grey' ? 'b-w' : 'srgb');
}
