import Konva from '#libraries/konva';
import type { ShapeLayer } from '@kettle/core/model';
import { handleOf, shapeDescription, valueAtHandle } from '@kettle/core/drawing';
import type { Hand } from './hand';
import { PLUM } from './stage-colours';

/** Handles for a shape's own numbers, on the shape itself. */
export class ShapeKnobs {
  readonly group = new Konva.Group();

  constructor(
    private readonly hand: Hand,
    private readonly cursor: (cursor: string) => void,
    private readonly changed: (id: string, key: string, value: number, done: boolean) => void,
  ) {}

  clear(): void {
    this.group.destroyChildren();
  }

  show(layer: ShapeLayer, node: Konva.Shape): void {
    this.clear();
    const map = () => node.getAbsoluteTransform();
    const { flipX, flipY } = layer.place;
    const mirrored = ({ x, y }: { x: number; y: number }) => ({ x: flipX ? 1 - x : x, y: flipY ? 1 - y : y });
    for (const parameter of shapeDescription(layer.shape).parameters) {
      const unit = mirrored(handleOf(layer, parameter));
      const knob = new Konva.RegularPolygon({
        ...map().point({ x: unit.x * node.width(), y: unit.y * node.height() }),
        sides: 4,
        radius: 8,
        fill: '#F2BD4B',
        stroke: PLUM,
        strokeWidth: 1.5,
        hitStrokeWidth: 8,
        name: `knob ${parameter.key}`,
      });
      const valueAt = (event: PointerEvent): number => {
        const at = map().copy().invert().point(this.hand.at(event));
        return valueAtHandle(parameter, mirrored({ x: at.x / node.width(), y: at.y / node.height() }));
      };
      knob.on('pointerdown', (event) => {
        event.cancelBubble = true;
        this.hand.follow(
          (moved) => this.changed(layer.id, parameter.key, valueAt(moved), false),
          (moved) => this.changed(layer.id, parameter.key, valueAt(moved), true),
        );
      });
      knob.on('pointerenter', () => this.cursor('pointer'));
      knob.on('pointerleave', () => this.cursor('default'));
      this.group.add(knob);
    }
  }
}
