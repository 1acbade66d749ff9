import type { DesignDocument, Layer, Target } from '../model/design.js';
import { seenBy } from '../document/exception.js';
import { layoutTarget, type TargetLayout } from '../document/target.js';
import { grown, intersect, mapBox, unite, type Box } from '../geometry/affine.js';
import { boundsOfPlace, unitToField } from '../geometry/place.js';
import { keylineReach } from '../layers/keyline.js';
import { factsOfLayer, inkPlace } from '../layers/layer-kinds.js';
import type { Requirement } from '../model/requirement.js';
import type { PressMeasure } from '../press/measure.js';
import type { AssetFacts, FactsById } from '../model/asset-facts.js';
import type { ClothMeasure } from '../press/cloth-measure.js';

/** A visible layer as a target has it, after its exceptions and whatever else was done to it. */
export interface SeenLayer {
  readonly layer: Layer;
  /** What is known of what is seen; undefined when the file behind it is gone. */
  readonly facts: AssetFacts | undefined;
  /** The whole layer on the canvas, mm. */
  readonly where: Box;
  /** The part of it that holds ink, mm; the whole layer while its facts are unknown, null when it has no ink at all. */
  readonly ink: Box | null;
  /** The same with the lines around it: around itself, its group and the whole design. */
  readonly reach: Box | null;
}

/** What was measured of a print: its ink on the printed grid, and how it is seen on each colour. Whatever is not known is absent. */
export type Measured = Partial<PressMeasure> & Partial<ClothMeasure>;

/** What every check looks at. */
export interface CheckInput {
  readonly requirement: Requirement;
  readonly layout: TargetLayout;
  /** The canvas in mm. */
  readonly page: Box;
  /** Colour the target is seen on. */
  readonly garment: string;
  /** True once the design has a layer. */
  readonly begun: boolean;
  /** Back to front; without what is hidden. */
  readonly seen: readonly SeenLayer[];
  /** What is known of artwork files, by id. */
  readonly facts: FactsById;
  /** What was measured; null while nothing is known. */
  readonly measured: Measured | null;
  /** True where the art is repeated over all of the canvas. */
  readonly repeated: boolean;
  /** True when any ink lies on the canvas. */
  readonly printsSomething: boolean;
}

/** Half a pixel at 72 DPI: rounding must not raise a finding. */
export const SLACK_MM = 0.15;

/** Colour a target is seen on. */
export const garmentOf = (target: Target, requirement: Requirement): string =>
  target.garment ?? requirement.colourways[0]?.hex ?? '#ffffff';

export function checkInputOf(
  whole: DesignDocument,
  target: Target,
  requirement: Requirement,
  facts: FactsById,
  measured: Measured | null = null,
): CheckInput {
  const design = seenBy(whole, target);
  const layout = layoutTarget(design, target, requirement);
  const page = pageOf(layout);
  const seen = seenLayers(design, layout, facts);
  return {
    requirement,
    layout,
    page,
    garment: garmentOf(target, requirement),
    begun: design.layers.length > 0,
    seen,
    facts,
    measured,
    repeated: design.repeat !== undefined,
    printsSomething: seen.some(({ ink }) => ink !== null && intersect(ink, page) !== null),
  };
}

const pageOf = ({ canvas: { widthMm, heightMm } }: TargetLayout): Box => ({
  x: 0,
  y: 0,
  width: widthMm,
  height: heightMm,
});

/** Visible layers, back to front, of a design as its target sees it. */
function seenLayers(design: DesignDocument, layout: TargetLayout, facts: FactsById): SeenLayer[] {
  const page = pageOf(layout);
  const lines = keylineReach(design);
  return design.layers
    .filter((layer) => !layer.hidden && layer.opacity > 0)
    .map((layer): SeenLayer => {
      const one = seenLayer(layer, layout, facts);
      // Art that is repeated lies all over the canvas and is cut where that ends.
      if (design.repeat) return { ...one, ink: one.ink && page, reach: one.ink && page };
      const by = (lines.get(layer.id) ?? 0) * layout.toCanvas[0];
      return { ...one, reach: one.ink && grown(one.ink, by) };
    });
}

/**
 * Box of all ink that is printed on a target's canvas, mm: without the clear margins of pictures, with the lines around
 * art. Null where nothing is printed.
 * @param design as the target sees it
 */
export function inkOnCanvas(design: DesignDocument, layout: TargetLayout, facts: FactsById): Box | null {
  const ink = unite(seenLayers(design, layout, facts).flatMap(({ reach }) => reach ?? []));
  return ink && intersect(ink, pageOf(layout));
}

function seenLayer(layer: Layer, layout: TargetLayout, factsById: FactsById): Omit<SeenLayer, 'reach'> {
  const facts = factsOfLayer(layer, factsById);
  const where = mapBox(layout.toCanvas, boundsOfPlace(layer.place));
  if (!facts) return { layer, facts, where, ink: where };
  return {
    layer,
    facts,
    where,
    ink: facts.inkBox && mapBox(layout.toCanvas, mapBox(unitToField(inkPlace(layer)), facts.inkBox)),
  };
}

/** Farthest distance by which a box stands out of a frame, mm. */
export function overhang(box: Box, frame: Box): number {
  return Math.max(
    frame.x - box.x,
    frame.y - box.y,
    box.x + box.width - frame.x - frame.width,
    box.y + box.height - frame.y - frame.height,
    0,
  );
}
