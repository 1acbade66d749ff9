import { targetCanvas, type Canvas } from '../model/canvas.js';
import type { TargetPlacement } from '../model/placement.js';
import type { Requirement } from '../model/requirement.js';
import { compose, mapBox, scale, translate, type Affine, type Box } from '../geometry/affine.js';
import type { DesignDocument, Layer, Target } from '../model/design.js';
import { boundsOfLayers } from './bounds.js';
import { leastRepeat, type PlacedRepeat } from './repeat.js';
import { unitToField } from '../geometry/place.js';
import { MM_PER_INCH } from '../units/length.js';

export function placementOf(target: Target, requirement: Requirement): TargetPlacement {
  return target.placement ?? requirement.placement;
}

/** Enlargement of the field on a canvas: 1 means that printed sizes are the field's own. */
export function fieldScale(
  field: DesignDocument['field'],
  canvas: Pick<Canvas, 'widthMm' | 'heightMm'>,
  placement: TargetPlacement,
): number {
  const ratios = [canvas.widthMm / field.width, canvas.heightMm / field.height];
  const base =
    placement.rule === 'same-size' ? 1 : placement.rule === 'fit' ? Math.min(...ratios) : Math.max(...ratios);
  return base * placement.scale;
}

/** Map from the print field to the canvas, both in mm from their top left corner. */
export function fieldToCanvas(
  field: DesignDocument['field'],
  canvas: Pick<Canvas, 'widthMm' | 'heightMm'>,
  placement: TargetPlacement,
): Affine {
  const factor = fieldScale(field, canvas, placement);
  const down = { top: 0, centre: 0.5, bottom: 1 }[placement.anchor];
  return compose(
    translate(canvas.widthMm / 2 + placement.offsetX, canvas.heightMm * down + placement.offsetY),
    scale(factor),
    translate(-field.width / 2, -field.height * down),
  );
}

/** Everything a drawing of a target needs, in one place. */
export interface TargetLayout {
  readonly canvas: Canvas;
  readonly placement: TargetPlacement;
  /** Print field to canvas, mm to mm. */
  readonly toCanvas: Affine;
  /** Enlargement of the field, 1 = printed at the field's own size. */
  readonly factor: number;
  /** Canvas mm inside the safe line. */
  readonly safe: Box;
}

export function layoutTarget(
  design: Pick<DesignDocument, 'field'>,
  target: Target,
  requirement: Requirement,
): TargetLayout {
  const canvas = targetCanvas(requirement, target.canvas);
  const placement = placementOf(target, requirement);
  const inset = Math.min(requirement.safeInsetMm, canvas.widthMm / 2, canvas.heightMm / 2);
  return {
    canvas,
    placement,
    toCanvas: fieldToCanvas(design.field, canvas, placement),
    factor: fieldScale(design.field, canvas, placement),
    safe: { x: inset, y: inset, width: canvas.widthMm - 2 * inset, height: canvas.heightMm - 2 * inset },
  };
}

/** How much larger than the canvas covering art is: rounding leaves no bare line. */
const COVERING = 1.003;

/**
 * The placement with which a design's art covers a target's whole canvas, its middle on the canvas's; null without art.
 * Give the design as the target sees it.
 */
export function coveringPlacement(
  design: DesignDocument,
  target: Target,
  requirement: Requirement,
): TargetPlacement | null {
  const art = boundsOfLayers(design.layers);
  if (!art) return null;
  const { widthMm, heightMm } = targetCanvas(requirement, target.canvas);
  return centredPlacement(design, art, Math.max(widthMm / art.width, heightMm / art.height) * COVERING);
}

/**
 * The placement with which art that a whole field would make smaller lies on a canvas at its own size, or as large as
 * there is room for inside the safe line; null where the requirement's own placement is right. Give the design as the
 * target sees it.
 */
