import { Transformer, FastResizeFilter, ResizeFit } from '@napi-rs/image';
import sharp from 'sharp';
import { blendOver, compose, copyInto, drawOver, dropSpecks, scale, takeOut, translate, type Affine, type DrawingStep, type Pixels, type RecipeLayer } from '@kettle/core';
import { drawOwnSvg, drawSvg, readSource } from './source.js';

/** Local paths of artwork files by content hash. */
export type Files = Readonly<Record<string, string>>;

/** Layers that are drawn before their turn: two keep both cores of a small machine busy, more would only take memory. */
const AHEAD = 3;

/** A picture that was turned or resized, with where its top left corner goes. */
export interface Placed { readonly pixels: Pixels; readonly left: number; readonly top: number }

/**
 * Draws a recipe's layers, back to front, on a transparent grid. Every picture is resampled once, from its original.
 * @param options.subpixel places pictures between pixels too. A print file is fine enough for whole pixels, which keep art untouched at its own
 *   size; on a small grid half a pixel would be seen.
 */
export async function drawLayers(
  grid: { width: number; height: number }, layers: readonly RecipeLayer[], files: Files, { subpixel = false }: { subpixel?: boolean } = {},
): Promise<Pixels> {
  const canvas: Pixels = { ...grid, data: Buffer.alloc(grid.width * grid.height * 4) };
  let empty = true;
  // A few layers are drawn ahead while others are laid on.
  const coming: Promise<Placed | null>[] = [];
  for (const [i, layer] of layers.entries()) {
    while (coming.length < AHEAD && i + coming.length < layers.length) {
      const next = placeLayer(layers[i + coming.length], files, grid, subpixel);
      // A failure is met when its turn comes.
      next.catch(() => undefined);
      coming.push(next);
    }
    const placed = await coming.shift()!;
    if (placed && empty && layer.opacity === 1) copyInto(canvas, placed.pixels, placed.left, placed.top);
    else if (placed && layer.blend) blendOver(canvas, placed.pixels, placed.left, placed.top, layer.opacity, layer.blend);
    else if (placed) drawOver(canvas, placed.pixels, placed.left, placed.top, layer.opacity);
    if (placed) empty = false;
  }
  return canvas;
}

/**
 * The recipe's layers as they lie on a grid, cut to it and with their opacity in their alpha, without a canvas of their own: for grids too large to
 * hold in memory.
 */
export async function placedLayers(grid: { width: number; height: number }, layers: readonly RecipeLayer[], files: Files): Promise<Placed[]> {
  const placed: Placed[] = [];
  for (const layer of layers) {
    const one = await placeLayer(layer, files, grid, false);
    const left = Math.max(0, one?.left ?? 0);
    const top = Math.max(0, one?.top ?? 0);
    const width = one ? Math.min(grid.width, one.left + one.pixels.width) - left : 0;
    const height = one ? Math.min(grid.height, one.top + one.pixels.height) - top : 0;
    if (!one || width <= 0 || height <= 0) continue;
    const cut: Pixels = { width, height, data: Buffer.alloc(width * height * 4) };
    drawOver(cut, one.pixels, one.left - left, one.top - top, layer.opacity);
    placed.push({ pixels: cut, left, top });
  }
  return placed;
}

async function placeLayer({ sha256, drawing, map }: RecipeLayer, files: Files, grid: { width: number; height: number }, subpixel: boolean): Promise<Placed | null> {
  const [a, b, c, d, e, f] = map;
  const width = Math.hypot(a, b);
  const height = Math.hypot(c, d);
  const corners = [[0, 0], [1, 0], [0, 1], [1, 1]].map(([x, y]) => [a * x + c * y + e, b * x + d * y + f]);
  const left = Math.min(...corners.map(([x]) => x));
  const top = Math.min(...corners.map(([, y]) => y));
  const right = Math.max(...corners.map(([x]) => x));
  const bottom = Math.max(...corners.map(([, y]) => y));
  if (right <= 0 || bottom <= 0 || left >= grid.width || top >= grid.height || width < 0.5 || height < 0.5) return null;
  if (sha256 === null) return placeDrawing(drawing ?? [], map, grid, { left, top, right, bottom });
  const source = await readSource(sha256, files[sha256]);
  const upright = Math.abs(b) < 1e-3 && Math.abs(c) < 1e-3 && a > 0 && d > 0;
  if (upright && !subpixel) {
    const size = { width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) };
    if (!('pixels' in source)) return { pixels: await drawSvg(source.svg, size.width, size.height), left: Math.round(left), top: Math.round(top) };
    const cut = visiblePart(source.pixels, size, { left: Math.round(left), top: Math.round(top) }, grid);
    const pixels = await resized(cut.pixels, cut.width, cut.height);
    return { pixels, left: cut.left, top: cut.top };
  }
  // Turned, mirrored or between pixels: bring the picture to its size first (never enlarging a raster one here), then turn it with a bicubic filter.
  const pixels = !('pixels' in source) ? await drawSvg(source.svg, width, height)
    : await resized(source.pixels, Math.max(1, Math.min(source.pixels.width, Math.round(width))), Math.max(1, Math.min(source.pixels.height, Math.round(height))));
  return turned(pixels, [a / pixels.width, b / pixels.width, c / pixels.height, d / pixels.height, e, f]);
}

