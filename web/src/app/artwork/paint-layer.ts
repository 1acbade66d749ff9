import {
  compose,
  keylinesUnder,
  marksOf,
  gradientLine,
  layerToPixels,
  MITRE_LIMIT,
  MM_PER_INCH,
  repeatOnCanvas,
  tilesOf,
  type Affine,
  type Box,
  type DesignDocument,
  type Drawing,
  type Layer,
  type Mark,
  type Paint,
  type PictureLayer,
} from '@kettle/core';

import { paintKeyline } from './paint-keyline';

export type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;
export type ImageOf = (layer: PictureLayer) => CanvasImageSource | null;

/** Most pixels of a sheet that a layer is put together on before it is laid on the canvas. */
const MOST_SHEET = 4096;

/**
 * Paints a layer into the unit square: a picture's rendition, or the very marks that a print file gets. False while a
 * picture is still coming.
 */
export function paintLayer(context: Context, layer: Layer, imageOf: ImageOf): boolean {
  const drawing = marksOf(layer);
  if (!drawing) {
    const image = imageOf(layer as PictureLayer);
    if (image) context.drawImage(image, 0, 0, 1, 1);
    return image !== null;
  }
  context.scale(1 / drawing.box.width, 1 / drawing.box.height);
  context.translate(-drawing.box.x, -drawing.box.y);
  const plain =
    drawing.marks.length < 2 ||
    (context.globalAlpha === 1 &&
      context.globalCompositeOperation === 'source-over' &&
      !drawing.marks.some((mark) => mark.erase));
  if (plain) for (const mark of drawing.marks) paintMark(context, mark, drawing.box);
  else paintTogether(context, drawing);
  return true;
}

/**
 * Marks that take away from each other, or that are faded or blended as one, are put together on a sheet of their own
 * first.
 */
function paintTogether(context: Context, { marks, box, reach }: Drawing): void {
  const { a, b, c, d } = context.getTransform();
  const whole = { x: box.x - reach, y: box.y - reach, width: box.width + 2 * reach, height: box.height + 2 * reach };
  const [across, down] = [Math.hypot(a, b), Math.hypot(c, d)];
  const width = Math.max(1, Math.min(MOST_SHEET, Math.ceil(whole.width * across)));
  const height = Math.max(1, Math.min(MOST_SHEET, Math.ceil(whole.height * down)));
  const sheet = new OffscreenCanvas(width, height);
  const own = sheet.getContext('2d')!;
  own.scale(width / whole.width, height / whole.height);
  own.translate(-whole.x, -whole.y);
  for (const mark of marks) paintMark(own, mark, box);
  context.drawImage(sheet, whole.x, whole.y, whole.width, whole.height);
}

function paintMark(context: Context, { path: data, fill, rule, line, opacity, erase }: Mark, box: Box): void {
  const path = new Path2D(data);
  context.save();
  if (erase) context.globalCompositeOperation = 'destination-out';
  context.globalAlpha *= opacity;
  if (fill !== null) {
    context.fillStyle = styleOf(context, fill, box);
    context.fill(path, rule ?? 'nonzero');
  }
  if (line) {
    if (line.within) context.clip(path);
    context.strokeStyle = line.hex;
    context.lineWidth = line.width;
    context.lineJoin = line.join === 'mitre' ? 'miter' : line.join;
    context.miterLimit = MITRE_LIMIT;
    context.lineCap = 'round';
    context.setLineDash([...line.dashes]);
    context.stroke(path);
  }
  context.restore();
}

function styleOf(context: Context, paint: Paint, { x, y, width, height }: Box): string | CanvasGradient {
  if (typeof paint === 'string') return paint;
  const { x1, y1, x2, y2, radius } = gradientLine(paint, width, height);
  const gradient =
    paint.kind === 'linear'
      ? context.createLinearGradient(x + x1, y + y1, x + x2, y + y2)
      : context.createRadialGradient(x + x1, y + y1, 0, x + x1, y + y1, radius);
  for (const { at, hex, opacity } of paint.stops)
    gradient.addColorStop(
      at,
      `${hex}${Math.round(opacity * 255)
        .toString(16)
        .padStart(2, '0')}`,
    );
  return gradient;
}

/** Layers with the lines around them. */
export type Keylined = Pick<DesignDocument, 'layers' | 'keyline' | 'keylines' | 'repeat'>;

/**
 * Draws layers on a 2D context whose pixels are `scale` to the mm of the canvas they lie on. The context should be
 * empty: layers blend with what is on it.
 */
export function drawLayers(
  context: Context,
  design: Keylined,
  toCanvas: Affine,
  scale: number,
  imageOf: ImageOf,
): void {
  context.imageSmoothingQuality = 'high';
  // What is repeated covers all that the context shows of the canvas.
  const { width, height } = context.canvas;
  const repeat = repeatOnCanvas(design, toCanvas, { x: 0, y: 0, width: width / scale, height: height / scale });
  for (const tile of repeat ? tilesOf(repeat) : [null])
    drawOnce(context, design, tile ? compose(tile, toCanvas) : toCanvas, scale, imageOf);
}

/** Draws the copies of repeated art without the art itself, on a context whose unit is the canvas's mm. */
export function drawCopies(context: Context, design: Keylined, toCanvas: Affine, frame: Box, imageOf: ImageOf): void {
  const repeat = repeatOnCanvas(design, toCanvas, frame);
  for (const tile of repeat ? tilesOf(repeat) : [])
    if (tile[0] < 0 || tile[3] < 0 || tile[4] ** 2 + tile[5] ** 2 > SAME_PLACE)
      drawOnce(context, design, compose(tile, toCanvas), 1, imageOf);
}

/** Square of what a copy that lies edge to edge may be moved by to be as large as it is, mm². */
const SAME_PLACE = 25;

function drawOnce(context: Context, design: Keylined, toCanvas: Affine, scale: number, imageOf: ImageOf): void {
  const keylines = keylinesUnder(design);
  const dpi = scale * MM_PER_INCH;
  for (const layer of design.layers) {
    if (layer.hidden) continue;
    for (const keyline of keylines.get(layer.id) ?? [])
      paintKeyline(
        context,
        keyline,
        (one) => layerToPixels(one, toCanvas, dpi),
        scale * Math.hypot(toCanvas[0], toCanvas[1]),
        imageOf,
      );
    context.save();
    context.transform(...layerToPixels(layer, toCanvas, dpi));
    context.globalAlpha = layer.opacity;
    context.globalCompositeOperation = compositeOf(layer);
    paintLayer(context, layer, imageOf);
    context.restore();
  }
}

/** A layer's blend mode as the canvas calls it. */
export const compositeOf = ({ blend }: Layer): GlobalCompositeOperation =>
  !blend || blend === 'normal' ? 'source-over' : blend;
