import sharp from 'sharp';
import {
  apply,
  average,
  blendOver,
  compose,
  flatten,
  invert,
  reducedLayer,
  rgbOf,
  scale,
  screenInk,
  translate,
  type Averaged,
  type ColourConversion,
  type PrintRecipe,
  type Pixels,
  type RecipeLayer,
} from '@kettle/core';
import { RESAMPLER } from '../resampler.js';
import { inksOf, looksOf } from '../press/colour-engine.js';
import { profileOf } from '../press/profiles.js';
import { drawLayers, onWholePixels, type Files } from './draw-layers.js';
import { shownFile, shownName, type ShownSource } from '../artwork/shown.js';
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

interface Size {
  readonly width: number;
  readonly height: number;
}

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

const longestOf = ({ widthPx, heightPx }: PrintRecipe): number => Math.max(widthPx, heightPx);

/** A small grid in the proportions of a recipe's canvas. */
const sized = (recipe: PrintRecipe, side: number): Size => ({
  width: Math.max(1, Math.round((recipe.widthPx * side) / longestOf(recipe))),
  height: Math.max(1, Math.round((recipe.heightPx * side) / longestOf(recipe))),
});

function sideFor(recipe: PrintRecipe): number {
  const longest = longestOf(recipe);
  const sides = recipe.layers.flatMap(({ screen }) =>
    screen?.kind === 'dots' ? [(longest * screen.lpi) / (screen.dpi * DOTS_PER_CELL)] : [],
  );
  return Math.max(8, Math.min(SIDE, ...sides.map(Math.floor)));
}

/**
 * A finished file's pixels as the small picture that is compared, and how much of the file is wholly clear: its own
 * pixels need not be held while the design is drawn a second time.
 */
export const lookOver = (pixels: Pixels, recipe: PrintRecipe): Averaged =>
  average(RESAMPLER, pixels, sized(recipe, sideFor(recipe)));

/**
 * Compares a finished file with a drawing of its recipe by another path: the original files go through libvips alone,
 * with its own colour management and filter,
 * and the drawing is reduced to a grid of {@link SIDE} px as the file is. What both paths share is only the renderer
 * of outlines, at another size, and blend modes.
 * @param pixels of the finished file, as a reader found them
 * @param slack levels of colour by which the reader's own way of showing inks may differ
 */
export async function likeness(recipe: PrintRecipe, files: Files, pixels: Pixels, slack = 0): Promise<Likeness> {
  const [grid, fine] = [sized(recipe, sideFor(recipe)), sized(recipe, Math.min(longestOf(recipe), SIDE * FINER))];
  const toFine = scale(fine.width / recipe.widthPx, fine.height / recipe.heightPx);
  const drawn = await drawnApart(
    recipe.layers.map((layer) =>
      reducedLayer(layer.sha256 === null ? layer : { ...layer, map: onWholePixels(layer.map) }, toFine),
    ),
    fine,
    files,
  );
  const found = average(RESAMPLER, pixels, grid).data;
  const expected = average(RESAMPLER, { ...fine, data: drawn }, grid).data;
  if (!recipe.alpha) flatten({ ...grid, data: expected }, rgbOf(recipe.ground ?? '#ffffff'));
  if (recipe.conversion) await asPrinted(expected, recipe.conversion, files);
  return compare(found, expected, grid, recipe, slack);
}

/** Colours as they will look in the inks of the print: what the file is compared with has gone through them too. */
async function asPrinted(rgba: Pixels['data'], conversion: ColourConversion, files: Files): Promise<void> {
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
async function drawnApart(layers: readonly RecipeLayer[], grid: Size, files: Files): Promise<Buffer> {
  let canvas: Buffer = Buffer.alloc(grid.width * grid.height * 4);
  let empty = true;
  for (const layer of layers) {
    const own =
      layer.sha256 === null
        ? await outlines(layer, grid, files)
        : await picture({ ...layer, sha256: layer.sha256 }, grid, files[layer.sha256]);
    if (!own) continue;
    // Dots are as pale as the ink they stand for once both are reduced; what was made solid is solid here too.
    const solid = layer.screen?.kind === 'solid' ? layer.screen : null;
    if (solid) {
      for (let i = 3; i < own.length; i += 4) own[i] = Math.round(own[i] * layer.opacity);
      screenInk({ ...grid, data: own }, solid, 300);
    }
    const opacity = solid ? 1 : layer.opacity;
    const first = empty;
    empty = false;
    if (layer.blend) {
      blendOver({ ...grid, data: canvas }, { ...grid, data: own }, 0, 0, opacity, layer.blend);
      continue;
    }
    const faded =
      opacity === 1 ? own : await sharp(own, raw(grid)).linear([1, 1, 1, opacity], [0, 0, 0, 0]).raw().toBuffer();
    // On nothing a layer is what it is.
    if (first) canvas = faded;
    else
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

async function outlines(layer: RecipeLayer, grid: Size, files: Files): Promise<Buffer> {
  const { blend: _blend, screen: _screen, ...plain } = layer;
  return Buffer.from((await drawLayers(grid, [{ ...plain, opacity: 1 }], files, { subpixel: true })).data);
}

/** Sizes that pictures are looked at in, px: targets of one design that differ little share one. */
const SIZES = [200, 280, 400, 560, 800, 1120, 1600];
const MOST_LOOKED_AT = 4;
const looks = new Map<string, ReturnType<typeof asWritten>>();

/** An artwork file by libvips alone, kept for the other targets of a design that follow. */
async function lookedAt(shown: ShownSource, path: string, part: Part, px: Size): ReturnType<typeof asWritten> {
  const wanted = [px.width, px.height].map((side) => SIZES.find((size) => size >= side) ?? Math.ceil(side));
  const key = [shownName(shown), part.left, part.top, part.right, part.bottom, ...wanted].join(' ');
  let look = looks.get(key);
  if (look) looks.delete(key);
  else look = shownFile(shown, path).then((file) => asWritten(file, part, wanted[0], wanted[1]));
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
  { map, ...shown }: ShownSource & Pick<RecipeLayer, 'map'>,
  grid: Size,
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
  // The size it is seen at is enough: the grid that is compared is four times coarser.
  const { png, part } = await lookedAt(shown, path, { left, top, right, bottom }, { width, height });
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
  found: Pixels['data'],
  expected: Pixels['data'],
  { width, height }: { width: number; height: number },
  { alpha, mode, ground: laidOn }: PrintRecipe,
  slack: number,
): Likeness {
  const { r, g, b } = rgbOf(laidOn ?? '#ffffff');
  const ground = alpha ? [128, 128, 128] : [r, g, b];
  const seen = (data: Pixels['data'], i: number): number[] => {
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
