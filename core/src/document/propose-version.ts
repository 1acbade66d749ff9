import type { FactsById } from '../model/asset-facts.js';
import { oklchOf } from '../colour/harmony.js';
import { leastDifference, readableInk } from '../colour/readable.js';
import { hexOf, rgbOf } from '../colour/srgb.js';
import { factsOfLayer, ownColours } from '../layers/layer-kinds.js';
import type { Requirement } from '../model/requirement.js';
import { toned } from '../treatments/tone.js';
import { NO_TONE, type Treatment } from '../model/treatment.js';
import type { Cloth, DesignDocument, Layer, LayerException, Target, TargetVersion } from '../model/design.js';
import { changeTarget, type Edit } from './edits.js';
import { seenBy } from './exception.js';
import { clothOf, garmentOfVersion } from './version.js';

/** Difference (CIEDE2000) below which an ink vanishes on cloth. */
const VANISHES_BELOW = 14;
/** Share of a picture's ink that must be grey and on the cloth's side of lightness for it to be line art. */
const LINE_ART = 0.5;
/** Share of a picture's ink that a colour must have to be asked whether it still reads when turned over. */
const COUNTS = 0.05;
/** Chroma (OKLCH) below which an ink is grey. */
const GREY = 0.05;

/** Colours on sale of a kind of cloth that the seller did not leave out; the one a version is looked at on if none is. */
export function clothsOf(target: Target, requirement: Pick<Requirement, 'colourways'>, cloth: Cloth): string[] {
  const own = requirement.colourways.filter(({ hex }) => clothOf(hex) === cloth).map(({ hex }) => hex);
  const sold = own.filter((hex) => !target.leftOut?.includes(hex.toLowerCase()));
  return sold.length ? sold : [garmentOfVersion(target, cloth, requirement.colourways)];
}

/**
 * What a version for a kind of cloth should do differently: inks that vanish are moved in lightness along their hue until
 * they read, line art is turned over, all else is left alone.
 */
export function proposedVersion(
  design: DesignDocument,
  target: Target,
  requirement: Requirement,
  cloth: Cloth,
  facts: FactsById,
): TargetVersion {
  const cloths = clothsOf(target, requirement, cloth);
  const layers: Record<string, LayerException> = {};
  const seen = seenBy(design, target).layers;
  for (const [n, layer] of design.layers.entries()) {
    if (seen[n].hidden) continue;
    const exception = exceptionFor(layer, seen[n], cloth, cloths, facts);
    if (exception) layers[layer.id] = exception;
  }
  return { layers };
}

/** Gives a target the version that is proposed for it; a second press proposes anew. */
export const proposeVersion =
  (target: Target, requirement: Requirement, cloth: Cloth, facts: FactsById): Edit =>
  (design) =>
    changeTarget(requirement.id, {
      versions: { ...target.versions, [cloth]: proposedVersion(design, target, requirement, cloth, facts) },
    })(design);

/** Takes a version away; with the last of them the target has one file again. */
export const dropVersion =
  (target: Target, cloth: Cloth): Edit =>
  (design) => {
    const { [cloth]: _gone, ...rest } = target.versions ?? {};
    return changeTarget(target.requirementId, { versions: Object.keys(rest).length ? rest : undefined })(design);
  };

function exceptionFor(
  layer: Layer,
  seen: Layer,
  cloth: Cloth,
  cloths: readonly string[],
  facts: FactsById,
): LayerException | null {
  if (layer.kind === 'picture' && seen.kind === 'picture') {
    const tone = isLineArt(seen, cloth, cloths, facts) ? turnedOver(seen.treatments ?? []) : null;
    return tone && { treatments: tone };
  }
  const [own, shown] = [ownColours(layer), ownColours(seen)];
  const colours = Object.fromEntries(
    own.flatMap((hex, n) => {
      const now = shown[n] ?? hex;
      if (leastDifference(now, cloths) >= VANISHES_BELOW) return [];
      return [[hex, readableInk(now, cloths, cloth === 'dark' ? 1 : -1)]];
    }),
  );
  return Object.keys(colours).length ? { colours } : null;
}

/**
 * True for a picture that is mostly grey ink of the lightness that vanishes, and of which turned over
 * nothing vanishes that reads now.
 */
function isLineArt(layer: Layer, cloth: Cloth, cloths: readonly string[], facts: FactsById): boolean {
  const inks = factsOfLayer(layer, facts)?.inks ?? [];
  const all = inks.reduce((sum, ink) => sum + ink.share, 0);
  const vanishing = inks.filter(({ hex }) => {
    const { l, c } = oklchOf(rgbOf(hex));
    return c < GREY && (cloth === 'dark' ? l < 0.55 : l > 0.6);
  });
  if (all <= 0 || vanishing.reduce((sum, ink) => sum + ink.share, 0) < all * LINE_ART) return false;
  const over = { ...NO_TONE, id: 'over', turnedOver: true };
  return inks
    .filter(({ hex, share }) => share >= all * COUNTS && leastDifference(hex, cloths) >= VANISHES_BELOW)
    .every(({ hex }) => leastDifference(hexOf(toned(rgbOf(hex), over)), cloths) >= VANISHES_BELOW);
}

function turnedOver(treatments: readonly Treatment[]): readonly Treatment[] {
  const tone = treatments.findLast((one) => one.kind === 'tone');
  if (tone?.kind === 'tone')
    return treatments.map((one) => (one === tone ? { ...tone, turnedOver: !tone.turnedOver } : one));
  return [...treatments, { ...NO_TONE, id: 'over', turnedOver: true }];
}
