import { stat } from 'node:fs/promises';
import sharp from 'sharp';
import {
  apply,
  blendOver,
  compose,
  flatten,
  invert,
  reducedLayer,
  rgbOf,
  scale,
  screenInk,
  translate,
  type ColourConversion,
  type PrintRecipe,
  type Pixels,
  type RecipeLayer,
} from '@kettle/core';
import { inksOf, looksOf } from '../press/colour-engine.js';
import { profileOf } from '../press/profiles.js';
import { drawLayers, onWholePixels, type Files } from './draw-layers.js';
import { shownFile } from '../artwork/shown.js';
import { asWritten, type Part } from '../artwork/source.js';

/**
 * Side of the small drawing that a file is compared with, px: fine enough to show a lost edge row of a print, coarse
 * enough to forgive filters.
 */
const SIDE = 200;
/**
 * How many times finer the second drawing is made before both are reduced alike: lines much thinner than a cell then
 * weigh what they weigh in the file.
 */
const FINER = 4;
/** Difference of a cell that is seen as another colour, levels: filters and halves of pixels stay below. */
const SEEN = 28;
/**
 * Share of cells that may differ by more. Over 200 drawings by others, and photos turned and enlarged, at most 0.0002
 * did.
 */
const MOST_CELLS = 0.003;
/**
 * Mean difference of nine neighbouring cells that no filter explains: something is there that should not be, or is not
 * where it should.
 */
const MOST_PLACE = 45;
/** Mean difference that no rounding explains, levels. */
const MOST_MEAN = 3;

/** How a finished file compares with a small drawing of what it should show. */
export interface Likeness {
  /** Share of the canvas that differs visibly, 0 to 1. */
  readonly differing: number;
  /** Mean difference over the whole canvas, levels. */
  readonly mean: number;
  readonly ok: boolean;
  /** Middle of the worst place as shares of width and height, when it is not alike. */
  readonly where: { readonly x: number; readonly y: number } | null;
}

/** Dots are compared by what they come to: a cell is as wide as a few of them. */
const DOTS_PER_CELL = 4;

function sideFor({ layers }: PrintRecipe, longest: number): number {
  const sides = layers.flatMap(({ screen }) =>
    screen?.kind === 'dots' ? [(longest * screen.lpi) / (screen.dpi * DOTS_PER_CELL)] : [],
  );
  return Math.max(8, Math.min(SIDE, ...sides.map(Math.floor)));
}

/**
 * Compares a finished file with a drawing of its recipe by another path: the original files go through libvips alone,
 * with its own colour management and filter,
 * and the drawing is reduced to a grid of {@link SIDE} px as the file is. What both paths share is only the renderer
 * of outlines, at another size, and blend modes.
 * @param pixels of the finished file, as a reader found them
 * @param slack levels of colour by which the reader's own way of showing inks may differ
 */
export async function likeness(recipe: PrintRecipe, files: Files, pixels: Pixels, slack = 0): Promise<Likeness> {
  const longest = Math.max(recipe.widthPx, recipe.heightPx);
  const sized = (side: number) => ({
    width: Math.max(1, Math.round((recipe.widthPx * side) / longest)),
    height: Math.max(1, Math.round((recipe.heightPx * side) / longest)),
  });
  const [grid, fine] = [sized(sideFor(recipe, longest)), sized(Math.min(longest, SIDE * FINER))];
  const toFine = scale(fine.width / recipe.widthPx, fine.height / recipe.heightPx);
  const reduced = async (data: Pixels['data'], { width, height }: { width: number; height: number }) =>
    sharp(data as Uint8Array, { raw: { width, height, channels: 4 } })
      .resize(grid.width, grid.height, { kernel: 'linear', fit: 'fill' })
      .raw()
      .toBuffer();
  const drawn = await drawnApart(
    recipe.layers.map((layer) =>
      reducedLayer(layer.sha256 === null ? layer : { ...layer, map: onWholePixels(layer.map) }, toFine),
    ),
    fine,
    files,
  );
  const [found, expected] = [await reduced(pixels.data, pixels), await reduced(drawn, fine)];
  if (!recipe.alpha) flatten({ ...grid, data: expected }, rgbOf(recipe.ground ?? '#ffffff'));
  if (recipe.conversion) await asPrinted(expected, recipe.conversion, files);
  return compare(found, expected, grid, recipe, slack);
}

