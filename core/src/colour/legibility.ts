import { deltaE2000, labOf } from './lab.js';
import { contrast, rgbOf } from './srgb.js';

/** A colour of the art with its share of the visible ink, 0 to 1. */
export interface InkShare {
  readonly hex: string;
  readonly share: number;
}

/** How well art is seen on a garment colour. */
export interface Legibility {
  /** Share of the ink that cannot be told from the garment, 0 to 1. */
  readonly lost: number;
  /** The largest ink colour that is lost, if any. */
  readonly lostHex: string | null;
  /** Contrast ratio of the best-seen ink of at least a tenth of the art. */
  readonly bestContrast: number;
  /** The same of the ink that is seen worst: art reads as well as its worst part. */
  readonly worstContrast: number;
}

/** From this contrast on, what is as large as print on cloth reads well (WCAG 2.2, 1.4.11). */
export const READS_WELL = 3;

/** Below this CIEDE2000 distance ink and cloth look like one under ordinary light. */
const LOST_BELOW = 11;

export function legibility(inks: readonly InkShare[], garmentHex: string): Legibility {
  const garment = rgbOf(garmentHex);
  const garmentLab = labOf(garment);
  let lost = 0;
  let lostHex: string | null = null;
  let lostMost = 0;
  let bestContrast = 1;
  let worstContrast = Infinity;
  for (const { hex, share } of inks) {
    const ink = rgbOf(hex);
    if (share >= 0.1) worstContrast = Math.min(worstContrast, contrast(ink, garment));
    if (deltaE2000(labOf(ink), garmentLab) < LOST_BELOW) {
      lost += share;
      if (share > lostMost) {
        lostMost = share;
        lostHex = hex;
      }
    } else if (share >= 0.1) {
      bestContrast = Math.max(bestContrast, contrast(ink, garment));
    }
  }
  return { lost, lostHex, bestContrast, worstContrast: Number.isFinite(worstContrast) ? worstContrast : bestContrast };
}
