import { apply, intersect, invert } from '../geometry/affine.js';
import { boundsOfPlace, unitToField, type LayerPlace } from '../geometry/place.js';
import type { Layer, RubStroke, Stroke } from '../model/design.js';
import type { Box } from '../geometry/affine.js';
import { addStroke, marksOfStroke, MAX_STROKES, reachOf } from './freehand.js';
import type { Mark } from './marks.js';

/** Side of a square as large as a box: what sizes of strokes are shares of. */
const sideOf = ({ width, height }: { readonly width: number; readonly height: number }): number =>
  Math.sqrt(width * height);

const round = (value: number): number => Math.round(value * 1e6) / 1e6 + 0;

/** What was rubbed out of a layer, as marks in the units of the box its place stands for. */
export function rubMarks(rubbed: readonly RubStroke[], { x, y, width, height }: Box): Mark[] {
  return rubbed.flatMap(({ points, size, ...look }) =>
    marksOfStroke({
      ...look,
      points: points.map((value, i) => (i % 3 === 0 ? x + value * width : i % 3 === 1 ? y + value * height : value)),
      size: size * sideOf({ width, height }),
      hex: '#000000',
      erase: true,
    }),
  );
}

/** A stroke on the field as one on a layer. */
function onLayer(place: LayerPlace, { points, size, hardness, opacity }: Stroke): RubStroke {
  const map = invert(unitToField(place));
  const own: number[] = [];
  for (let i = 0; i + 2 < points.length; i += 3) {
    const at = apply(map, { x: points[i], y: points[i + 1] });
    own.push(round(at.x), round(at.y), Math.round(points[i + 2] * 100) / 100);
  }
  return { points: own, size: round(size / sideOf(place)), hardness, opacity };
}

/** Whether a stroke on the field, in mm, comes near anything of a layer as it is seen. */
export const reaches = (stroke: Stroke, layer: Layer): boolean =>
  intersect(reachOf(stroke), boundsOfPlace(layer.place)) !== null;

/**
 * A layer out of which something more is rubbed. What is under it shows, and the layer itself stays as it was made.
 * @param stroke on the field, in mm
 * @param seen where the layer lies for the eye that rubs: a target may have it elsewhere than the design
 * @throws RangeError when it holds as many strokes as it can
 */
export function rubOut(layer: Layer, stroke: Stroke, seen: LayerPlace = layer.place): Layer {
  const held = layer.kind === 'freehand' ? layer.strokes : (layer.rubbed ?? []);
  if (held.length >= MAX_STROKES)
    throw new RangeError(`“${layer.name}” can take no more strokes of the eraser. Take some of them back first.`);
  if (layer.kind === 'freehand')
    return { ...addStroke({ ...layer, place: seen }, { ...stroke, erase: true }), place: layer.place };
  return { ...layer, rubbed: [...(layer.rubbed ?? []), onLayer(seen, stroke)] };
}

/** A layer with other strokes of the eraser; none makes it whole again. */
export function withRubbed<T extends Layer>(layer: T, rubbed: readonly RubStroke[]): T {
  const { rubbed: _before, ...rest } = layer;
  return { ...rest, ...(rubbed.length ? { rubbed } : {}) } as T;
}

/** Strokes of the eraser that stay where they lie on a picture of which another part is shown. */
export function rubbedOfCrop(rubbed: readonly RubStroke[], from: Box, to: Box): RubStroke[] {
  return rubbed.map(({ points, size, ...look }) => ({
    ...look,
    points: points.map((value, i) =>
      i % 3 === 0
        ? round((from.x + value * from.width - to.x) / to.width)
        : i % 3 === 1
          ? round((from.y + value * from.height - to.y) / to.height)
          : value,
    ),
    size: round((size * sideOf(from)) / sideOf(to)),
  }));
}
