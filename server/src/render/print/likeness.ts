import sharp from 'sharp';
import { apply, compose, invert, scale, translate, type Pixels } from '@kettle/core/geometry';
import { deltaE2000, encodedOf, labOf, luminance, rgbOf } from '@kettle/core/colour';
import { average, blendOver, flatten, screenInk, type Averaged } from '@kettle/core/raster';
import type { ColourConversion } from '@kettle/core/model';
import { reducedLayer, type PrintRecipe, type RecipeLayer } from '@kettle/core/recipes';
import { RESAMPLER } from './resampler.js';
import { looksOf, plainInksOf } from '../colour/colour-engine.js';
import { profileOf } from '../colour/profiles.js';
import type { Files } from '../artwork/files.js';
import { drawLayers, onWholePixels } from './draw-layers.js';
import type { Inks, Opened } from './formats/format.js';
import { shownFile, shownName, type ShownSource } from '../artwork/shown.js';
import { asWritten, type Part } from '../artwork/source.js';

/** Cells along the longest side of the grid that a file and a second drawing are compared on. */
const SIDE = 200;
/**
 * A cell is the mean of two cells' width, weighted by a triangle: no pattern of the art can beat with the grid, for what
 * is finer than a cell passes by less than a hundredth. What is averaged first is at least so many times finer.
 */
const FINER = 8;
/** Cells that a file's own pixels are averaged to before that, for one cell: nothing that could beat is left of them. */
const BOXES = 8;
/** Pixels that a second drawing in inks or grey has at most: those do not mix as sRGB does, so it is as fine as the file up to there. */
const MOST_EXACT = 2_000_000;
/** Pixels that a drawing of what differs from the first one has at most: art with grain, dots or thin stripes has another mean when it is drawn small. */
const MOST_OWN = 30_000_000;
/** Difference of a cell that is seen as another colour, levels. */
const SEEN = 12;
/** Share of cells that may differ by more: where turned edges meet. */
const MOST_CELLS = 0.005;
/**
 * Mean difference of nine neighbouring cells that no filter explains: something is there that should not be, or is not
 * where it should, or has another colour.
 */
const MOST_PLACE = 12;
/** The same of twenty-five cells that are off the same way, levels: another colour. */
const MOST_TINT = 8;
/**
 * Levels of that from which it is asked what the eye sees where the art is flat, and most that it may (CIEDE2000): near
 * grey few levels are another colour.
 */
const [LOOKED_AT, MOST_DELTA_E] = [3, 3];
/** Levels from cell to cell below which art is flat: where it has a pattern, inks mix a little otherwise when it is small. */
const FLAT = 1;
/** Mean difference that no rounding explains, levels. */
const MOST_MEAN = 2;

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

/** A grid in the proportions of a recipe's canvas. */
const sized = (recipe: PrintRecipe, side: number): Size => ({
  width: Math.max(1, Math.round((recipe.widthPx * side) / longestOf(recipe))),
  height: Math.max(1, Math.round((recipe.heightPx * side) / longestOf(recipe))),
});

/** Cells along the longest side: a cell is at least two pixels of the file, and a few dots where it is printed as dots. */
function sideFor(recipe: PrintRecipe): number {
  const longest = longestOf(recipe);
  const sides = recipe.layers.flatMap(({ screen }) =>
    screen?.kind === 'dots' ? [(longest * screen.lpi) / (screen.dpi * DOTS_PER_CELL)] : [],
  );
  return Math.max(8, Math.min(SIDE, ...[longest / 2, ...sides].map(Math.floor)));
}

/**
 * A finished file's pixels as the smaller picture that is compared, and how much of the file is wholly clear: its own
 * pixels need not be held while the design is drawn a second time.
 */
export function lookOver(pixels: Pixels, recipe: PrintRecipe): Averaged {
  const side = Math.min(Math.max(pixels.width, pixels.height), sideFor(recipe) * BOXES);
  return average(RESAMPLER, pixels, sized(recipe, side));
}

/**
 * Compares a finished file with a drawing of its recipe by another path: the original files go through libvips alone,
 * with its own colour management and filter, and the drawing is reduced to a grid of
 * {@link SIDE} cells as the file is. What both paths share is only the renderer of outlines, at another size, and blend
 * modes.
 * @param found what a reader found in the finished file: pixels, or inks, which are compared as inks
 * @param reader how the reader shows inks, where it found their colours, and by how much its way of showing may differ
 */
