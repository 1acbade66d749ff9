import type { Requirement } from '../model/requirement.js';
import { apply, invert } from '../geometry/affine.js';
import {
  MAX_LAYERS,
  type Cloth,
  type DesignDocument,
  type InkedLayer,
  type Layer,
  type LayerException,
  type PictureLayer,
  type ShapeLayer,
  type Target,
} from '../model/design.js';
import type { LayerPlace } from '../geometry/place.js';
import { seenBy } from './exception.js';
import { ownValue } from '../units/own-value.js';
import { swapOf } from '../model/paint.js';
import { isInked, ownColours, recolourLayer } from '../layers/layer-kinds.js';
import type { Lettering } from '../text/lettering.js';
import { cutText } from '../text/short-name.js';
import { resetText, type TextSetting } from './text-layer.js';
import { boundsOfPlace, fitTogether, placeInside } from '../geometry/place.js';
import { layoutTarget, ownSizePlacement } from './target.js';
import { unite, type Box } from '../geometry/affine.js';

/** A pure change of a document. Returns the same object when there is nothing to change. */
export type Edit = (design: DesignDocument) => DesignDocument;

const mapLayer = (id: string, change: (layer: Layer) => Layer): Edit => mapLayers([id], change);

/** Changes some layers, each by itself. */
export const mapLayers =
  (ids: readonly string[], change: (layer: Layer) => Layer): Edit =>
  (design) =>
    design.layers.some((layer) => ids.includes(layer.id))
      ? {
          ...design,
          layers: design.layers.map((layer) => (ids.includes(layer.id) ? change(layer) : layer)),
        }
      : design;

/** Edits one after the other. */
export const together =
  (...edits: Edit[]): Edit =>
  (design) =>
    edits.reduce((done, edit) => edit(done), design);

export const rename =
  (name: string): Edit =>
  (design) => ({ ...design, name });

/** Puts layers in front of all others. Refused with a RangeError beyond {@link MAX_LAYERS}. */
export function addLayers(layers: readonly Layer[]): Edit {
  return (design) => {
    if (design.layers.length + layers.length > MAX_LAYERS)
      throw new RangeError(`A design holds at most ${MAX_LAYERS} layers.`);
    return { ...design, layers: [...design.layers, ...layers] };
  };
}

export const addLayer = (layer: Layer): Edit => addLayers([layer]);

/** Takes layers out. Locked ones stay. */
export const removeLayers =
  (ids: readonly string[]): Edit =>
  (design) =>
    withoutEmptyGroups({ ...design, layers: design.layers.filter((layer) => layer.locked || !ids.includes(layer.id)) });

/** The design without names of groups that have no member any more. */
export function withoutEmptyGroups(design: DesignDocument): DesignDocument {
  if (!design.groups) return design;
  const groups = Object.fromEntries(
    Object.entries(design.groups).filter(([key]) => design.layers.some((layer) => layer.group === key)),
  );
  return { ...design, groups };
}

export const lockLayers = (ids: readonly string[], locked: boolean): Edit =>
  mapLayers(ids, (layer) => ({ ...layer, locked }));

export const blendLayers = (ids: readonly string[], blend: Layer['blend']): Edit =>
  mapLayers(ids, (layer) => ({ ...layer, blend }));

export const renameLayer = (id: string, name: string): Edit => mapLayer(id, (layer) => ({ ...layer, name }));

export const hideLayers = (ids: readonly string[], hidden: boolean): Edit =>
  mapLayers(ids, (layer) => ({ ...layer, hidden }));

export const fadeLayers = (ids: readonly string[], opacity: number): Edit =>
  mapLayers(ids, (layer) => ({ ...layer, opacity: Math.min(1, Math.max(0, opacity)) }));

export const placeLayer = (id: string, place: Partial<LayerPlace>): Edit =>
  mapLayer(id, (layer) => ({ ...layer, place: { ...layer.place, ...place } }));

