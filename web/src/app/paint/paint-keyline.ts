import { compose, scale, translate, type Affine } from '@kettle/core/geometry';
import type { Keyline, Layer, PictureLayer } from '@kettle/core/model';
import {
  contourOf,
  inkPlace,
  isRubbed,
  KEYLINE_MITRE,
  keylineStrokes,
  marksOf,
  silhouettesOf,
  type KeylineAround,
  type KeylineStroke,
  type PlacedSilhouette,
} from '@kettle/core/layers';
import { paintLayer, type Context, type ImageOf } from './paint-layer';

/** Longer side of the copy that a picture's outline is found on, px. */
const CONTOUR_SIDE = 1024;

const outlines = new WeakMap<object, string>();

/** Outline of what is seen of a picture, found once for each image. */
function outlineOf(image: CanvasImageSource & { readonly width: number; readonly height: number }): string {
  let path = outlines.get(image);
  if (path === undefined) {
    const factor = Math.min(1, CONTOUR_SIDE / Math.max(image.width, image.height));
    const width = Math.max(1, Math.round(image.width * factor));
    const height = Math.max(1, Math.round(image.height * factor));
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    context.drawImage(image, 0, 0, width, height);
    path = contourOf({ width, height, data: context.getImageData(0, 0, width, height).data });
    outlines.set(image, path);
  }
  return path;
}

const seen = new WeakMap<Layer, { readonly image: unknown; readonly path: string }>();

/** Outline of what is seen of a layer out of which something was rubbed, on the unit square of its ink. */
function outlineOfRubbed(layer: Layer, imageOf: ImageOf): string | null {
  const image = marksOf(layer) ? null : imageOf(layer as PictureLayer);
  const known = seen.get(layer);
  if (known && known.image === image) return known.path;
  const ink = inkPlace(layer);
  const factor = CONTOUR_SIDE / Math.max(ink.width, ink.height);
  const width = Math.max(1, Math.round(ink.width * factor));
  const height = Math.max(1, Math.round(ink.height * factor));
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
  // The layer's own box lies in the middle of what its ink may reach.
  context.scale(width / ink.width, height / ink.height);
  context.translate((ink.width - layer.place.width) / 2, (ink.height - layer.place.height) / 2);
  context.scale(layer.place.width, layer.place.height);
  if (!paintLayer(context, layer, imageOf)) return null;
  const path = contourOf({ width, height, data: context.getImageData(0, 0, width, height).data });
  seen.set(layer, { image, path });
  return path;
}

function silhouettes(layer: Layer, place: Affine, imageOf: ImageOf): PlacedSilhouette[] {
  const own = silhouettesOf(layer);
  if (own) return own.shapes.map((shape) => ({ ...shape, map: compose(place, own.toUnit) }));
  if (isRubbed(layer)) {
    const path = outlineOfRubbed(layer, imageOf);
    const grown = inkPlace(layer);
    const [x, y] = [grown.width / layer.place.width, grown.height / layer.place.height];
    const map = compose(place, translate(0.5 - x / 2, 0.5 - y / 2), scale(x, y));
    return path === null ? [] : [{ path, rule: 'evenodd', line: 0, map }];
  }
  const image = imageOf(layer as PictureLayer) as HTMLImageElement | null;
  return image ? [{ path: outlineOf(image), rule: 'evenodd', line: 0, map: place }] : [];
}

/**
 * Paints a line around layers, in the units of the context as they are now.
 * @param placeOf unit square of a layer to those units
 * @param unitsPerMm length of a printed mm in those units
 */
export function paintKeyline(
  context: Context,
  { keyline, around }: KeylineAround,
  placeOf: (layer: Layer) => Affine,
  unitsPerMm: number,
  imageOf: ImageOf,
): void {
  const { drawn, taken } = keylineStrokes(
    { ...keyline, width: keyline.width * unitsPerMm, gap: keyline.gap * unitsPerMm },
    around.flatMap((layer) => silhouettes(layer, placeOf(layer), imageOf)),
  );
  if (!taken.length) {
    strokeAll(context, drawn, keyline);
    return;
  }
  // What is taken out must not reach what lies below: the line is put together on a sheet of its own.
  const { canvas } = context;
  const sheet = new OffscreenCanvas(canvas.width, canvas.height);
  const own = sheet.getContext('2d')!;
  own.setTransform(context.getTransform());
  strokeAll(own, drawn, keyline);
  own.globalCompositeOperation = 'destination-out';
  strokeAll(own, taken, keyline);
  context.save();
  context.resetTransform();
  context.drawImage(sheet, 0, 0);
  context.restore();
}

function strokeAll(context: Context, strokes: readonly KeylineStroke[], { hex, join }: Keyline): void {
  context.fillStyle = context.strokeStyle = hex;
  context.lineJoin = join === 'sharp' ? 'miter' : 'round';
  context.miterLimit = KEYLINE_MITRE;
  context.lineCap = 'round';
  for (const { path, rule, width } of strokes) {
    const shape = new Path2D(path);
    context.lineWidth = width;
    context.fill(shape, rule);
    context.stroke(shape);
  }
}