export async function likeness(
  recipe: PrintRecipe,
  files: Files,
  found: Pixels | Inks,
  reader: Pick<Opened, 'shows' | 'slack'> = {},
): Promise<Likeness> {
  const shown = await cellsOf(found, recipe, files);
  const { mode, widthPx, heightPx } = recipe;
  const most = longestOf(recipe);
  const within = (pixels: number): number => most * Math.min(1, Math.sqrt(pixels / (widthPx * heightPx)));
  const coarse = mode === 'rgb' ? Math.min(most, sideFor(recipe) * FINER) : within(MOST_EXACT);
  const first = await likenessAt({ finer: 2, side: coarse }, recipe, files, shown, reader);
  if (first.ok || !recipe.layers.some(({ sha256 }) => sha256 !== null)) return first;
  // Some SVG is drawn otherwise at another size too: hairlines that nearly vanish, filters that count pixels.
  const second = await likenessAt({ finer: 1, side: within(MOST_OWN) }, recipe, files, shown, reader);
  return second.ok ? second : first;
}

/** @param at longer side of the second drawing, px, and how much finer than that its pictures are drawn before */
async function likenessAt(
  { finer, side }: { readonly finer: number; readonly side: number },
  recipe: PrintRecipe,
  files: Files,
  found: Float32Array,
  { shows, slack = { edges: 0, colours: 0 } }: Pick<Opened, 'shows' | 'slack'>,
): Promise<Likeness> {
  const grid = sized(recipe, sideFor(recipe));
  const { widthPx, heightPx } = recipe;
  const fine = sized(recipe, side);
  const toFine = scale(fine.width / widthPx, fine.height / heightPx);
  const drawn = await drawnApart(
    recipe.layers.map((layer) =>
      reducedLayer(layer.sha256 === null ? layer : { ...layer, map: onWholePixels(layer.map) }, toFine),
    ),
    fine,
    files,
    finer,
  );
  if (!recipe.alpha) flatten({ ...fine, data: drawn }, rgbOf(recipe.ground ?? '#ffffff'));
  if (recipe.mode === 'grey') greyed(drawn);
  let expected: Pixels | Inks = { ...fine, data: drawn };
  if (recipe.conversion) {
    const inks = await inked(expected, recipe.conversion, files);
    expected = shows ? await shows(inks) : inks;
  }
  return compare(found, await cellsOf(expected, recipe, files), grid, recipe, slack);
}

/** Pixels or inks as the cells that are compared. */
async function cellsOf(one: Pixels | Inks, recipe: PrintRecipe, files: Files): Promise<Float32Array> {
  const grid = sized(recipe, sideFor(recipe));
  if ('alpha' in one) return shownInks(smoothed(one, one.alpha ? 5 : 4, grid, one.alpha), recipe.conversion!, files);
  const isSmall = Math.max(one.width, one.height) <= sideFor(recipe) * BOXES;
  return smoothed(isSmall ? one : lookOver(one, recipe), 4, grid, true);
}

/** Colours as grey: what they are worth to the eye, in linear light (ITU-R BT.709, 3.2). */
function greyed(rgba: Buffer): void {
  for (let i = 0; i < rgba.length; i += 4) {
    const light = luminance({ r: rgba[i], g: rgba[i + 1], b: rgba[i + 2] });
    rgba.fill(Math.round(encodedOf(light) * 255), i, i + 3);
  }
}

/** A drawing in the inks of its print, by Little CMS: what the file is compared with took another way to them. */
async function inked({ width, height, data }: Pixels, conversion: ColourConversion, files: Files): Promise<Inks> {
  const inks = await plainInksOf(data, await profileOf(conversion, files), conversion);
  const both = new Uint8Array(width * height * 5);
  for (let i = 0; i < width * height; i++) {
    for (let k = 0; k < 4; k++) both[i * 5 + k] = inks[i * 4 + k];
    both[i * 5 + 4] = data[i * 4 + 3];
  }
  return { width, height, data: both, alpha: true };
}

/** What cells of inks look like on paper, laid on alpha as colours are. */
async function shownInks(cells: Float32Array, conversion: ColourConversion, files: Files): Promise<Float32Array> {
  const count = cells.length / 5;
  const inks = new Uint16Array(count * 4);
  for (let i = 0; i < count; i++)
    for (let k = 0; k < 4; k++)
      inks[i * 4 + k] = cells[i * 5 + 4] ? Math.min(65535, (cells[i * 5 + k] / cells[i * 5 + 4]) * 65535) : 0;
  const seen = await looksOf(inks, await profileOf(conversion, files), false);
  const shown = new Float32Array(count * 4);
  for (let i = 0; i < count; i++) {
    const share = cells[i * 5 + 4] / 255;
    for (let k = 0; k < 3; k++) shown[i * 4 + k] = (seen[i * 3 + k] / 257) * share;
    shown[i * 4 + 3] = cells[i * 5 + 4];
  }
  return shown;
}

