import { compose, invert, mapBox, scale, translate, type Affine, type Box, type Pixels } from '@kettle/core/geometry';
import {
  blendOver,
  copyInto,
  drawOver,
  finestScreen,
  screenInk,
  stretch,
  takeOut,
  turn,
  type Span,
} from '@kettle/core/raster';
import type { DrawingStep } from '@kettle/core/drawing';
import type { RecipeKeyline, RecipeLayer } from '@kettle/core/recipes';
import { RESAMPLER } from './resampler.js';
import type { Files } from '../artwork/files.js';
import { drawKeyline } from './draw-keyline.js';
import { readShown } from '../artwork/shown.js';
import { drawOwnSvg, drawSvg } from '../artwork/source.js';

/**
 * Layers that are drawn before their turn: two keep both cores of a small machine busy, more would only take memory.
 */
const AHEAD = 3;

/** A picture that was turned or resized, with where its top left corner goes. */
export interface Placed {
  readonly pixels: Pixels;
  readonly left: number;
  readonly top: number;
}

/**
 * Draws a recipe's layers, back to front, on a transparent grid. Every picture is resampled once, from its original.
 * @param options.subpixel places pictures between pixels too. A print file is fine enough for whole pixels, which
 * keep art untouched at its own
 *   size; on a small grid half a pixel would be seen.
 * @param options.light reduces upright pictures in linear light, as a camera would see them: for pictures of products
 * @param options.drawn hears how many layers are drawn
 */
export async function drawLayers(
  grid: { width: number; height: number },
  layers: readonly RecipeLayer[],
  files: Files,
  {
    subpixel = false,
    light = false,
    drawn,
  }: { subpixel?: boolean; light?: boolean; drawn?: (count: number) => void } = {},
): Promise<Pixels> {
  const canvas: Pixels = { ...grid, data: Buffer.alloc(grid.width * grid.height * 4) };
  let empty = true;
  // A few layers are drawn ahead while others are laid on.
  const coming: Promise<Placed | null>[] = [];
  for (const [i, layer] of layers.entries()) {
    while (coming.length < AHEAD && i + coming.length < layers.length) {
      const at = i + coming.length;
      // What comes first and covers nothing is drawn where it stays.
      const into = at === 0 && opacityOf(layers[0]) === 1 ? canvas : undefined;
      const next = placeLayer(layers[at], files, grid, { subpixel, light, into });
      // A failure is met when its turn comes.
      next.catch(() => undefined);
      coming.push(next);
    }
    const placed = await coming.shift()!;
    const opacity = opacityOf(layer);
    if (placed?.pixels === canvas) empty = false;
    else if (placed && empty && opacity === 1) copyInto(canvas, placed.pixels, placed.left, placed.top);
    else if (placed && layer.blend) blendOver(canvas, placed.pixels, placed.left, placed.top, opacity, layer.blend);
    else if (placed) drawOver(canvas, placed.pixels, placed.left, placed.top, opacity);
    if (placed) empty = false;
    drawn?.(i + 1);
  }
  return canvas;
}

/**
 * The recipe's layers as they lie on a grid, cut to it and with their opacity in their alpha, without a canvas of
 * their own: for grids too large to
 * hold in memory.
 */
export async function placedLayers(
  grid: { width: number; height: number },
  layers: readonly RecipeLayer[],
  files: Files,
): Promise<Placed[]> {
  const placed: Placed[] = [];
  for (const layer of layers) {
    const one = await placeLayer(layer, files, grid, {});
    const left = Math.max(0, one?.left ?? 0);
    const top = Math.max(0, one?.top ?? 0);
    const width = one ? Math.min(grid.width, one.left + one.pixels.width) - left : 0;
    const height = one ? Math.min(grid.height, one.top + one.pixels.height) - top : 0;
    if (!one || width <= 0 || height <= 0) continue;
    const cut: Pixels = { width, height, data: Buffer.alloc(width * height * 4) };
    drawOver(cut, one.pixels, one.left - left, one.top - top, opacityOf(layer));
    placed.push({ pixels: cut, left, top });
  }
  return placed;
}

/** What is left of a layer's opacity to be laid on with: none where its dots stand for it already. */
const opacityOf = ({ opacity, screen }: RecipeLayer): number => (screen ? 1 : opacity);

