import Konva from '#libraries/konva';
import { toMmAt, type Point, type Viewport } from '@kettle/core/geometry';
import type { Stroke } from '@kettle/core/model';
import { marksOfStroke } from '@kettle/core/drawing';
import type { Hand } from './hand';

export type InkPoint = Point & { readonly pressure: number };

/** The stroke in hand, seen while it is drawn. */
export class Pen {
  readonly shape = new Konva.Shape({ listening: false, visible: false });

  constructor(private readonly hand: Hand) {}

  /** Follows a press until it is let go. Points are canvas mm. */
  draw(
    first: PointerEvent,
    view: Viewport,
    brush: Omit<Stroke, 'points'>,
    done: (points: readonly InkPoint[]) => void,
  ): void {
    const points: InkPoint[] = [];
    const take = (event: PointerEvent): void => {
      const all = event.getCoalescedEvents?.() ?? [];
      for (const one of all.length ? all : [event]) {
        // A mouse has no pressure of its own: it draws at the middle.
        points.push({
          ...toMmAt(view, this.hand.at(one)),
          pressure: one.pointerType === 'mouse' || one.pressure === 0 ? 0.5 : one.pressure,
        });
      }
      this.shape.visible(true);
      this.shape.sceneFunc((context) => paint(context._context, view, brush, points));
      this.shape.getLayer()?.batchDraw();
    };
    take(first);
    this.hand.follow(take, () => {
      this.shape.visible(false);
      done(points);
      this.shape.getLayer()?.batchDraw();
    });
  }
}

/** What an eraser will take away is shown as a veil. */
function paint(
  context: CanvasRenderingContext2D,
  { scale, left, top }: Viewport,
  brush: Omit<Stroke, 'points'>,
  points: readonly InkPoint[],
): void {
  context.save();
  context.translate(left, top);
  context.scale(scale, scale);
  for (const mark of marksOfStroke({
    ...brush,
    hardness: 1,
    points: points.flatMap((point) => [point.x, point.y, point.pressure]),
  })) {
    context.globalAlpha = brush.erase ? 0.45 : mark.opacity;
    context.fillStyle = brush.erase ? '#ffffff' : brush.hex;
    context.fill(new Path2D(mark.path));
  }
  context.restore();
}
