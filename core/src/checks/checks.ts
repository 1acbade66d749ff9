import type { DesignDocument, Target } from '../model/design.js';
import { ENGINE_VERSION } from '../recipes/recipe.js';
import type { Requirement } from '../model/requirement.js';
import type { FactsById } from '../model/asset-facts.js';
import { canvasDpi } from './canvas-dpi.js';
import { canvasSize } from './canvas-size.js';
import type { Check } from './check.js';
import { converted } from './converted.js';
import { enlarged } from './enlarged.js';
import { fileType } from './file-type.js';
import type { Finding, FindingCode, Severity } from './finding.js';
import { flatBox } from './flat-box.js';
import { liveText } from './live-text.js';
import { lostOnGarment } from './lost-on-garment.js';
import { missingAsset } from './missing-asset.js';
import { missingLetters } from './missing-letters.js';
import { inkCoverage, lettersInPictures, longFade, outOfGamut, specks, thinGaps, thinLines } from './measured.js';
import { smallLetters } from './small-letters.js';
import { bareCloth } from './bare-cloth.js';
import { backwardLetters, closeInks, emptyHalf, inTheBleed, mirroredFile } from './arrangement.js';
import { markAccepted } from './accepted.js';
import { importantLost } from './important-lost.js';
import { noArt } from './no-art.js';
import { nothingVisible } from './nothing-visible.js';
import { offCanvas } from './off-canvas.js';
import { offCloth } from './off-cloth.js';
import { outsideSafe } from './outside-safe.js';
import { softInk } from './soft-ink.js';
import { checkInputOf, type Measured } from './check-input.js';

/**
 * Every check there is, in the order in which findings of one severity are told. Adding one: a file beside these, and
 * its name here.
 */
export const CHECKS: readonly Check[] = [
  canvasSize,
  canvasDpi,
  fileType,
  noArt,
  nothingVisible,
  offCanvas,
  outsideSafe,
  offCloth,
  bareCloth,
  importantLost,
  inTheBleed,
  missingAsset,
  missingLetters,
  mirroredFile,
  backwardLetters,
  flatBox,
  enlarged,
  softInk,
  longFade,
  thinLines,
  thinGaps,
  smallLetters,
  lettersInPictures,
  specks,
  inkCoverage,
  outOfGamut,
  closeInks,
  liveText,
  converted,
  lostOnGarment,
  emptyHalf,
];

/**
 * Grows whenever the same target would be judged otherwise: with the drawing, with its own recipes' treatments, or with
 * a check.
 */
const CHECKS_VERSION = 7;
export const JUDGEMENT_VERSION = ENGINE_VERSION * 1000 + CHECKS_VERSION;

/** Findings that make a file impossible, as opposed to unwise. */
export const CANNOT_MAKE: readonly FindingCode[] = CHECKS.flatMap((check) => check.hinders);

const ORDER: readonly Severity[] = ['blocks', 'warns', 'tells'];

/** All findings of one target, the gravest first. */
export function findTarget(
  whole: DesignDocument,
  target: Target,
  requirement: Requirement,
  facts: FactsById,
  measured: Measured | null = null,
): Finding[] {
  const input = checkInputOf(whole, target, requirement, facts, measured);
  const found = CHECKS.flatMap((check) => check.find(input));
  return markAccepted(found, whole, target, requirement).sort(
    (a, b) =>
      Number(a.accepted !== undefined) - Number(b.accepted !== undefined) ||
      ORDER.indexOf(a.severity) - ORDER.indexOf(b.severity),
  );
}