/** Which cell each pixel of a row or column begins in, and the share of it that belongs to the next one, 0 to 1. */
interface Spread {
  readonly at: Int32Array;
  readonly share: Float32Array;
}

/**
 * Adds a row of RGBA to the cells of a row, multiplied by alpha. What is nearly every comparison is written out, and a
 * cell is written once: its pixels are all that is added, and what of them the next cell has.
 */
function gatherRgba(data: Uint8Array, { at, share }: Spread, row: Float32Array): void {
  const count = data.length / 4;
  for (let x = 0; x < count;) {
    const cell = at[x];
    let r = 0;
    let g = 0;
    let b = 0;
    let a = 0;
    let farR = 0;
    let farG = 0;
    let farB = 0;
    let farA = 0;
    for (; x < count && at[x] === cell; x++) {
      const from = x * 4;
      const red = data[from];
      const green = data[from + 1];
      const blue = data[from + 2];
      const alpha = data[from + 3];
      const far = share[x] * alpha;
      r += red * alpha;
      g += green * alpha;
      b += blue * alpha;
      a += alpha;
      farR += red * far;
      farG += green * far;
      farB += blue * far;
      farA += far;
    }
    const to = cell * 4;
    row[to] += (r - farR) / 255;
    row[to + 1] += (g - farG) / 255;
    row[to + 2] += (b - farB) / 255;
    row[to + 3] += a - farA;
    row[to + 4] += farR / 255;
    row[to + 5] += farG / 255;
    row[to + 6] += farB / 255;
    row[to + 7] += farA;
  }
}

/** The same for any number of channels. */
function gatherInks(
  data: Uint8Array,
  { at, share }: Spread,
  row: Float32Array,
  channels: number,
  alpha: boolean,
): void {
  const colours = alpha ? channels - 1 : channels;
  const step = colours + 1;
  for (let x = 0, from = 0; from < data.length; x++, from += channels) {
    const a = alpha ? data[from + colours] : 255;
    if (a === 0) continue;
    const to = at[x] * step;
    const far = (share[x] * a) / 255;
    const near = a / 255 - far;
    for (let k = 0; k < colours; k++) {
      row[to + k] += data[from + k] * near;
      row[to + step + k] += data[from + k] * far;
    }
    row[to + colours] += 255 * near;
    row[to + step + colours] += 255 * far;
  }
}

/**
 * A picture on a coarser grid, each cell the mean of its neighbourhood weighted by a triangle of two cells' width: each
 * pixel is divided between the two nearest cells, across and down.
 * @param channels values of a pixel, the last one alpha if it has any
 * @returns values from 0 to 255, those of colours or inks multiplied by alpha; alpha is the last one, always
 */
function smoothed(
  { width, height, data }: Size & { readonly data: Uint8Array | Uint8ClampedArray },
  channels: number,
  grid: Size,
  alpha: boolean,
): Float32Array {
  const colours = alpha ? channels - 1 : channels;
  const step = colours + 1;
  const spread = (length: number, cells: number): Spread & { readonly sum: Float32Array } => {
    const [at, share, sum] = [new Int32Array(length), new Float32Array(length), new Float32Array(cells + 1)];
    for (let i = 0; i < length; i++) {
      const place = Math.max(0, Math.min(cells - 1, ((i + 0.5) * cells) / length - 0.5));
      at[i] = Math.floor(place);
      share[i] = place - at[i];
      sum[at[i]] += 1 - share[i];
      sum[at[i] + 1] += share[i];
    }
    return { at, share, sum };
  };
  const [across, down] = [spread(width, grid.width), spread(height, grid.height)];
  const out = new Float32Array((grid.height + 1) * grid.width * step);
  const row = new Float32Array((grid.width + 1) * step);
  const gather = colours === 3 && alpha ? gatherRgba : gatherInks;
  // One kind of array, whoever made it: the loop over all pixels is translated for that alone.
  const bytes = new Uint8Array(data.buffer, data.byteOffset, data.length);
  for (let y = 0; y < height; y++) {
    row.fill(0);
    gather(bytes.subarray(y * width * channels, (y + 1) * width * channels), across, row, channels, alpha);
    const [far, near] = [down.share[y], 1 - down.share[y]];
    const to = down.at[y] * grid.width * step;
    for (let i = 0; i < grid.width * step; i++) {
      out[to + i] += row[i] * near;
      out[to + grid.width * step + i] += row[i] * far;
    }
  }
  for (let y = 0; y < grid.height; y++)
    for (let x = 0; x < grid.width; x++)
      for (let k = 0; k < step; k++) out[(y * grid.width + x) * step + k] /= across.sum[x] * down.sum[y];
  return out.subarray(0, grid.height * grid.width * step);
}