/**
 * Copies of layers with ids and groups of their own.
 * @param newId gives a fresh id each time
 */
export function copiesOf(layers: readonly Layer[], newId: () => string, shift = 5): Layer[] {
  const groups = new Map<string, string>();
  return layers.map((layer) => {
    const group = layer.group && (groups.get(layer.group) ?? groups.set(layer.group, newId()).get(layer.group));
    return {
      ...layer,
      id: newId(),
      locked: false,
      name: `${cutText(layer.name.replace(/ copy$/, ''), 195)} copy`,
      ...(group ? { group } : {}),
      place: { ...layer.place, x: layer.place.x + shift, y: layer.place.y + shift },
    };
  });
}

/**
 * Layers from a clipboard, with fresh ids. They keep their place unless a layer already lies exactly there.
 * @param present the layers of the design they come to
 */
export function pastedLayers(layers: readonly Layer[], present: readonly Layer[], newId: () => string): Layer[] {
  const taken = ({ place }: Layer) =>
    present.some((one) => Math.abs(one.place.x - place.x) < 0.01 && Math.abs(one.place.y - place.y) < 0.01);
  let shift = 0;
  while (
    layers.some((layer) =>
      taken({ ...layer, place: { ...layer.place, x: layer.place.x + shift, y: layer.place.y + shift } }),
    )
  )
    shift += 5;
  return copiesOf(layers, newId, shift).map((copy, i) => ({ ...copy, name: layers[i].name }));
}

/** Puts copies in front of the frontmost of the layers they were made of. */
export function duplicateLayers(ids: readonly string[], copies: readonly Layer[]): Edit {
  return (design) => {
    if (!copies.length) return design;
    if (design.layers.length + copies.length > MAX_LAYERS)
      throw new RangeError(`A design holds at most ${MAX_LAYERS} layers.`);
    const front = design.layers.findLastIndex((layer) => ids.includes(layer.id));
    const old = design.layers.find((layer) => ids.includes(layer.id) && layer.group)?.group;
    const group = copies.find((layer) => layer.group)?.group;
    const groups =
      old && group ? { groups: { ...design.groups, [group]: ownValue(design.groups, old) ?? 'Group' } } : {};
    return {
      ...design,
      ...groups,
      layers: [...design.layers.slice(0, front + 1), ...copies, ...design.layers.slice(front + 1)],
    };
  };
}

export function addTarget(requirement: Requirement): Edit {
  return (design) =>
    design.targets.some((target) => target.requirementId === requirement.id)
      ? design
      : { ...design, targets: [...design.targets, { requirementId: requirement.id }] };
}

/** Adds a target with the art at its own size, where the requirement would show the whole field smaller than need be. */
export const layOnTarget =
  (requirement: Requirement): Edit =>
  (design) => {
    const added = addTarget(requirement)(design);
    const target = added.targets.find((one) => one.requirementId === requirement.id)!;
    const placement = added === design ? null : ownSizePlacement(seenBy(added, target), target, requirement);
    return placement ? changeTarget(requirement.id, { placement })(added) : added;
  };

export const removeTarget =
  (requirementId: string): Edit =>
  (design) => ({
    ...design,
    targets: design.targets.filter((target) => target.requirementId !== requirementId),
  });

/** Changes fields of a target; a field set to undefined falls back to the requirement's. */
export const changeTarget =
  (requirementId: string, change: Partial<Target>): Edit =>
  (design) => ({
    ...design,
    targets: design.targets.map((target) =>
      target.requirementId === requirementId ? { ...target, ...change } : target,
    ),
  });

/** Lets other designs start from this one, or no longer. */
export const keepAsTemplate =
  (template: boolean): Edit =>
  (design) => ({ ...design, template });

/** Changes a shape's numbers; other layers are left alone. */
export const changeShape = (id: string, parameters: ShapeLayer['parameters']): Edit =>
  mapLayer(id, (layer) => (layer.kind === 'shape' ? { ...layer, parameters } : layer));

