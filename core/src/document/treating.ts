import type { Box } from '../geometry/affine.js';
import { apply } from '../geometry/affine.js';
import { rubbedOfCrop } from '../drawing/rubbed.js';
import { unitToField, type LayerPlace } from '../geometry/place.js';
import { cropOf, type Treatment } from '../treatments/treatment.js';
import { ownValue } from '../units/own-value.js';
import type { DesignDocument, Layer, LayerException, Target } from './design.js';
import { changeException, type Edit } from './edits.js';

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

const isSame = (one: Box, other: Box): boolean =>
  one.x === other.x && one.y === other.y && one.width === other.width && one.height === other.height;

/** A picture with other treatments; what stays visible of it stays where it was. Other layers are left alone. */
export function treatedLayer(layer: Layer, treatments: readonly Treatment[]): Layer {
  if (layer.kind !== 'picture') return layer;
  const [from, to] = [cropOf(layer.treatments), cropOf(treatments)];
  const { treatments: _before, ...rest } = layer;
  const after = { ...rest, ...(treatments.length ? { treatments } : {}) };
  if (isSame(from, to)) return after;
  return {
    ...after,
    place: placeOfCrop(layer.place, from, to),
    ...(layer.rubbed ? { rubbed: rubbedOfCrop(layer.rubbed, from, to) } : {}),
  };
}

/** Treats a picture everywhere. Where a target has a place of its own for it, that follows a new crop too. */
export function treatPicture(id: string, treatments: readonly Treatment[]): Edit {
  return (design) => {
    const layer = design.layers.find((one) => one.id === id);
    if (layer?.kind !== 'picture') return design;
    const [from, to] = [cropOf(layer.treatments), cropOf(treatments)];
    const after: DesignDocument = {
      ...design,
      layers: design.layers.map((one) => (one.id === id ? treatedLayer(one, treatments) : one)),
    };
    if (isSame(from, to)) return after;
    return { ...after, targets: after.targets.map((target) => withMovedPlaces(target, id, from, to)) };
  };
}

function withMovedPlaces(target: Target, id: string, from: Box, to: Box): Target {
  const moved = (layers: Readonly<Record<string, LayerException>> | undefined) => {
    const exception = ownValue(layers, id);
    return exception?.place && !exception.treatments
      ? { ...layers, [id]: { ...exception, place: placeOfCrop(exception.place, from, to) } }
      : layers;
  };
  const layers = moved(target.layers);
  return layers === target.layers ? target : { ...target, layers };
}

/** Treats a picture on one target alone, or on one of its versions; null follows the design again. */
export const treatOnTarget = (
  requirementId: string,
  id: string,
  treatments: readonly Treatment[] | null,
  cloth: 'light' | 'dark' | null = null,
): Edit => changeException(requirementId, id, { treatments: treatments ?? undefined }, cloth);
