import { translate } from '@kettle/core/geometry';
import { inkBounds } from '@kettle/core/raster';
import { reducedLayer, repeatedLayers, type PrintRecipe } from '@kettle/core/recipes';
import { ProblemError } from '../../floor/basics/problem-error.js';
import type { Files } from '../artwork/files.js';
import { drawLayers } from './draw-layers.js';
import { makePrintFile } from './print-file.js';

/** Some layers of a design as a file. */
export interface PartFileJob {
  readonly recipe: PrintRecipe;
  readonly files: Files;
  /** True for a file that is as large as its ink; false for one as large as the canvas. */
  readonly cut: boolean;
  readonly out: string;
}

/** Makes a file of a part of a design. @throws ProblemError 422 when nothing of it would be seen */
export async function makePartFile({ recipe, files, cut, out }: PartFileJob): Promise<null> {
  const whole = { ...recipe, layers: repeatedLayers(recipe.layers) };
  await makePrintFile(cut ? await cutToInk(whole, files) : whole, files, out);
  return null;
}

/** The same on a canvas that ends where its ink does. Whole pixels are taken off, so that nothing is drawn otherwise. */
async function cutToInk(recipe: PrintRecipe, files: Files): Promise<PrintRecipe> {
  const grid = { width: recipe.widthPx, height: recipe.heightPx };
  const bounds = inkBounds(await drawLayers(grid, recipe.layers, files));
  if (!bounds)
    throw new ProblemError(
      422,
      'nothing-visible',
      'Nothing of it lies on the canvas, so there is no ink to cut it to.',
    );
  const { left, top, right, bottom } = bounds;
  return {
    ...recipe,
    widthPx: right - left,
    heightPx: bottom - top,
    layers: recipe.layers.map((layer) => reducedLayer(layer, translate(-left, -top))),
  };
}