/** Colours as they will look in the inks of the print: what the file is compared with has gone through them too. */
async function asPrinted(rgba: Buffer, conversion: ColourConversion, files: Files): Promise<void> {
  const profile = await profileOf(conversion, files);
  const count = rgba.length / 4;
  const colours = new Uint16Array(count * 3);
  for (let i = 0; i < count; i++) for (let k = 0; k < 3; k++) colours[i * 3 + k] = rgba[i * 4 + k] * 257;
  const seen = await looksOf(await inksOf(colours, profile, conversion), profile, false);
  for (let i = 0; i < count; i++) for (let k = 0; k < 3; k++) rgba[i * 4 + k] = Math.round(seen[i * 3 + k] / 257);
}

/**
 * The layers laid on each other by libvips. Its blend modes differ from those of the W3C where something is
 * translucent, so those are ours, which browsers agree with.
 */
async function drawnApart(
  layers: readonly RecipeLayer[],
  grid: { width: number; height: number },
  files: Files,
): Promise<Buffer> {
  let canvas = await sharp({ create: { ...grid, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
    .raw()
    .toBuffer();
  for (const layer of layers) {
    const own =
      layer.sha256 === null
        ? await outlines(layer, grid, files)
        : await picture(layer, grid, await shownFile(layer.sha256, files[layer.sha256], layer.treated));
    if (!own) continue;
    // Dots are as pale as the ink they stand for once both are reduced; what was made solid is solid here too.
    const solid = layer.screen?.kind === 'solid' ? layer.screen : null;
    if (solid) {
      for (let i = 3; i < own.length; i += 4) own[i] = Math.round(own[i] * layer.opacity);
      screenInk({ ...grid, data: own }, solid, 300);
    }
    const opacity = solid ? 1 : layer.opacity;
    if (layer.blend) {
      blendOver({ ...grid, data: canvas }, { ...grid, data: own }, 0, 0, opacity, layer.blend);
      continue;
    }
    const faded =
      opacity === 1 ? own : await sharp(own, raw(grid)).linear([1, 1, 1, opacity], [0, 0, 0, 0]).raw().toBuffer();
    canvas = await sharp(canvas, raw(grid))
      .composite([{ input: faded, ...raw(grid) }])
      .raw()
      .toBuffer();
  }
  return canvas;
}

const raw = ({ width, height }: { width: number; height: number }) => ({
  raw: { width, height, channels: 4 as const },
});

async function outlines(layer: RecipeLayer, grid: { width: number; height: number }, files: Files): Promise<Buffer> {
  const { blend: _blend, screen: _screen, ...plain } = layer;
  return Buffer.from((await drawLayers(grid, [{ ...plain, opacity: 1 }], files, { subpixel: true })).data);
}

/** Sizes that pictures are looked at in, px: targets of one design that differ little share one. */
const SIZES = [200, 280, 400, 560, 800, 1120, 1600];
const MOST_LOOKED_AT = 4;
const looks = new Map<string, ReturnType<typeof asWritten>>();

/** An artwork file by libvips alone, kept for the other targets of a design that follow. */
async function lookedAt(path: string, part: Part, width: number, height: number): ReturnType<typeof asWritten> {
  const longest = Math.max(width, height);
  const factor = (SIZES.find((size) => size >= longest) ?? longest) / longest;
  const { size, mtimeMs } = await stat(path);
  const wanted = [Math.ceil(width * factor), Math.ceil(height * factor)] as const;
  const key = [path, size, mtimeMs, part.left, part.top, part.right, part.bottom, ...wanted].join(' ');
  let look = looks.get(key);
  if (look) looks.delete(key);
  else look = asWritten(path, part, ...wanted);
  looks.set(key, look);
  for (const oldest of looks.keys()) {
    if (looks.size <= MOST_LOOKED_AT) break;
    looks.delete(oldest);
  }
  // One that failed is tried again.
  look.catch(() => looks.delete(key));
  return look;
}

/**
 * A picture as an SVG of one image, which librsvg turns, mirrors and filters as it likes; null when nothing of it is
 * on the canvas.
 */
async function picture(
  { map }: RecipeLayer,
  grid: { width: number; height: number },
  path: string,
): Promise<Buffer | null> {
  const [width, height] = [Math.hypot(map[0], map[1]), Math.hypot(map[2], map[3])];
  if (width < 0.5 || height < 0.5) return null;
  const corners = [
    [0, 0],
    [grid.width, 0],
    [0, grid.height],
    [grid.width, grid.height],
  ].map(([x, y]) => apply(invert(map), { x, y }));
  // A little more than is seen, so that no filter meets the cut.
  const span = (values: readonly number[], px: number): [number, number] => [
    Math.max(0, Math.min(...values) - 4 / px),
    Math.min(1, Math.max(...values) + 4 / px),
  ];
  const [[left, right], [top, bottom]] = [
    span(
      corners.map(({ x }) => x),
      width,
    ),
    span(
      corners.map(({ y }) => y),
      height,
    ),
  ];
  if (left >= right || top >= bottom) return null;
  // Twice the size it is seen at is enough.
  const { png, part } = await lookedAt(path, { left, top, right, bottom }, width * 2, height * 2);
  const size = await sharp(png).metadata();
  const place = compose(
    map,
    compose(
      translate(part.left, part.top),
      scale((part.right - part.left) / size.width, (part.bottom - part.top) / size.height),
    ),
  );
  const body = `<svg xmlns="http://www.w3.org/2000/svg" width="${grid.width}" height="${grid.height}"><g transform="matrix(${place.join(' ')})"><image width="${size.width}" height="${size.height}" preserveAspectRatio="none" href="data:image/png;base64,${png.toString('base64')}"/></g></svg>`;
  return sharp(Buffer.from(body), { unlimited: true }).ensureAlpha().raw({ depth: 'uchar' }).toBuffer();
}

function compare(
  found: Buffer,
  expected: Buffer,
  { width, height }: { width: number; height: number },
  { alpha, mode, ground: laidOn }: PrintRecipe,
  slack: number,
): Likeness {
  const { r, g, b } = rgbOf(laidOn ?? '#ffffff');
  const ground = alpha ? [128, 128, 128] : [r, g, b];
  const seen = (data: Buffer, i: number): number[] => {
    const share = data[i + 3] / 255;
    const colour = [0, 1, 2].map((k) => data[i + k] * share + ground[k] * (1 - share));
    // Grey as the file has it: of the eye's own weights, in light.
    if (mode !== 'grey') return [...colour, alpha ? data[i + 3] : 255];
    const lit =
      [0.2126, 0.7152, 0.0722].reduce((sum, weight, k) => sum + weight * (colour[k] / 255) ** 2.2, 0) ** (1 / 2.2) *
      255;
    return [lit, lit, lit, alpha ? data[i + 3] : 255];
  };
  const cells = new Float32Array(width * height);
  let [sum, differing, worst, at] = [0, 0, 0, 0];
  for (let n = 0; n < width * height; n++) {
    const [one, other] = [seen(found, n * 4), seen(expected, n * 4)];
    cells[n] = Math.max(0, ...one.map((value, k) => Math.abs(value - other[k]) - (k < 3 ? slack : 0)));
    sum += cells[n];
    if (cells[n] > SEEN) differing++;
  }
  // The worst place is where a neighbourhood differs, not a single cell.
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      let around = 0;
      for (let j = -1; j <= 1; j++) for (let i = -1; i <= 1; i++) around += cells[(y + j) * width + x + i];
      if (around > worst) {
        worst = around;
        at = y * width + x;
      }
    }
  }
  const share = differing / (width * height);
  const mean = sum / (width * height);
  const ok = share <= MOST_CELLS && mean <= MOST_MEAN && worst / 9 <= MOST_PLACE;
  return {
    differing: share,
    mean,
    ok,
    where: ok ? null : { x: ((at % width) + 0.5) / width, y: (Math.floor(at / width) + 0.5) / height },
  };
}
