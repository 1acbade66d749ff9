import type { AssetFacts, FactsById } from '../model/asset-facts.js';
import type { InkShare } from '../raster/ink.js';
import type { FreehandLayer, GraphicLayer, InkedLayer, Layer, VectorLayer } from '../model/design.js';
import { drawingSteps, type Drawing, type DrawingStep } from '../drawing/marks.js';
import { coloursOfPaint, type Swap } from '../model/paint.js';
import { rubMarks } from '../drawing/rubbed.js';
import type { LayerPlace } from '../geometry/place.js';
import { pictureKey } from '../treatments/treated.js';
import type { Treatment } from '../model/treatment.js';
import { FREEHAND } from './freehand.js';
import { GRAPHIC } from './graphic.js';
import type { LayerKind } from './layer-kind.js';
import { PICTURE } from './picture.js';
import { SHAPE } from './shape.js';
import { TEXT } from './text.js';

/**
 * Every kind of layer there is. Adding one: its type in the document, its description here, its fields in the schema.
 */
export const LAYER_KINDS: { readonly [K in Layer['kind']]: LayerKind<Extract<Layer, { kind: K }>> } = {
  picture: PICTURE,
  shape: SHAPE,
  text: TEXT,
  graphic: GRAPHIC,
  freehand: FREEHAND,
};

/** What a layer is and can. */
export const kindOf = (layer: Layer): LayerKind => LAYER_KINDS[layer.kind] as unknown as LayerKind;

/** True for layers with one fill and one outline. */
export const isInked = (layer: Layer): layer is InkedLayer => kindOf(layer).isInked;

/** True for layers whose colours belong to parts of them. */
export const hasParts = (layer: Layer): layer is GraphicLayer | FreehandLayer => kindOf(layer).hasParts;

const drawings = new WeakMap<Layer, Drawing | null>();

/**
 * Marks of a layer, or null when it is drawn from its artwork file. Layers are never changed in place, so each is
 * worked out once.
 */
export function marksOf(layer: Layer): Drawing | null {
  let drawing = drawings.get(layer);
  if (drawing === undefined) {
    drawing = kindOf(layer).drawing(layer);
    if (drawing && layer.rubbed)
      drawing = { ...drawing, marks: [...drawing.marks, ...rubMarks(layer.rubbed, drawing.box)] };
    drawings.set(layer, drawing);
  }
  return drawing;
}

/** The marks of a layer that is made of them. */
export const drawingOf = (layer: VectorLayer): Drawing => marksOf(layer)!;

/** What is rubbed out of a layer that is drawn from its artwork file, in mm of its place; null when nothing is. */
export function rubbedStep({ rubbed, place: { width, height } }: Layer): DrawingStep | null {
  if (!rubbed) return null;
  const box = { x: 0, y: 0, width, height };
  return drawingSteps({ marks: rubMarks(rubbed, box), box, reach: 0 })[0] ?? null;
}

/** Fields of a layer that can grow long and change only in places: they are stored apart, by their content. */
export const bulkOf = (layer: Layer): readonly string[] => [...kindOf(layer).bulk, 'rubbed'];

/** The box a layer's ink may reach: an outline stands out of its shape by its reach on every side. */
export function inkPlace(layer: Layer): LayerPlace {
  const drawing = marksOf(layer);
  if (!drawing || drawing.reach === 0) return layer.place;
  const { box, reach } = drawing;
  const { width, height } = layer.place;
  return {
    ...layer.place,
    width: width * (1 + (2 * reach) / box.width),
    height: height * (1 + (2 * reach) / box.height),
  };
}

/** Artwork files a design is made of. */
export const assetIdsOf = (layers: readonly Layer[]): string[] =>
  layers.flatMap((layer) => kindOf(layer).assetOf(layer) ?? []);

/** A picture as a layer shows it: its file, and what is done to it. */
export interface ShownPicture {
  readonly key: string;
  readonly assetId: string;
  readonly treatments: readonly Treatment[] | undefined;
}

/** Pictures that layers show, each once. */
export function picturesOf(layers: readonly Layer[]): ShownPicture[] {
  const found = new Map<string, ShownPicture>();
  for (const layer of layers) {
    const assetId = kindOf(layer).assetOf(layer);
    if (assetId === null) continue;
    const treatments = kindOf(layer).treatmentsOf(layer);
    const key = pictureKey(assetId, treatments);
    if (!found.has(key)) found.set(key, { key, assetId, treatments });
  }
  return [...found.values()];
}

/** Fonts its lettering was set in. */
export const fontIdsOf = (layers: readonly Layer[]): string[] =>
  layers.flatMap((layer) => kindOf(layer).fontOf(layer) ?? []);

/** A layer with its own colours swapped, wherever it has them. Pictures are left alone. */
export const recolourLayer = (layer: Layer, swap: Swap): Layer => kindOf(layer).recoloured(layer, swap);

/** Colours a layer was given, `#rrggbb` in lower case, each once. Pictures have none. */
export const ownColours = (layer: Layer): string[] => [
  ...new Set(
    kindOf(layer)
      .paints(layer)
      .flatMap(coloursOfPaint)
      .map((hex) => hex.toLowerCase()),
  ),
];

/** Colours of a layer's own making with their rough share of its ink. */
export const inksOf = (layer: Layer): readonly InkShare[] => kindOf(layer).inks(layer);

/** What is known of a layer: a picture's facts, or what a shape is by its making. */
export const factsOfLayer = (layer: Layer, facts: FactsById): AssetFacts | undefined =>
  kindOf(layer).facts(layer, facts);
