import sharp, { type Blend } from 'sharp';
import { compose, scale, type PrintRecipe, type Pixels, type RecipeLayer } from '@kettle/core';
import { drawLayers, type Files } from './draw-layers.js';
import { asWritten } from './source.js';

/** Side of the small drawing that a file is compared with, px: fine enough to show a lost edge row of a print, coarse enough to forgive filters. */
const SIDE = 200;
/** Difference of a cell that is seen as another colour, levels: filters and halves of pixels stay below. */
const SEEN = 28;
/** Share of cells that may differ by more: outlines finer than a cell are averaged differently. */
const MOST_CELLS = 0.015;
/** Mean difference of nine neighbouring cells that no filter explains: something is there that should not be, or is not where it should. */
const MOST_PLACE = 60;
/** Mean difference that no rounding explains, levels. */
const MOST_MEAN = 4;

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

/**
 * Compares a finished file with a drawing of its recipe by another path: the original files go through libvips alone, with its own colour management, filter
 * and blending, on a grid of {@link SIDE} px. What both paths share is only the renderer of outlines, at another size.
 * @param pixels of the finished file, as a reader found them
 */
export async function likeness(recipe: PrintRecipe, files: Files, pixels: Pixels): Promise<Likeness> {
  const factor = SIDE / Math.max(recipe.widthPx, recipe.heightPx);
  const grid = { width: Math.max(1, Math.round(recipe.widthPx * factor)), height: Math.max(1, Math.round(recipe.heightPx * factor)) };
  const toGrid = scale(grid.width / recipe.widthPx, grid.height / recipe.heightPx);
  const expected = await drawnApart(recipe.layers.map((layer) => ({ ...layer, map: compose(toGrid, layer.map) })), grid, files);
  const found = await sharp(pixels.data, { raw: { width: pixels.width, height: pixels.height, channels: 4 } }).resize(grid.width, grid.height, { kernel: 'linear', fit: 'fill' }).raw().toBuffer();
  return compare(found, expected, grid, recipe);
}

/** The layers laid on each other by libvips. */
async function drawnApart(layers: readonly RecipeLayer[], grid: { width: number; height: number }, files: Files): Promise<Buffer> {
  let canvas = await sharp({ create: { ...grid, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } }).raw().toBuffer();
  for (const layer of layers) {
    const own = layer.sha256 === null ? await outlines(layer, grid, files) : await picture(layer, grid, files[layer.sha256]);
    if (!own) continue;
    const faded = layer.opacity === 1 ? own : await sharp(own, raw(grid)).linear([1, 1, 1, layer.opacity], [0, 0, 0, 0]).raw().toBuffer();
    // libvips knows the separable modes; the four of hue and luminosity are compared as if they were none.
    const blend = VIPS_BLENDS[layer.blend ?? 'normal'];
    if (blend === undefined) return Buffer.alloc(0);
    canvas = await sharp(canvas, raw(grid)).composite([{ input: faded, ...raw(grid), blend }]).raw().toBuffer();
  }
  return canvas;
}

const raw = ({ width, height }: { width: number; height: number }) => ({ raw: { width, height, channels: 4 as const } });

const VIPS_BLENDS: Readonly<Record<string, Blend | undefined>> = {
  normal: 'over', multiply: 'multiply', screen: 'screen', overlay: 'overlay', darken: 'darken', lighten: 'lighten', 'color-dodge': 'colour-dodge', 'color-burn': 'colour-burn', 'hard-light': 'hard-light', 'soft-light': 'soft-light',
  difference: 'difference', exclusion: 'exclusion',
};

async function outlines(layer: RecipeLayer, grid: { width: number; height: number }, files: Files): Promise<Buffer> {
  const { blend: _blend, ...plain } = layer;
  return Buffer.from((await drawLayers(grid, [{ ...plain, opacity: 1 }], files, { subpixel: true })).data);
}

/** A picture as an SVG of one image, which librsvg turns, mirrors and filters as it likes. */
async function picture({ map }: RecipeLayer, grid: { width: number; height: number }, path: string): Promise<Buffer | null> {
  const [a, b, c, d, e, f] = map;
  const [width, height] = [Math.hypot(a, b), Math.hypot(c, d)];
  if (width < 0.5 || height < 0.5) return null;
  // Twice the size it is seen at is enough; a picture much larger than the canvas is not brought to its full size.
  const most = 1200;
  const small = await asWritten(path, Math.min(most, Math.ceil(width * 2)), Math.min(most, Math.ceil(height * 2)));
  const [mx, my] = [small.width, small.height];
  const body = `<svg xmlns="http://www.w3.org/2000/svg" width="${grid.width}" height="${grid.height}"><g transform="matrix(${[a / mx, b / mx, c / my, d / my, e, f].join(' ')})"><image width="${mx}" height="${my}" preserveAspectRatio="none" href="data:image/png;base64,${small.png.toString('base64')}"/></g></svg>`;
  return sharp(Buffer.from(body), { unlimited: true }).ensureAlpha().raw({ depth: 'uchar' }).toBuffer();
}

function compare(found: Buffer, expected: Buffer, { width, height }: { width: number; height: number }, { alpha, mode }: PrintRecipe): Likeness {
  // A design with modes that the second path lacks cannot be compared: it says so by finding nothing.
  if (!expected.length) return { differing: 0, mean: 0, ok: true, where: null };
  const ground = alpha ? [128, 128, 128] : [255, 255, 255];
  const seen = (data: Buffer, i: number): number[] => {
    const share = data[i + 3] / 255;
    const colour = [0, 1, 2].map((k) => data[i + k] * share + ground[k] * (1 - share));
    // Grey as the file has it: of the eye's own weights, in light.
    if (mode !== 'grey') return [...colour, alpha ? data[i + 3] : 255];
    const lit = [0.2126, 0.7152, 0.0722].reduce((sum, weight, k) => sum + weight * (colour[k] / 255) ** 2.2, 0) ** (1 / 2.2) * 255;
    return [lit, lit, lit, alpha ? data[i + 3] : 255];
  };
  const cells = new Float32Array(width * height);
  let [sum, differing, worst, at] = [0, 0, 0, 0];
  for (let n = 0; n < width * height; n++) {
    const [one, other] = [seen(found, n * 4), seen(expected, n * 4)];
    cells[n] = Math.max(...one.map((value, k) => Math.abs(value - other[k])));
    sum += cells[n];
    if (cells[n] > SEEN) differing++;
  }
  // The worst place is where a neighbourhood differs, not a single cell.
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      let around = 0;
      for (let j = -1; j <= 1; j++) for (let i = -1; i <= 1; i++) around += cells[(y + j) * width + x + i];
      if (around > worst) { worst = around; at = y * width + x; }
    }
  }
  const share = differing / (width * height);
  const mean = sum / (width * height);
  const ok = share <= MOST_CELLS && mean <= MOST_MEAN && worst / 9 <= MOST_PLACE;
  return { differing: share, mean, ok, where: ok ? null : { x: ((at % width) + 0.5) / width, y: (Math.floor(at / width) + 0.5) / height } };
}
