import { labOf } from '../colour/lab.js';
import { rgbOf } from '../colour/srgb.js';
import type { Colourway, Requirement } from '../model/requirement.js';
import type { Cloth, LayerException, Target } from '../model/design.js';

/** Lightness (CIELAB) from which cloth counts as light. */
const LIGHT_FROM = 50;

/** The kind of cloth a garment colour is. */
export const clothOf = (hex: string): Cloth => (labOf(rgbOf(hex)).L >= LIGHT_FROM ? 'light' : 'dark');

/** The versions that files are made of: one without a name where the target has none, else both. */
export const versionsOf = (target: Target): readonly (Cloth | null)[] =>
  target.versions && Object.keys(target.versions).length ? ['light', 'dark'] : [null];

/** The version that is printed on a garment colour. */
export const versionFor = (target: Target, garment: string): Cloth | null =>
  versionsOf(target).length > 1 ? clothOf(garment) : null;

/** The colour a version is looked at on: its own, or of those on sale the one that is most of its kind. */
export function garmentOfVersion(target: Target, cloth: Cloth, colourways: readonly Colourway[]): string {
  const own = target.versions?.[cloth]?.garment ?? target.garment;
  if (own && clothOf(own) === cloth) return own;
  const lightness = ({ hex }: Colourway): number => labOf(rgbOf(hex)).L * (cloth === 'light' ? 1 : -1);
  const fitting = colourways.filter(({ hex }) => clothOf(hex) === cloth);
  return fitting.sort((a, b) => lightness(b) - lightness(a))[0]?.hex ?? (cloth === 'light' ? '#ffffff' : '#1b1b1d');
}

const versions = new WeakMap<Target, Map<string, Target>>();

/**
 * A target as one of its versions has it: its exceptions with those of the version on top. A version without a name is
 * the target itself. The same object for the same target.
 */
export function asVersion(target: Target, cloth: Cloth | null, requirement: Pick<Requirement, 'colourways'>): Target {
  if (cloth === null) return target;
  const garment = garmentOfVersion(target, cloth, requirement.colourways);
  let kept = versions.get(target);
  if (!kept) versions.set(target, (kept = new Map()));
  const key = `${cloth} ${garment}`;
  let one = kept.get(key);
  if (!one) {
    const { versions: _versions, ...rest } = target;
    const own = target.versions?.[cloth];
    const accepted = target.accepted?.filter((finding) => finding.cloth === cloth);
    kept.set(
      key,
      (one = {
        ...rest,
        garment,
        layers: together(target.layers, own?.layers),
        ...(accepted ? { accepted } : {}),
      }),
    );
    if (own?.keyline !== undefined) kept.set(key, (one = { ...one, keyline: own.keyline }));
  }
  return one;
}

/** Exceptions of a target with those of a version on top, field by field. */
function together(
  common: Readonly<Record<string, LayerException>> = {},
  own: Readonly<Record<string, LayerException>> = {},
): Record<string, LayerException> {
  const out: Record<string, LayerException> = { ...common };
  for (const [id, exception] of Object.entries(own)) {
    const below = Object.hasOwn(common, id) ? common[id] : {};
    // Colours of a version are named by the design's own, as all are: those of both hold, its own first.
    const colours = exception.colours ? { ...below.colours, ...exception.colours } : below.colours;
    out[id] = { ...below, ...exception, ...(colours ? { colours } : {}) };
  }
  return out;
}

/** Names a target with its version in one word, for what is kept of it: `tee`, or `tee/dark`. */
export const targetKey = (requirementId: string, cloth: Cloth | null): string =>
  cloth === null ? requirementId : `${requirementId}/${cloth}`;

/** The parts of a {@link targetKey}. */
export function readTargetKey(key: string): { requirementId: string; cloth: Cloth | null } {
  const [requirementId, cloth] = key.split('/');
  return { requirementId, cloth: cloth === 'light' || cloth === 'dark' ? cloth : null };
}

/** Words for the seller. */
export const versionWord = (cloth: Cloth): string => (cloth === 'light' ? 'for light cloth' : 'for dark cloth');
