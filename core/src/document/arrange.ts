import type { Box, Point } from '../geometry/affine.js';
import { boundsOfPlace } from '../geometry/place.js';
import { unite } from '../geometry/affine.js';
import type { Layer } from '../model/design.js';
import type { LayerPlace } from '../geometry/place.js';

/** Layers that are moved as one: a group, or a layer alone. */
export interface Unit {
  readonly layers: readonly Layer[];
  readonly box: Box;
}

/** The units of some layers, in the order of the strip. */
export function unitsOf(layers: readonly Layer[]): Unit[] {
  const byKey = new Map<string, Layer[]>();
  for (const layer of layers) {
    const key = layer.group ? `group ${layer.group}` : layer.id;
    byKey.set(key, [...(byKey.get(key) ?? []), layer]);
  }
  return [...byKey.values()].map((members) => ({
    layers: members,
    box: unite(members.map((one) => boundsOfPlace(one.place)))!,
  }));
}

export type Edge = 'left' | 'centre' | 'right' | 'top' | 'middle' | 'bottom';

/** Shifts that bring boxes to an edge or middle of a frame. */
export function alignShifts(boxes: readonly Box[], edge: Edge, frame: Box): Point[] {
  const across = edge === 'left' || edge === 'centre' || edge === 'right';
  const share = { left: 0, top: 0, centre: 0.5, middle: 0.5, right: 1, bottom: 1 }[edge];
  return boxes.map((box) =>
    across
      ? { x: frame.x + share * (frame.width - box.width) - box.x, y: 0 }
      : { x: 0, y: frame.y + share * (frame.height - box.height) - box.y },
  );
}

/**
 * Shifts that spread boxes evenly; the outermost two stay where they are.
 * @param by `gaps` makes the room between neighbours equal, `centres` the distance between their middles
 */
export function spreadShifts(boxes: readonly Box[], axis: 'x' | 'y', by: 'gaps' | 'centres'): Point[] {
  const size = axis === 'x' ? 'width' : 'height';
  const middle = (box: Box) => box[axis] + box[size] / 2;
  const order = boxes.map((_, i) => i).sort((a, b) => middle(boxes[a]) - middle(boxes[b]));
  const shifts = boxes.map(() => ({ x: 0, y: 0 }));
  if (boxes.length < 3) return shifts;
  const [first, last] = [boxes[order[0]], boxes[order[order.length - 1]]];
  const gap =
    (last[axis] + last[size] - first[axis] - boxes.reduce((sum, box) => sum + box[size], 0)) / (boxes.length - 1);
  const step = (middle(last) - middle(first)) / (boxes.length - 1);
  let at = first[axis];
  order.forEach((index, place) => {
    const to = by === 'gaps' ? at : middle(first) + place * step - boxes[index][size] / 2;
    shifts[index] = { x: 0, y: 0, [axis]: to - boxes[index][axis] };
    at += boxes[index][size] + gap;
  });
  return shifts;
}

/** Factors that give all boxes the width or height of the first. */
export const matchFactors = (boxes: readonly Box[], size: 'width' | 'height'): number[] =>
  boxes.map((box) => (box[size] > 0 ? boxes[0][size] / box[size] : 1));

/** A place moved. */
export const shifted = (place: LayerPlace, by: Point): LayerPlace => ({
  ...place,
  x: place.x + by.x,
  y: place.y + by.y,
});

/** A place scaled about a point. */
export const scaledAbout = (place: LayerPlace, about: Point, factor: number): LayerPlace => ({
  ...place,
  x: about.x + (place.x - about.x) * factor,
  y: about.y + (place.y - about.y) * factor,
  width: place.width * factor,
  height: place.height * factor,
});

/** New places of all members of units by layer id. */
export function placesOf(
  units: readonly Unit[],
  change: (place: LayerPlace, unit: Unit, index: number) => LayerPlace,
): Record<string, LayerPlace> {
  return Object.fromEntries(
    units.flatMap((unit, index) => unit.layers.map((layer) => [layer.id, change(layer.place, unit, index)])),
  );
}
