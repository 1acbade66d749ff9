import { MM_PER_INCH, fromMm, toMm } from '../units/length.js';
import type { RequirementFields } from './requirement.js';

/** The pixel grid a print file is made on. */
export interface Canvas {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly dpi: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

/** A canvas of the seller's own for one target, instead of the demanded one. */
export interface CanvasOverride {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly dpi: number;
}

/** Canvas of whole pixels; the millimetres follow from the pixels, so that they are what is really printed. */
export function makeCanvas(widthPx: number, heightPx: number, dpi: number): Canvas {
  return { widthPx, heightPx, dpi, widthMm: (widthPx / dpi) * MM_PER_INCH, heightMm: (heightPx / dpi) * MM_PER_INCH };
}

/** The exact canvas a requirement demands. Lengths are rounded to the nearest whole pixel. */
export function demandedCanvas(requirement: Pick<RequirementFields, 'width' | 'height' | 'unit' | 'dpi'>): Canvas {
  const { width, height, unit, dpi } = requirement;
  const pixels = (length: number) => Math.max(1, Math.round(fromMm(toMm(length, unit, dpi), 'px', dpi)));
  return makeCanvas(pixels(width), pixels(height), dpi);
}

/** The canvas a target is made on: the seller's own when there is one, otherwise the demanded one. */
export function targetCanvas(requirement: RequirementFields, override?: CanvasOverride): Canvas {
  return override ? makeCanvas(override.widthPx, override.heightPx, override.dpi) : demandedCanvas(requirement);
}

/** True when a size in pixels satisfies the requirement's size rule. */
export function sizeAccepted(requirement: RequirementFields, widthPx: number, heightPx: number): boolean {
  const demanded = demandedCanvas(requirement);
  switch (requirement.sizeRule) {
    case 'exact':
      return widthPx === demanded.widthPx && heightPx === demanded.heightPx;
    case 'at-least':
      return widthPx >= demanded.widthPx && heightPx >= demanded.heightPx;
    case 'at-most':
      return widthPx <= demanded.widthPx && heightPx <= demanded.heightPx;
  }
}

const RULE_WORDS = { exact: 'exactly', 'at-least': 'at least', 'at-most': 'at most' } as const;

/** The demanded size as words, e.g. `exactly 4200 × 4800 px`. */
export function demandedSizeWords(requirement: RequirementFields): string {
  const { widthPx, heightPx } = demandedCanvas(requirement);
  return `${RULE_WORDS[requirement.sizeRule]} ${widthPx} × ${heightPx} px`;
}
