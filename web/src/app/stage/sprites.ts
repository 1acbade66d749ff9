import { finestScreen, screenInk } from '@kettle/core/raster';
import type { Layer, PictureLayer } from '@kettle/core/model';
import { marksOf } from '@kettle/core/layers';
import { markPixels } from '../paint/marked';
import { paintLayer } from '../paint/paint-layer';

/** Side of the largest bitmap that is kept, px. Beyond it a layer is drawn anew each time. */
const MOST_SIDE = 2048;
/** Fields of a layer that do not change what its bitmap shows. */
const ELSEWHERE: ReadonlySet<string> = new Set(['place', 'name', 'opacity', 'hidden', 'locked', 'blend', 'group']);

interface Sprite {
  readonly layer: Layer;
  readonly width: number;
  readonly height: number;
  readonly image: CanvasImageSource | null;
  readonly bitmap: OffscreenCanvas;
  readonly showSoft: boolean;
}

/** Marks semi-transparent ink. */
const markSoft = (data: Uint8ClampedArray): void =>
  markPixels(data, (n) => data[n * 4 + 3] >= 8 && data[n * 4 + 3] <= 235);

const sameLook = (a: Layer, b: Layer): boolean =>
  a === b ||
  (a.place.width === b.place.width &&
    a.place.height === b.place.height &&
    a.place.flipX === b.place.flipX &&
    a.place.flipY === b.place.flipY &&
    Object.keys(b).every((key) => ELSEWHERE.has(key) || a[key as keyof Layer] === b[key as keyof Layer]));

/** Bitmaps of layers as they lie on the stage, unturned, made anew only when they look different. */
export class Sprites {
  private readonly kept = new Map<string, Sprite>();

  /**
   * The bitmap of a layer at a size in device px, or null when it would be too large to keep. `margin` px lie around
   * its box on every side.
   */
  of(
    layer: Layer,
    width: number,
    height: number,
    margin: number,
    imageOf: (layer: PictureLayer) => CanvasImageSource | null,
    { dpi, showSoft }: { dpi: number; showSoft: boolean } = { dpi: 0, showSoft: false },
  ): OffscreenCanvas | null {
    const [w, h] = [Math.max(1, Math.round(width)), Math.max(1, Math.round(height))];
    if (Math.max(w, h) + 2 * margin > MOST_SIDE) {
      this.kept.delete(layer.id);
      return null;
    }
    const image = marksOf(layer) ? null : imageOf(layer as PictureLayer);
    const known = this.kept.get(layer.id);
    if (
      known &&
      known.width === w &&
      known.height === h &&
      known.image === image &&
      known.showSoft === showSoft &&
      sameLook(known.layer, layer)
    )
      return known.bitmap;
    const bitmap = new OffscreenCanvas(w + 2 * margin, h + 2 * margin);
    const context = bitmap.getContext('2d')!;
    context.translate(margin, margin);
    paintUnturned(context, layer, w, h, imageOf);
    if (layer.screen || showSoft) {
      context.resetTransform();
      const pixels = context.getImageData(0, 0, bitmap.width, bitmap.height);
      if (layer.screen && (layer.screen.kind === 'solid' || layer.screen.lpi <= finestScreen(dpi)))
        screenInk(pixels, layer.screen, dpi);
      if (showSoft) markSoft(pixels.data);
      context.putImageData(pixels, 0, 0);
    }
    this.kept.set(layer.id, { layer, width: w, height: h, image, bitmap, showSoft });
    return bitmap;
  }

  /** Forgets layers that are gone. */
  keepOnly(ids: ReadonlySet<string>): void {
    for (const id of this.kept.keys()) if (!ids.has(id)) this.kept.delete(id);
  }
}

/**
 * Paints a layer into a box at the origin, mirrored as its place has it. A picture that is still coming is a grey
 * sheet.
 */
export function paintUnturned(
  context: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D,
  layer: Layer,
  width: number,
  height: number,
  imageOf: (layer: PictureLayer) => CanvasImageSource | null,
): void {
  const { flipX, flipY } = layer.place;
  context.imageSmoothingQuality = 'high';
  context.translate(flipX ? width : 0, flipY ? height : 0);
  context.scale(flipX ? -width : width, flipY ? -height : height);
  if (!paintLayer(context, layer, imageOf)) {
    context.fillStyle = 'rgba(140,140,130,.25)';
    context.fillRect(0, 0, 1, 1);
  }
}