/** Changes fill or outline of shapes and lettering; other layers are left alone. */
export const changeInk = (id: string, change: Partial<Pick<InkedLayer, 'fill' | 'outline'>>): Edit =>
  mapLayer(id, (layer) => (isInked(layer) ? { ...layer, ...change } : layer));

/** Gives one part of a graphic another colour. */
export const paintPart = (id: string, index: number, fill: InkedLayer['fill']): Edit =>
  mapLayer(id, (layer) =>
    layer.kind === 'graphic'
      ? { ...layer, parts: layer.parts.map((part, i) => (i === index ? { ...part, fill } : part)) }
      : layer,
  );

/** Turns one colour into another in some layers. */
export const recolourLayers = (ids: readonly string[], from: string, to: string): Edit =>
  mapLayers(ids, (layer) => recolourLayer(layer, swapOf({ [from.toLowerCase()]: to })));

/** Sets lettering anew. Where a target has its own place for it, the letters keep their size there too. */
export function changeText(id: string, set: TextSetting, outlines: Lettering): Edit {
  return (design) => {
    const before = design.layers.find((layer) => layer.id === id);
    if (before?.kind !== 'text') return design;
    const exceptions = design.targets.flatMap(({ requirementId, layers }) => {
      const place = ownValue(layers, id)?.place;
      return place
        ? [changeException(requirementId, id, { place: resetText({ ...before, place }, set, outlines).place })]
        : [];
    });
    return together(
      mapLayer(id, () => resetText(before, set, outlines)),
      ...exceptions,
    )(design);
  };
}

/** Turns one colour into another in everything a design has drawn itself. */
export const recolour =
  (from: string, to: string): Edit =>
  (design) =>
    recolourLayers(
      design.layers.map((layer) => layer.id),
      from,
      to,
    )(design);

/**
 * Changes what a target, or one of its versions, does differently with a layer; null drops the exception, and so does a
 * change that leaves nothing of it.
 */
export const changeException =
  (requirementId: string, layerId: string, change: LayerException | null, cloth: Cloth | null = null): Edit =>
  (design) => ({
    ...design,
    targets: design.targets.map((target) => {
      if (target.requirementId !== requirementId) return target;
      if (cloth === null) return { ...target, layers: excepted(target.layers, layerId, change) };
      const version = target.versions?.[cloth] ?? { layers: {} };
      return {
        ...target,
        versions: { ...target.versions, [cloth]: { ...version, layers: excepted(version.layers, layerId, change) } },
      };
    }),
  });

function excepted(
  layers: Readonly<Record<string, LayerException>> = {},
  layerId: string,
  change: LayerException | null,
): Record<string, LayerException> {
  const { [layerId]: before, ...others } = layers;
  if (change === null) return others;
  const after = Object.fromEntries(Object.entries({ ...before, ...change }).filter(([, value]) => value !== undefined));
  return Object.keys(after).length ? { ...others, [layerId]: after } : others;
}

/** Turns one colour into another on one target alone, in some layers. `from` is the colour as that target shows it. */
export const recolourOnTarget =
  (requirementId: string, ids: readonly string[], from: string, to: string, cloth: Cloth | null = null): Edit =>
  (design) => {
    const target = design.targets.find((one) => one.requirementId === requirementId);
    const below = target?.layers;
    const exceptions = (cloth === null ? below : target?.versions?.[cloth]?.layers) ?? {};
    return together(
      ...design.layers
        .filter((layer) => ids.includes(layer.id))
        .map((layer): Edit => {
          const colours = ownValue(exceptions, layer.id)?.colours ?? {};
          const shown = swapOf(cloth === null ? colours : { ...ownValue(below, layer.id)?.colours, ...colours });
          const own = ownColours(layer).filter((hex) => shown(hex) === from.toLowerCase());
          return own.length
            ? changeException(
                requirementId,
                layer.id,
                { colours: { ...colours, ...Object.fromEntries(own.map((hex) => [hex, to.toLowerCase()])) } },
                cloth,
              )
            : (same) => same;
        }),
    )(design);
  };

