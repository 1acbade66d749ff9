import Konva from '#libraries/konva';
import type { Viewport } from '@kettle/core/geometry';
import type { Layer } from '@kettle/core/model';
import { compositeOf } from '../paint/paint-layers';

/** A layer with its node on the stage. */
export interface Shown {
  readonly layer: Layer;
  readonly node: Konva.Shape;
}

/**
 * While a hand moves some layers, the others are laid together on as few sheets as possible, so that a frame costs a
 * few pictures however many layers
 * there are. Layers in front of what moves are laid together as long as they are not blended with it.
 */
export class StillSheets {
  private readonly sheets: Konva.Image[] = [];

  constructor(
    private readonly art: Konva.Group,
    private readonly paint: (context: OffscreenCanvasRenderingContext2D, shown: Shown) => void,
  ) {}

  /** @param shown all visible layers, back to front */
  lay(
    shown: readonly Shown[],
    moving: readonly Konva.Node[],
    { scale, left, top }: Viewport,
    size: { width: number; height: number },
    density: number,
  ): void {
    let still: Shown[] = [];
    let passed = false;
    const together = (before: Konva.Shape | null): void => {
      const these = still;
      still = [];
      if (these.length < 2) return;
      const sheet = new OffscreenCanvas(size.width * density, size.height * density);
      const context = sheet.getContext('2d')!;
      for (const one of these) {
        context.setTransform(density, 0, 0, density, 0, 0);
        context.transform(
          ...(one.node.getAbsoluteTransform().getMatrix() as [number, number, number, number, number, number]),
        );
        context.globalCompositeOperation = compositeOf(one.layer);
        this.paint(context, one);
        one.node.visible(false);
      }
      const image = new Konva.Image({
        image: sheet as unknown as CanvasImageSource,
        x: -left / scale,
        y: -top / scale,
        width: size.width / scale,
        height: size.height / scale,
        listening: false,
      });
      this.art.add(image);
      if (before) image.zIndex(before.zIndex());
      this.sheets.push(image);
    };
    for (const one of shown) {
      const moves = moving.includes(one.node);
      if (moves || (passed && compositeOf(one.layer) !== 'source-over')) together(one.node);
      else still.push(one);
      passed ||= moves;
    }
    together(null);
  }

  /** Takes the sheets away; who shows the layers again shows all of them. */
  clear(): void {
    for (const image of this.sheets.splice(0)) image.destroy();
  }
}
