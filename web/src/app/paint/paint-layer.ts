import type { Box } from '@kettle/core/geometry';
import { gradientLine, type Layer, type Paint, type PictureLayer } from '@kettle/core/model';
import { MITRE_LIMIT, rubMarks, type Drawing, type Mark } from '@kettle/core/drawing';
import { marksOf } from '@kettle/core/layers';

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
    if (image) paintPicture(context, layer, image);
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

/** A picture, what was rubbed out of it taken away before it is laid on anything. */
function paintPicture(context: Context, layer: Layer, image: CanvasImageSource): void {
  if (!layer.rubbed) {
    context.drawImage(image, 0, 0, 1, 1);
    return;
  }
  const { width, height } = layer.place;
  const box = { x: 0, y: 0, width, height };
  context.scale(1 / width, 1 / height);
  paintOnSheet(context, box, (sheet) => {
    sheet.imageSmoothingQuality = 'high';
    sheet.drawImage(image, 0, 0, width, height);
    for (const mark of rubMarks(layer.rubbed!, box)) paintMark(sheet, mark, box);
  });
}

/**
 * Marks that take away from each other, or that are faded or blended as one, are put together on a sheet of their own
 * first.
 */
function paintTogether(context: Context, { marks, box, reach }: Drawing): void {
  const whole = { x: box.x - reach, y: box.y - reach, width: box.width + 2 * reach, height: box.height + 2 * reach };
  paintOnSheet(context, whole, (sheet) => {
    for (const mark of marks) paintMark(sheet, mark, box);
  });
}

/** Paints a box on a sheet of its own, as fine as the context has it, and lays that on the context. */
function paintOnSheet(context: Context, whole: Box, paint: (sheet: OffscreenCanvasRenderingContext2D) => void): void {
  const { a, b, c, d } = context.getTransform();
  const [across, down] = [Math.hypot(a, b), Math.hypot(c, d)];
  const width = Math.max(1, Math.min(MOST_SHEET, Math.ceil(whole.width * across)));
  const height = Math.max(1, Math.min(MOST_SHEET, Math.ceil(whole.height * down)));
  const sheet = new OffscreenCanvas(width, height);
  const own = sheet.getContext('2d')!;
  own.scale(width / whole.width, height / whole.height);
  own.translate(-whole.x, -whole.y);
  paint(own);
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
