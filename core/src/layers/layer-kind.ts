import type { AssetFacts, FactsById } from '../model/asset-facts.js';
import type { InkShare } from '../raster/ink.js';
import type { Layer } from '../model/design.js';
import type { Drawing } from '../drawing/marks.js';
import type { Paint, Swap } from '../model/paint.js';
import type { Treatment } from '../model/treatment.js';

/**
 * What one kind of layer is and can. Nothing outside `core/layers` and the schema asks a layer for its kind to find
 * out.
 */
export interface LayerKind<L extends Layer = Layer> {
  readonly kind: L['kind'];
  /** What the seller reads over its details. */
  readonly word: string;
  /** True when it has one fill and one outline. */
  readonly isInked: boolean;
  /** True when its colours belong to parts of it. */
  readonly hasParts: boolean;
  /** Its own fields that can grow long and change only in places. */
  readonly bulk: readonly (keyof L & string)[];
  /** Marks it is drawn with, or null when it is drawn from its artwork file. */
  drawing(layer: L): Drawing | null;
  /** Artwork file it cannot be drawn without. */
  assetOf(layer: L): string | null;
  /** What is done to that file before it is drawn. */
  treatmentsOf(layer: L): readonly Treatment[] | undefined;
  /** Font it was set in. */
  fontOf(layer: L): string | null;
  /** The same layer on another artwork file or in another font. */
  carried(layer: L, to: { readonly assetId?: string; readonly fontId?: string }): L;
  /** Colours it was given, as they are painted. */
  paints(layer: L): readonly (Paint | null)[];
  recoloured(layer: L, swap: Swap): L;
  /** Its colours with their rough share of its ink. */
  inks(layer: L): readonly InkShare[];
  /** What is known of it for the checks; undefined when its file is not known. */
  facts(layer: L, facts: FactsById): AssetFacts | undefined;
  /** Letters it should show and cannot. */
  missingLetters(layer: L): string;
}
