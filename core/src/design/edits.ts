import type { Requirement } from '../requirement/requirement.js';
import { apply, invert } from './affine.js';
import { MAX_LAYERS, type DesignDocument, type Layer, type LayerPlace, type PictureLayer, type ShapeLayer, type Target, type TextLayer, type VectorLayer } from './design.js';
import type { Lettering } from '../text/lettering.js';
import { resetText } from './text.js';
import { boundsOfPlace, fitTogether, placeInside } from './place.js';
import { layoutTarget } from './target.js';
import { unite, type Box } from './affine.js';

/** A pure change of a document. Returns the same object when there is nothing to change. */
export type Edit = (design: DesignDocument) => DesignDocument;

const mapLayer = (id: string, change: (layer: Layer) => Layer): Edit => (design) => ({
  ...design, layers: design.layers.map((layer) => (layer.id === id ? change(layer) : layer)),
});

export const rename = (name: string): Edit => (design) => ({ ...design, name });

/** Puts a layer in front of all others. Refused with a RangeError beyond {@link MAX_LAYERS}. */
export function addLayer(layer: Layer): Edit {
  return (design) => {
    if (design.layers.length >= MAX_LAYERS) throw new RangeError(`A design holds at most ${MAX_LAYERS} layers.`);
    return { ...design, layers: [...design.layers, layer] };
  };
}

export const removeLayer = (id: string): Edit => (design) => ({ ...design, layers: design.layers.filter((layer) => layer.id !== id) });

export const renameLayer = (id: string, name: string): Edit => mapLayer(id, (layer) => ({ ...layer, name }));

export const hideLayer = (id: string, hidden: boolean): Edit => mapLayer(id, (layer) => ({ ...layer, hidden }));

export const fadeLayer = (id: string, opacity: number): Edit => mapLayer(id, (layer) => ({ ...layer, opacity: Math.min(1, Math.max(0, opacity)) }));

export const placeLayer = (id: string, place: Partial<LayerPlace>): Edit => mapLayer(id, (layer) => ({ ...layer, place: { ...layer.place, ...place } }));

/** Moves a layer to an index of the strip, 0 at the back. */
export function reorderLayer(id: string, index: number): Edit {
  return (design) => {
    const from = design.layers.findIndex((layer) => layer.id === id);
    const to = Math.min(design.layers.length - 1, Math.max(0, index));
    if (from < 0 || from === to) return design;
    const layers = [...design.layers];
    layers.splice(to, 0, ...layers.splice(from, 1));
    return { ...design, layers };
  };
}

export function duplicateLayer(id: string, newId: string): Edit {
  return (design) => {
    const index = design.layers.findIndex((layer) => layer.id === id);
    if (index < 0) return design;
    const layer = design.layers[index];
    const copy = { ...layer, id: newId, name: `${layer.name} copy`, place: { ...layer.place, x: layer.place.x + 5, y: layer.place.y + 5 } };
    return { ...design, layers: [...design.layers.slice(0, index + 1), copy, ...design.layers.slice(index + 1)] };
  };
}

export function addTarget(requirement: Requirement): Edit {
  return (design) => (design.targets.some((target) => target.requirementId === requirement.id)
    ? design : { ...design, targets: [...design.targets, { requirementId: requirement.id }] });
}

export const removeTarget = (requirementId: string): Edit => (design) => ({
  ...design, targets: design.targets.filter((target) => target.requirementId !== requirementId),
});

/** Changes fields of a target; a field set to undefined falls back to the requirement's. */
export const changeTarget = (requirementId: string, change: Partial<Target>): Edit => (design) => ({
  ...design, targets: design.targets.map((target) => (target.requirementId === requirementId ? { ...target, ...change } : target)),
});

export const changeScene = (scene: DesignDocument['scene']): Edit => (design) => ({ ...design, scene });

/** Changes a shape's numbers; other layers are left alone. */
export const changeShape = (id: string, parameters: ShapeLayer['parameters']): Edit => mapLayer(id, (layer) => (layer.kind === 'shape' ? { ...layer, parameters } : layer));

/** Changes fill or outline of a shape or lettering; pictures are left alone. */
export const changeInk = (id: string, change: Partial<Pick<VectorLayer, 'fill' | 'outline'>>): Edit => mapLayer(id, (layer) => (layer.kind === 'picture' ? layer : { ...layer, ...change }));

/** Sets lettering anew. */
export const changeText = (id: string, set: Partial<Pick<TextLayer, 'text' | 'fontId' | 'settings'>>, outlines: Lettering): Edit => mapLayer(id, (layer) => (layer.kind === 'text' ? resetText(layer, set, outlines) : layer));

/** Turns one colour into another in every shape and lettering of a design. */
export function recolour(from: string, to: string): Edit {
  const swap = (hex: string) => (hex.toLowerCase() === from.toLowerCase() ? to : hex);
  return (design) => ({
    ...design, layers: design.layers.map((layer) => (layer.kind === 'picture' ? layer : { ...layer, fill: layer.fill && swap(layer.fill), outline: layer.outline && { ...layer.outline, hex: swap(layer.outline.hex) } })),
  });
}

/** A picture that has just come in: as large as the field's safe middle allows, near the top. Never enlarged past its own pixels at 300 DPI. */
export function pictureLayer(id: string, name: string, asset: { id: string; width: number; height: number; vector: boolean }, field: DesignDocument['field']): PictureLayer {
  const margin = 0.1;
  const box: Box = { x: field.width * margin, y: field.height * 0.08, width: field.width * (1 - 2 * margin), height: field.height * 0.84 };
  const own = (asset.width / 300) * 25.4;
  const aspect = asset.width / asset.height;
  const inside = placeInside(aspect, box, 'top');
  const width = asset.vector ? inside.width : Math.min(inside.width, own);
  const height = width / aspect;
  return {
    kind: 'picture', id, name, assetId: asset.id, opacity: 1, hidden: false,
    place: { ...inside, width, height, y: box.y + height / 2 },
  };
}

/**
 * Moves layers together so that their box on a target's canvas becomes `to` (canvas mm); the change is made on the field, so every target follows.
 */
export function moveOnCanvas(ids: readonly string[], target: Target, requirement: Requirement, to: Box): Edit {
  return (design) => {
    const layout = layoutTarget(design, target, requirement);
    const origin = apply(invert(layout.toCanvas), { x: to.x, y: to.y });
    const moved = design.layers.filter((layer) => ids.includes(layer.id));
    const places = fitTogether(moved.map((layer) => layer.place), { ...origin, width: to.width / layout.factor });
    return { ...design, layers: design.layers.map((layer) => { const at = moved.indexOf(layer); return at < 0 ? layer : { ...layer, place: places[at] }; }) };
  };
}

/** Moves and scales the whole art on one target alone, as an exception of that target. Box in canvas mm. */
export function moveOnTargetOnly(target: Target, requirement: Requirement, to: Box): Edit {
  return (design) => {
    const bounds = unite(design.layers.filter((layer) => !layer.hidden).map((layer) => boundsOfPlace(layer.place)));
    if (!bounds || bounds.width <= 0) return design;
    const layout = layoutTarget(design, target, requirement);
    const scaled = { ...layout.placement, scale: layout.placement.scale * (to.width / (bounds.width * layout.factor)), offsetX: 0, offsetY: 0 };
    const unmoved = layoutTarget(design, { ...target, placement: scaled }, requirement);
    const at = apply(unmoved.toCanvas, { x: bounds.x, y: bounds.y });
    return changeTarget(target.requirementId, { placement: { ...scaled, offsetX: to.x - at.x, offsetY: to.y - at.y } })(design);
  };
}
