import { scale, type Pixels } from '@kettle/core/geometry';
import { blendOver } from '@kettle/core/raster';
import type { PressLimits } from '@kettle/core/model';
import { reduced } from '@kettle/core/treatments';
import { reducedLayer, repeatedLayers, type PrintRecipe, type RecipeLayer } from '@kettle/core/recipes';
import {
  lostOnInk,
  measureColour,
  measurePrint,
  SEEN_PX,
  seenInk,
  seenOn,
  type ClothMeasure,
  type OnInk,
  type PressMeasure,
} from '@kettle/core/press';
import type { Files } from '../artwork/files.js';
import { drawLayers } from '../print/draw-layers.js';
import { proofTables } from '../colour/colour-engine.js';
import { pressKernel } from '../colour/kernel.js';
import { profileOf } from '../colour/profiles.js';

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
  const layers = repeatedLayers(recipe.layers).filter(({ screen }) => screen?.kind !== 'dots');
  const canvas = await drawnAt(dpi / recipe.dpi, recipe, layers, files);
  const ink = measurePrint(canvas, dpi, limits);
  return {
    ...ink,
    ...(recipe.conversion ? await colours(canvas, recipe, dpi, limits, files) : { coverage: null, gamut: null }),
  };
}

/** A print that is to be judged on some colours of cloth. */
export interface ClothJob {
  readonly recipe: PrintRecipe;
  /** Lower-case hex. */
  readonly cloths: readonly string[];
  readonly files: Files;
}

/** Draws a target small, and judges how its ink is seen on cloth. Dots are judged as the ink that they are made of. */
export async function measureOnCloths({ recipe, cloths, files }: ClothJob): Promise<ClothMeasure> {
  const layers = repeatedLayers(recipe.layers).map(({ screen: _screen, ...layer }) => layer);
  const factor = Math.min(1, SEEN_PX / Math.max(recipe.widthPx, recipe.heightPx));
  const ink = seenInk(await drawnAt(factor, recipe, layers, files));
  return {
    onCloth: Object.fromEntries(cloths.map((hex) => [hex, seenOn(ink, hex)])),
    onInk: await onInks(factor, recipe, files),
  };
}

/** What of each drawn layer is lost in the ink below it. Of art that is repeated nothing is said. */
async function onInks(factor: number, recipe: PrintRecipe, files: Files): Promise<Record<number, OnInk>> {
  const found: Record<number, OnInk> = {};
  const isDrawn = ({ drawing }: RecipeLayer): boolean => drawing !== undefined;
  if (recipe.layers.some(({ repeat }) => repeat) || !recipe.layers.slice(1).some(isDrawn)) return found;
  let below: Pixels | null = null;
  let number = -1;
  for (const layer of recipe.layers) {
    if (!layer.keyline) number++;
    const { screen: _screen, opacity, blend = 'normal', ...plain } = layer;
    const own = await drawnAt(factor, recipe, [{ ...plain, opacity: 1 }], files);
    const above: Pixels = below
      ? { ...below, data: below.data.slice() }
      : { ...own, data: new Uint8Array(own.data.length) };
    blendOver(above, own, 0, 0, opacity, blend);
    const lost = below && isDrawn(layer) && lostOnInk(own, below, above);
    if (lost) found[number] = lost;
    below = above;
  }
  return found;
}

/** Layers of a recipe on a grid that is a part of its own. */
function drawnAt(
  factor: number,
  { widthPx, heightPx }: PrintRecipe,
  layers: readonly RecipeLayer[],
  files: Files,
): Promise<Pixels> {
  const width = Math.max(1, Math.round(widthPx * factor));
  const height = Math.max(1, Math.round(heightPx * factor));
  const fine = scale(width / widthPx, height / heightPx);
  return drawLayers(
    { width, height },
    factor === 1 ? layers : layers.map((layer) => reducedLayer(layer, fine)),
    files,
    { subpixel: factor !== 1 },
  );
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