/** How a layer is drawn. */
interface Placing {
  readonly subpixel?: boolean;
  readonly light?: boolean;
  /** The empty grid, for what may be drawn where it stays. */
  readonly into?: Pixels;
}

/** A layer where it lies, its semi-transparent ink made solid where that was asked for. */
async function placeLayer(
  layer: RecipeLayer,
  files: Files,
  grid: { width: number; height: number },
  how: Placing,
): Promise<Placed | null> {
  const { screen, opacity } = layer;
  const placed = await placeUnscreened(layer, files, grid, screen || layer.rubbed ? { ...how, into: undefined } : how);
  if (!placed || !screen) return placed;
  const { pixels, left, top } = placed;
  const own: Pixels = { ...pixels, data: Uint8Array.from(pixels.data) };
  // The layer's own opacity is part of what a printer cannot hold.
  if (opacity < 1) for (let i = 3; i < own.data.length; i += 4) own.data[i] = Math.round(own.data[i] * opacity);
  // A small picture of the print cannot hold its dots: there semi-transparent ink stays as pale as they would look.
  if (screen.kind === 'solid' || screen.lpi <= finestScreen(screen.dpi)) screenInk(own, screen, screen.dpi, left, top);
  return { pixels: own, left, top };
}

async function placeUnscreened(
  { sha256, treated, drawing, rubbed, keyline, map }: RecipeLayer,
  files: Files,
  grid: { width: number; height: number },
  { subpixel = false, light = false, into }: Placing,
): Promise<Placed | null> {
  if (keyline)
    return { pixels: await drawKeyline(keyline, files, grid, (one) => drawAlone(one, files)), left: 0, top: 0 };
  const place = subpixel || sha256 === null ? map : onWholePixels(map);
  const window = windowOf(place, grid);
  if (!window || Math.hypot(map[0], map[1]) < 0.5 || Math.hypot(map[2], map[3]) < 0.5) return null;
  if (sha256 === null) return placeDrawing(drawing ?? [], map, window);
  const source = await readShown({ sha256, treated }, files[sha256]);
  const pixels =
    'svg' in source
      ? await drawSvg(source.svg, window, compose(translate(-window.x, -window.y), place))
      : placePicture(source.pixels, place, window, light, into);
  if (rubbed) {
    // A picture at its own size is the picture itself, which others read too.
    const own: Pixels = { ...pixels, data: Uint8Array.from(pixels.data) };
    takeOut(own, await drawStep(rubbed, place, window));
    return { pixels: own, left: window.x, top: window.y };
  }
  return pixels === into ? { pixels, left: 0, top: 0 } : { pixels, left: window.x, top: window.y };
}

/** How far a corner may be from upright, in px, for a picture to count as upright. */
const UPRIGHT = 0.25;

const isUpright = ([, b, c]: Affine): boolean => Math.abs(b) < UPRIGHT && Math.abs(c) < UPRIGHT;
const isOnItsSide = ([a, , , d]: Affine): boolean => Math.abs(a) < UPRIGHT && Math.abs(d) < UPRIGHT;

/** A span with both ends on whole pixels, at least one apart. Neighbours that share an edge still do. */
function wholeSpan(from: number, to: number): Span {
  const [first, last] = [Math.round(from), Math.round(to)];
  return { from: first, to: first === last ? first + Math.sign(to - from) : last };
}

/**
 * The map of an upright, mirrored or quarter-turned picture with its edges on whole pixels: a print is sharp there,
 * and abutting pictures leave no gap.
 */
export function onWholePixels(map: Affine): Affine {
  const [a, b, c, d, e, f] = map;
  if (isUpright(map)) {
    const [x, y] = [wholeSpan(e, e + a), wholeSpan(f, f + d)];
    return [x.to - x.from, 0, 0, y.to - y.from, x.from, y.from];
  }
  if (isOnItsSide(map)) {
    const [x, y] = [wholeSpan(e, e + c), wholeSpan(f, f + b)];
    return [0, y.to - y.from, x.to - x.from, 0, x.from, y.from];
  }
  return map;
}