export function ownSizePlacement(
  design: DesignDocument,
  target: Target,
  requirement: Requirement,
): TargetPlacement | null {
  const art = boundsOfLayers(design.layers);
  if (!art || requirement.placement.rule !== 'fit' || target.placement) return null;
  const { canvas, safe, factor } = layoutTarget(design, target, requirement);
  const fitted = Math.min(1, safe.width / art.width, safe.height / art.height);
  if (fitted <= factor * LARGER) return null;
  const [width, height] = [art.width * fitted, art.height * fitted];
  const box = { x: (canvas.widthMm - width) / 2, y: (canvas.heightMm - height) / 2, width, height };
  return placementAt(design, art, canvas, box);
}

/** By how much larger it has to be to be worth a placement of its own. */
const LARGER = 1.02;

/** The placement with which art lies in the middle of a canvas, enlarged by a factor. @param art its box on the field */
function centredPlacement({ field }: Pick<DesignDocument, 'field'>, art: Box, factor: number): TargetPlacement {
  return {
    rule: 'same-size',
    anchor: 'centre',
    scale: factor,
    offsetX: -(art.x + art.width / 2 - field.width / 2) * factor,
    offsetY: -(art.y + art.height / 2 - field.height / 2) * factor,
  };
}

/** The placement with which art lies at a box of a canvas, mm, of its own proportions. @param art its box on the field */
export function placementAt(
  design: Pick<DesignDocument, 'field'>,
  art: Box,
  canvas: Pick<Canvas, 'widthMm' | 'heightMm'>,
  box: Box,
): TargetPlacement {
  const centred = centredPlacement(design, art, box.width / art.width);
  return {
    ...centred,
    offsetX: centred.offsetX + box.x + box.width / 2 - canvas.widthMm / 2,
    offsetY: centred.offsetY + box.y + box.height / 2 - canvas.heightMm / 2,
  };
}

/**
 * The placement with which a design's art is repeated over a target's canvas at a width, or as near to it as the number of
 * copies allows; null without art. Give the design as the target sees it.
 */
export function repeatedPlacement(
  design: DesignDocument,
  target: Target,
  requirement: Requirement,
  widthMm: number,
  gapMm: number,
): TargetPlacement | null {
  const art = boundsOfLayers(design.layers);
  if (!art) return null;
  const { widthMm: width, heightMm: height } = targetCanvas(requirement, target.canvas);
  const least = leastRepeat(art, gapMm, { x: 0, y: 0, width, height });
  return centredPlacement(design, art, Math.max(widthMm / art.width, least));
}

/** A layer on a pixel grid: unit square of the picture to pixels. */
export function layerToPixels(layer: Pick<Layer, 'place'>, toCanvas: Affine, dpi: number): Affine {
  return compose(scale(dpi / MM_PER_INCH), toCanvas, unitToField(layer.place));
}

/**
 * Box around the visible art on a target's canvas in mm, or null when nothing is visible. Give the design as the
 * target sees it.
 */
export function artOnCanvas(design: DesignDocument, layout: TargetLayout): Box | null {
  const bounds = boundsOfLayers(design.layers);
  return bounds && mapBox(layout.toCanvas, bounds);
}

/** How a design's art is repeated on a canvas, in its mm; null where it is not. Give the design as the target sees it. */
export function repeatOnCanvas(
  design: Pick<DesignDocument, 'layers' | 'repeat'>,
  toCanvas: Affine,
  frame: Box,
): PlacedRepeat | null {
  const bounds = design.repeat && boundsOfLayers(design.layers);
  return design.repeat && bounds
    ? { kind: design.repeat.kind, tile: mapBox(toCanvas, bounds), gap: design.repeat.gapMm, frame }
    : null;
}

/** Dots per inch at which a raster picture's own pixels arrive on the canvas, of the weaker axis. */
export function effectiveDpi(
  layer: Pick<Layer, 'place'>,
  pixels: { width: number; height: number },
  factor: number,
): number {
  const across = pixels.width / ((layer.place.width * factor) / MM_PER_INCH);
  const down = pixels.height / ((layer.place.height * factor) / MM_PER_INCH);
  return Math.min(across, down);
}

/** The target a seller is looking at, or the first. */
export function targetFor(design: DesignDocument, requirementId: string | null): Target | undefined {
  return design.targets.find((target) => target.requirementId === requirementId) ?? design.targets[0];
}
