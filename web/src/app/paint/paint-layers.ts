import { MM_PER_INCH } from '@kettle/core/units';
import { compose, type Affine, type Box } from '@kettle/core/geometry';
import type { DesignDocument, Layer } from '@kettle/core/model';
import { keylinesUnder } from '@kettle/core/layers';
import { layerToPixels, repeatOnCanvas, tilesOf } from '@kettle/core/document';
import { paintKeyline } from './paint-keyline';
import { paintLayer, type Context, type ImageOf } from './paint-layer';

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
