import type { DesignDocument, Layer, LayerException, Target } from '../model/design.js';
import { treatedLayer } from '../layers/treated-layer.js';
import { swapOf } from '../model/paint.js';
import { recolourLayer } from '../layers/layer-kinds.js';
import { ownValue } from '../units/own-value.js';

/** A layer as a target has it. */
function exceptionApplied(layer: Layer, exception: LayerException | undefined): Layer {
  if (!exception) return layer;
  const { place, hidden, colours, treatments } = exception;
  const recoloured = colours ? recolourLayer(layer, swapOf(colours)) : layer;
  const treated = treatments ? treatedLayer(recoloured, treatments) : recoloured;
  return { ...treated, ...(place ? { place } : {}), ...(hidden === undefined ? {} : { hidden }) };
}

const seen = new WeakMap<DesignDocument, WeakMap<Target, DesignDocument>>();

/**
 * The design with a target's exceptions in place: what is drawn and judged for that target. The same object while
 * nothing changes.
 */
export function seenBy(design: DesignDocument, target: Target | undefined): DesignDocument {
  const differs = Object.keys(target?.layers ?? {}).length > 0;
  if (!target || (!differs && target.keyline === undefined && !target.repeat)) return design;
  let kept = seen.get(design);
  if (!kept) seen.set(design, (kept = new WeakMap()));
  const known = kept.get(target);
  if (known) return known;
  const result = {
    ...design,
    ...(target.keyline === undefined ? {} : { keyline: target.keyline ?? undefined }),
    ...(target.repeat ? { repeat: target.repeat } : {}),
    layers: design.layers.map((layer) => exceptionApplied(layer, ownValue(target.layers, layer.id))),
  };
  kept.set(target, result);
  return result;
}

/** What an exception changes, in words. */
export function exceptionWords({ place, hidden, colours, treatments }: LayerException, layer: Layer): string[] {
  const moved = place && (Math.abs(place.x - layer.place.x) > 0.005 || Math.abs(place.y - layer.place.y) > 0.005);
  const sized = place && Math.abs(place.width - layer.place.width) > 0.005;
  const turned = place && place.turn !== layer.place.turn;
  return [
    ...(moved ? ['moved'] : []),
    ...(sized ? ['sized'] : []),
    ...(turned ? ['turned'] : []),
    ...(hidden === undefined ? [] : [hidden ? 'hidden' : 'shown']),
    ...(colours && Object.keys(colours).length ? ['recoloured'] : []),
    ...(treatments ? ['treated'] : []),
  ];
}
