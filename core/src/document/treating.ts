import type { Box } from '../geometry/affine.js';
import { isSameBox, placeOfCrop, treatedLayer } from '../layers/treated-layer.js';
import type { DesignDocument, LayerException, Target } from '../model/design.js';
import { cropOf, type Treatment } from '../model/treatment.js';
import { ownValue } from '../units/own-value.js';
import { changeException, type Edit } from './edits.js';

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
    if (isSameBox(from, to)) return after;
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