/** A drawing of ours where it lies, turned and between pixels as it is: steps that add ink and steps that take it away. Only what is on the grid is drawn. */
async function placeDrawing(steps: readonly DrawingStep[], map: Affine, grid: { width: number; height: number }, box: { left: number; top: number; right: number; bottom: number }): Promise<Placed | null> {
  const [left, top] = [Math.max(0, Math.floor(box.left)), Math.max(0, Math.floor(box.top))];
  const [width, height] = [Math.min(grid.width, Math.ceil(box.right)) - left, Math.min(grid.height, Math.ceil(box.bottom)) - top];
  let pixels: Pixels | null = null;
  for (const { view, body, erase } of steps) {
    if (erase && !pixels) continue;
    const place = compose(translate(-left, -top), map, scale(1 / view.width, 1 / view.height), translate(-view.x, -view.y));
    const step = await drawOwnSvg(`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"><g transform="matrix(${place.join(' ')})">${body}</g></svg>`);
    if (!pixels) pixels = step;
    else if (erase) takeOut(pixels, step);
    else drawOver(pixels, step, 0, 0);
  }
  return pixels && { pixels, left, top };
}

/** The part of a picture that lies on the grid, when most of it does not: resampling the rest would be wasted. */
function visiblePart(pixels: Pixels, size: { width: number; height: number }, at: { left: number; top: number }, grid: { width: number; height: number }) {
  const whole = { pixels, width: size.width, height: size.height, ...at };
  const seen = {
    x0: Math.max(0, -at.left), x1: Math.min(size.width, grid.width - at.left), y0: Math.max(0, -at.top), y1: Math.min(size.height, grid.height - at.top),
  };
  if (seen.x1 <= seen.x0 || seen.y1 <= seen.y0 || (seen.x1 - seen.x0) * (seen.y1 - seen.y0) * 1.5 > size.width * size.height) return whole;
  const [across, down] = [pixels.width / size.width, pixels.height / size.height];
  const margin = 8;
  const x0 = Math.max(0, Math.floor(seen.x0 * across) - margin);
  const x1 = Math.min(pixels.width, Math.ceil(seen.x1 * across) + margin);
  const y0 = Math.max(0, Math.floor(seen.y0 * down) - margin);
  const y1 = Math.min(pixels.height, Math.ceil(seen.y1 * down) + margin);
  const data = Buffer.alloc((x1 - x0) * (y1 - y0) * 4);
  for (let y = y0; y < y1; y++) data.set(pixels.data.subarray((y * pixels.width + x0) * 4, (y * pixels.width + x1) * 4), (y - y0) * (x1 - x0) * 4);
  return {
    pixels: { width: x1 - x0, height: y1 - y0, data }, left: at.left + Math.round(x0 / across), top: at.top + Math.round(y0 / down),
    width: Math.max(1, Math.round((x1 - x0) / across)), height: Math.max(1, Math.round((y1 - y0) / down)),
  };
}

/** Lanczos on premultiplied alpha, without the faint specks it rings outside edges. At its own size a picture is left untouched. */
async function resized(pixels: Pixels, width: number, height: number): Promise<Pixels> {
  if (pixels.width === width && pixels.height === height) return pixels;
  const data = await Transformer.fromRgbaPixels(pixels.data, pixels.width, pixels.height).fastResize({ width, height, filter: FastResizeFilter.Lanczos3, fit: ResizeFit.Fill }).rawPixels();
  const out = { width, height, data };
  dropSpecks(out);
  return out;
}

/**
 * A turned, mirrored or finely shifted picture. libvips maps pixel indices, while the recipe's map speaks of pixel edges: half a pixel is added before and
 * taken off after. Its output begins at the rounded corner of the turned picture.
 */
async function turned(pixels: Pixels, [a, b, c, d, e, f]: Affine): Promise<Placed> {
  const shift = [a * 0.5 + c * 0.5 + e - 0.5, b * 0.5 + d * 0.5 + f - 0.5];
  const whole = shift.map(Math.floor);
  const { data, info } = await sharp(pixels.data, { raw: { width: pixels.width, height: pixels.height, channels: 4 } })
    .affine([[a, c], [b, d]], { background: { r: 0, g: 0, b: 0, alpha: 0 }, interpolator: 'bicubic', odx: shift[0] - whole[0], ody: shift[1] - whole[1] })
    .raw().toBuffer({ resolveWithObject: true });
  const xs = [0, a * pixels.width, c * pixels.height, a * pixels.width + c * pixels.height];
  const ys = [0, b * pixels.width, d * pixels.height, b * pixels.width + d * pixels.height];
  return { pixels: { width: info.width, height: info.height, data }, left: whole[0] + Math.round(Math.min(...xs)), top: whole[1] + Math.round(Math.min(...ys)) };
}
