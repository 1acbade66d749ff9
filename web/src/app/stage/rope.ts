import Konva from '#libraries/konva';
import { boundsOfPlace, intersect, mapBox, toMmAt, type Point, type Viewport } from '@kettle/core/geometry';
import type { Hand } from './hand';
import { CLICK_PX, type StageContent } from './stage-content';
import { PLUM } from './stage-colours';

/** A box drawn over the table: what it touches is selected. */
export class Rope {
  readonly shape = new Konva.Rect({
    listening: false,
    visible: false,
    stroke: PLUM,
    strokeWidth: 1,
    dash: [4, 3],
    fill: 'rgba(106,59,91,.08)',
  });

  constructor(private readonly hand: Hand) {}

  /** Follows the hand from a press. `caught` hears the ids at the end; null when the hand did not move. */
  draw(start: Point, view: Viewport, content: () => StageContent, caught: (ids: string[] | null) => void): void {
    let moved = false;
    this.hand.follow(
      (event) => {
        const now = this.hand.at(event);
        moved ||= Math.hypot(now.x - start.x, now.y - start.y) >= CLICK_PX;
        const [x, y, width, height] = [
          Math.min(start.x, now.x),
          Math.min(start.y, now.y),
          Math.abs(now.x - start.x),
          Math.abs(now.y - start.y),
        ];
        this.shape.setAttrs({ visible: moved && !content().onlyHere, x, y, width, height });
        this.shape.getLayer()?.batchDraw();
      },
      (event) => {
        this.shape.visible(false);
        this.shape.getLayer()?.batchDraw();
        caught(moved ? within(content(), view, start, this.hand.at(event)) : null);
      },
    );
  }
}

/** Ids of the layers that a box between two places in the window touches. */
function within({ design, current }: StageContent, view: Viewport, start: Point, now: Point): string[] {
  const [a, b] = [toMmAt(view, start), toMmAt(view, now)];
  const box = { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) };
  const touches = (place: Parameters<typeof boundsOfPlace>[0]): boolean =>
    intersect(mapBox(current.layout.toCanvas, boundsOfPlace(place)), box) !== null;
  return design.layers
    .filter((layer) => !layer.hidden && !layer.locked && touches(layer.place))
    .map((layer) => layer.id);
}
