import {
  measureColour,
  measurePrint,
  reduced,
  reducedLayer,
  repeatedLayers,
  scale,
  type Pixels,
  type PressLimits,
  type PressMeasure,
  type PrintRecipe,
} from '@kettle/core';
import { drawLayers, type Files } from '../print/draw-layers.js';
import { proofTables } from './colour-engine.js';
import { pressKernel } from './kernel.js';
import { profileOf } from './profiles.js';

/** A print that is to be measured. */
export interface MeasureJob {
  readonly recipe: PrintRecipe;
  readonly limits: PressLimits;
  /** Of the grid it is measured on. */
  readonly dpi: number;
  readonly files: Files;
}

/** Longest side of the grid that colours are measured on, px. */
const COLOUR_PX = 600;

/** Draws a target on a grid that is fine enough, and measures its ink. Dots are not measured: they are meant. */
export async function measureRecipe({ recipe, limits, dpi, files }: MeasureJob): Promise<PressMeasure> {
  const factor = dpi / recipe.dpi;
  const grid = {
    width: Math.max(1, Math.round(recipe.widthPx * factor)),
    height: Math.max(1, Math.round(recipe.heightPx * factor)),
  };
  const fine = scale(grid.width / recipe.widthPx, grid.height / recipe.heightPx);
  const layers = repeatedLayers(recipe.layers).filter(({ screen }) => screen?.kind !== 'dots');
  const canvas = await drawLayers(
    grid,
    factor === 1 ? layers : layers.map((layer) => reducedLayer(layer, fine)),
    files,
    { subpixel: factor !== 1 },
  );
  const alpha = new Uint8Array(grid.width * grid.height);
  for (let i = 0; i < alpha.length; i++) alpha[i] = canvas.data[i * 4 + 3];
  const ink = measurePrint(alpha, grid.width, grid.height, dpi, limits);
  return {
    ...ink,
    ...(recipe.conversion ? await colours(canvas, recipe, dpi, limits, files) : { coverage: null, gamut: null }),
  };
}

async function colours(
  canvas: Pixels,
  { conversion }: PrintRecipe,
  dpi: number,
  limits: PressLimits,
  files: Files,
): Promise<Pick<PressMeasure, 'coverage' | 'gamut'>> {
  const factor = Math.min(1, COLOUR_PX / Math.max(canvas.width, canvas.height));
  const small =
    factor === 1
      ? canvas
      : reduced(
          canvas,
          Math.max(1, Math.round(canvas.width * factor)),
          Math.max(1, Math.round(canvas.height * factor)),
        );
  const tables = await proofTables(await profileOf(conversion!, files), conversion!, false);
  return measureColour(
    small,
    pressKernel().convert(small.data as Uint8Array, tables.inks, false),
    pressKernel().convert(small.data as Uint8Array, tables.seen, false),
    dpi * factor,
    limits,
  );
}