/**
 * A picture that has just come in: as large as the field's safe middle allows, near the top. Never enlarged past its
 * own pixels at 300 DPI.
 */
export function pictureLayer(
  id: string,
  name: string,
  asset: { id: string; width: number; height: number; vector: boolean },
  field: DesignDocument['field'],
): PictureLayer {
  const margin = 0.1;
  const box: Box = {
    x: field.width * margin,
    y: field.height * 0.08,
    width: field.width * (1 - 2 * margin),
    height: field.height * 0.84,
  };
  const own = (asset.width / 300) * 25.4;
  const aspect = asset.width / asset.height;
  const inside = placeInside(aspect, box, 'top');
  const width = asset.vector ? inside.width : Math.min(inside.width, own);
  const height = width / aspect;
  return {
    kind: 'picture',
    id,
    name,
    assetId: asset.id,
    opacity: 1,
    hidden: false,
    place: { ...inside, width, height, y: box.y + height / 2 },
  };
}

/**
 * Moves layers together so that their box on a target's canvas becomes `to` (canvas mm); the change is made on the
 * field, so every target follows.
 * A layer that this target has its own place for is moved on this target alone, and so is every layer when `alone` is
 * asked for.
 */
export function moveOnCanvas(
  ids: readonly string[],
  target: Target,
  requirement: Requirement,
  to: Box,
  alone = false,
): Edit {
  return (design) => {
    const layout = layoutTarget(design, target, requirement);
    const origin = apply(invert(layout.toCanvas), { x: to.x, y: to.y });
    const moved = seenBy(design, target).layers.filter((layer) => ids.includes(layer.id));
    const places = fitTogether(
      moved.map((layer) => layer.place),
      { ...origin, width: to.width / layout.factor },
    );
    return placeLayers(Object.fromEntries(moved.map((layer, i) => [layer.id, places[i]])), target, alone)(design);
  };
}

/** Puts layers at places on the field; where a target has its own place for one, that one is changed instead. */
export function placeLayers(places: Readonly<Record<string, LayerPlace>>, target?: Target, alone = false): Edit {
  return (design) => {
    const here = (id: string): boolean => Boolean(target && (alone || ownValue(target.layers, id)?.place));
    const common = Object.keys(places).filter((id) => !here(id));
    const exceptions = Object.keys(places)
      .filter(here)
      .map((id) => changeException(target!.requirementId, id, { place: places[id] }));
    return together(
      mapLayers(common, (layer) => ({ ...layer, place: places[layer.id] })),
      ...exceptions,
    )(design);
  };
}

/** Moves and scales the whole art on one target alone, as an exception of that target. Box in canvas mm. */
export function moveOnTargetOnly(target: Target, requirement: Requirement, to: Box): Edit {
  return (design) => {
    const bounds = unite(
      seenBy(design, target)
        .layers.filter((layer) => !layer.hidden)
        .map((layer) => boundsOfPlace(layer.place)),
    );
    if (!bounds || bounds.width <= 0) return design;
    const layout = layoutTarget(design, target, requirement);
    const scaled = {
      ...layout.placement,
      scale: layout.placement.scale * (to.width / (bounds.width * layout.factor)),
      offsetX: 0,
      offsetY: 0,
    };
    const unmoved = layoutTarget(design, { ...target, placement: scaled }, requirement);
    const at = apply(unmoved.toCanvas, { x: bounds.x, y: bounds.y });
    return changeTarget(target.requirementId, { placement: { ...scaled, offsetX: to.x - at.x, offsetY: to.y - at.y } })(
      design,
    );
  };
}