/**
 * The layers laid on each other by libvips. Its blend modes differ from those of the W3C where something is
 * translucent, so those are ours, which browsers agree with.
 */
async function drawnApart(layers: readonly RecipeLayer[], grid: Size, files: Files, finer: number): Promise<Buffer> {
  let canvas: Buffer = Buffer.alloc(grid.width * grid.height * 4);
  let empty = true;
  for (const layer of layers) {
    const own =
      layer.sha256 === null
        ? await outlines(layer, grid, files)
        : await picture({ ...layer, sha256: layer.sha256 }, grid, files[layer.sha256], finer);
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

const MOST_LOOKED_AT = 4;
/** Looks are as large as wanted or a little larger: multiples of this, px. */
const LOOK_STEP = 128;
const looks = new Map<string, ReturnType<typeof asWritten>>();

/** An artwork file by libvips alone, kept for the other targets of a design that follow. */
async function lookedAt(
  shown: ShownSource,
  path: string,
  part: Part,
  px: Size,
  finer: number,
): ReturnType<typeof asWritten> {
  // Targets of one design are nearly as large as each other: one look serves them all.
  const step = finer === 1 ? 1 : LOOK_STEP;
  const wanted = [px.width, px.height].map((side) => Math.ceil(side / step) * step);
  const read = () => shownFile(shown, path).then((file) => asWritten(file, part, wanted[0], wanted[1], finer));
  // One as fine as a whole print file is too large to be kept.
  if (finer === 1) return read();
  const key = [shownName(shown), part.left, part.top, part.right, part.bottom, ...wanted, finer].join(' ');
  let look = looks.get(key);
  if (look) looks.delete(key);
  else look = read();
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
  { map, rubbed, ...shown }: ShownSource & Pick<RecipeLayer, 'map' | 'rubbed'>,
  grid: Size,
  path: string,
  finer: number,
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
  const { png, part } = await lookedAt(shown, path, { left, top, right, bottom }, { width, height }, finer);
  const [w, h] = [(part.right - part.left) * map[0], (part.bottom - part.top) * map[3]];
  const [left0, top0] = [map[4] + part.left * map[0], map[5] + part.top * map[3]];
  const isWhole = (value: number): boolean => Math.abs(value - Math.round(value)) < 1e-3;
  // What lies upright on whole pixels needs no renderer.
  if (!rubbed && map[1] === 0 && map[2] === 0 && w > 0 && h > 0 && [w, h, left0, top0].every(isWhole))
    return laid(
      png,
      { left: Math.round(left0), top: Math.round(top0), width: Math.round(w), height: Math.round(h) },
      grid,
    );
  const size = await sharp(png).metadata();
  const place = compose(
    map,
    compose(
      translate(part.left, part.top),
      scale((part.right - part.left) / size.width, (part.bottom - part.top) / size.height),
    ),
  );
  // What was rubbed out is black on the white of a mask.
  const mask = rubbed
    ? `<mask id="r" maskUnits="userSpaceOnUse" x="0" y="0" width="${grid.width}" height="${grid.height}"><rect width="${grid.width}" height="${grid.height}" fill="#fff"/><g transform="matrix(${compose(map, scale(1 / rubbed.view.width, 1 / rubbed.view.height)).join(' ')})">${rubbed.body}</g></mask>`
    : '';
  const body = `<svg xmlns="http://www.w3.org/2000/svg" width="${grid.width}" height="${grid.height}">${mask}<g${mask && ' mask="url(#r)"'}><g transform="matrix(${place.join(' ')})"><image width="${size.width}" height="${size.height}" preserveAspectRatio="none" href="data:image/png;base64,${png.toString('base64')}"/></g></g></svg>`;
  return sharp(Buffer.from(body), { unlimited: true }).ensureAlpha().raw({ depth: 'uchar' }).toBuffer();
}

/** A picture in a box on an empty grid, px. */
async function laid(
  png: Buffer,
  { left, top, width, height }: Size & { readonly left: number; readonly top: number },
  grid: Size,
): Promise<Buffer> {
  const image = sharp(png).ensureAlpha();
  const own = await image.metadata();
  if (own.width !== width || own.height !== height) image.resize({ width, height, fit: 'fill' });
  const data = await image.raw().toBuffer();
  const out = Buffer.alloc(grid.width * grid.height * 4);
  const [from, to] = [Math.max(0, left), Math.min(grid.width, left + width)];
  for (let y = Math.max(0, top); to > from && y < Math.min(grid.height, top + height); y++) {
    const row = ((y - top) * width - left) * 4;
    data.copy(out, (y * grid.width + from) * 4, row + from * 4, row + to * 4);
  }
  return out;
}

function compare(
  found: Float32Array,
  expected: Float32Array,
  { width, height }: Size,
  { alpha, ground: laidOn }: PrintRecipe,
  slack: NonNullable<Opened['slack']>,
): Likeness {
  const { r, g, b } = rgbOf(laidOn ?? '#ffffff');
  const ground = alpha ? [128, 128, 128] : [r, g, b];
  const seen = (cells: Float32Array, i: number): number[] => {
    const clear = 1 - cells[i + 3] / 255;
    return [...[0, 1, 2].map((k) => cells[i + k] + ground[k] * clear), alpha ? cells[i + 3] : 255];
  };
  const cells = new Float32Array(width * height);
  const [signed, meant] = [new Float32Array(width * height * 4), new Float32Array(width * height * 4)];
  let [sum, differing] = [0, 0];
  for (let n = 0; n < width * height; n++) {
    const [one, other] = [seen(found, n * 4), seen(expected, n * 4)];
    for (let k = 0; k < 4; k++) {
      const off = one[k] - other[k];
      signed[n * 4 + k] = off;
      meant[n * 4 + k] = other[k];
      cells[n] = Math.max(cells[n], Math.abs(off) - slack.edges);
    }
    sum += cells[n];
    if (cells[n] > SEEN) differing++;
  }
  // How much colours change from cell to cell. Readers that draw pictures between pixels are off there, and only there.
  const steep = new Float32Array(width * height);
  for (let y = 1; y < height; y++)
    for (let x = 1; x < width; x++) {
      const n = y * width + x;
      for (let k = 0; k < 4; k++)
        for (const before of [n - 1, n - width])
          steep[n] = Math.max(steep[n], Math.abs(meant[n * 4 + k] - meant[before * 4 + k]));
    }
  // Where something differs, its neighbourhood does; where it has another colour, all of it is off the same way.
  let [gravest, at] = [0, 0];
  const around = (values: Float32Array, step: number, k: number, x: number, y: number, reach: number): number => {
    let total = 0;
    for (let j = -reach; j <= reach; j++)
      for (let i = -reach; i <= reach; i++) total += values[((y + j) * width + x + i) * step + k];
    return total / (2 * reach + 1) ** 2;
  };
  /** How far twenty-five cells are off the same way, as a share of what they may. */
  const tinted = (x: number, y: number): number => {
    const off = [0, 1, 2, 3].map((k) => around(signed, 4, k, x, y, 2));
    const slope = around(steep, 1, 0, x, y, 2);
    const levels = Math.max(...off.map(Math.abs)) - slack.colours - Math.min(slack.slopes ?? 0, slope);
    if (levels < LOOKED_AT || slope > FLAT || slack.colours) return levels / MOST_TINT;
    const middle = [0, 1, 2].map((k) => around(meant, 4, k, x, y, 2));
    const [one, other] = [middle, middle.map((value, k) => value + off[k])].map((values) => {
      const [r, g, b] = values.map((value) => Math.max(0, Math.min(255, Math.round(value))));
      return labOf({ r, g, b });
    });
    return Math.max(levels / MOST_TINT, deltaE2000(one, other) / MOST_DELTA_E);
  };
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const isInside = x > 1 && y > 1 && x < width - 2 && y < height - 2;
      const grave = Math.max(around(cells, 1, 0, x, y, 1) / MOST_PLACE, isInside ? tinted(x, y) : 0);
      if (grave > gravest) {
        gravest = grave;
        at = y * width + x;
      }
    }
  const share = differing / (width * height);
  const mean = sum / (width * height);
  const ok = share <= MOST_CELLS && mean <= MOST_MEAN && gravest <= 1;
  return {
    differing: share,
    mean,
    ok,
    where: ok ? null : { x: ((at % width) + 0.5) / width, y: (Math.floor(at / width) + 0.5) / height },
  };
}
