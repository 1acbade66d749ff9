import { rubbedOfCrop } from '../drawing/rubbed.js';
import { apply, type Box } from '../geometry/affine.js';
import { unitToField, type LayerPlace } from '../geometry/place.js';
import type { Layer } from '../model/design.js';
import { cropOf, type Treatment } from '../model/treatment.js';

/** The place of a picture of which another part is shown: what is shown of it before and after stays where it lay. */
export function placeOfCrop(place: LayerPlace, from: Box, to: Box): LayerPlace {
  const shares = {
    x: (to.x + to.width / 2 - from.x) / from.width,
    y: (to.y + to.height / 2 - from.y) / from.height,
  };
  return {
    ...place,
    ...apply(unitToField(place), shares),
    width: (place.width * to.width) / from.width,
    height: (place.height * to.height) / from.height,
  };
}

export const isSameBox = (one: Box, other: Box): boolean =>
  one.x === other.x && one.y === other.y && one.width === other.width && one.height === other.height;

/** A picture with other treatments; what stays visible of it stays where it was. Other layers are left alone. */
export function treatedLayer(layer: Layer, treatments: readonly Treatment[]): Layer {
  if (layer.kind !== 'picture') return layer;
  const [from, to] = [cropOf(layer.treatments), cropOf(treatments)];
  const { treatments: _before, ...rest } = layer;
  const after = { ...rest, ...(treatments.length ? { treatments } : {}) };
  if (isSameBox(from, to)) return after;
  return {
    ...after,
    place: placeOfCrop(layer.place, from, to),
    ...(layer.rubbed ? { rubbed: rubbedOfCrop(layer.rubbed, from, to) } : {}),
  };
}