/** Whole pixels of the grid that a mapped unit square touches. */
function windowOf(map: Affine, grid: { width: number; height: number }): Box | null {
  const box = mapBox(map, { x: 0, y: 0, width: 1, height: 1 });
  const [x, y] = [Math.max(0, Math.floor(box.x + 1e-6)), Math.max(0, Math.floor(box.y + 1e-6))];
  const [right, bottom] = [
    Math.min(grid.width, Math.ceil(box.x + box.width - 1e-6)),
    Math.min(grid.height, Math.ceil(box.y + box.height - 1e-6)),
  ];
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : null;
}

/**
 * The part of a picture that lies in a window, filtered once from its own pixels. @param into the empty grid, which an
 * upright picture may be written to and is then returned
 */
function placePicture(source: Pixels, map: Affine, window: Box, light: boolean, into?: Pixels): Pixels {
  const [a, b, c, d, e, f] = map;
  if (isUpright(map)) {
    const untouched = a === source.width && d === source.height && window.width === a && window.height === d;
    return untouched
      ? source
      : stretch(RESAMPLER, source, { from: e, to: e + a }, { from: f, to: f + d }, window, into, light);
  }
  // Turned: brought to its size first where it must be reduced, and only the part that the window sees.
  const [width, height] = [
    Math.min(source.width, Math.max(1, Math.round(Math.hypot(a, b)))),
    Math.min(source.height, Math.max(1, Math.round(Math.hypot(c, d)))),
  ];
  const seen = mapBox(compose(scale(width, height), invert(map)), window);
  const [left, top] = [Math.max(0, Math.floor(seen.x) - 3), Math.max(0, Math.floor(seen.y) - 3)];
  const part = {
    x: left,
    y: top,
    width: Math.min(width, Math.ceil(seen.x + seen.width) + 3) - left,
    height: Math.min(height, Math.ceil(seen.y + seen.height) + 3) - top,
  };
  if (part.width <= 0 || part.height <= 0)
    return { width: window.width, height: window.height, data: new Uint8Array(window.width * window.height * 4) };
  return turn(
    RESAMPLER,
    {
      pixels: stretch(RESAMPLER, source, { from: 0, to: width }, { from: 0, to: height }, part, undefined, light),
      left,
      top,
      width,
      height,
    },
    map,
    window,
  );
}

/**
 * A drawing of ours where it lies, turned and between pixels as it is: steps that add ink and steps that take it away.
 * Only what is on the grid is drawn.
 */
async function placeDrawing(steps: readonly DrawingStep[], map: Affine, window: Box): Promise<Placed | null> {
  let pixels: Pixels | null = null;
  for (const step of steps) {
    if (step.erase && !pixels) continue;
    const drawn = await drawStep(step, map, window);
    if (!pixels) pixels = drawn;
    else if (step.erase) takeOut(pixels, drawn);
    else drawOver(pixels, drawn, 0, 0);
  }
  return pixels && { pixels, left: window.x, top: window.y };
}

/** One step of a drawing in a window of the grid. */
function drawStep({ view, body }: DrawingStep, map: Affine, { x, y, width, height }: Box): Promise<Pixels> {
  const place = compose(translate(-x, -y), map, scale(1 / view.width, 1 / view.height), translate(-view.x, -view.y));
  return drawOwnSvg(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"><g transform="matrix(${place.join(' ')})">${body}</g></svg>`,
  );
}

/** Longer side of the copy that the line of half alpha is found on, px. */
const CONTOUR_SIDE = 1024;

/** A layer alone on a small grid of its own shape, for the line around what is seen of it. */
async function drawAlone(around: RecipeKeyline['around'][number], files: Files): Promise<Pixels> {
  const [a, b, c, d] = around.map;
  const size = { width: Math.hypot(a, b), height: Math.hypot(c, d) };
  const factor = CONTOUR_SIDE / Math.max(size.width, size.height);
  const width = Math.max(1, Math.round(size.width * factor));
  const height = Math.max(1, Math.round(size.height * factor));
  const { sha256 = null, treated, drawing, rubbed } = around;
  const layer: RecipeLayer = { sha256, treated, drawing, rubbed, map: [width, 0, 0, height, 0, 0], opacity: 1 };
  return drawLayers({ width, height }, [layer], files);
}
