import type { Arrangement } from './arrangements.js';
import { CLIP_SHAPE_WORDS } from '../model/clip.js';
import type { MusicTrack } from './music.js';

/** What arrangements are told apart by. */
export const ARRANGEMENT_FACETS = ['product', 'mood', 'length', 'shape', 'designs'] as const;
export type ArrangementFacet = (typeof ARRANGEMENT_FACETS)[number];
export type ArrangementChoice = Readonly<Partial<Record<ArrangementFacet, string>>>;

/** Lengths by which clips are told apart, seconds: the first that a clip does not exceed. */
const LENGTHS: readonly (readonly [number, string])[] = [
  [7, 'up to 7 s'],
  [12, '7 to 12 s'],
  [Infinity, 'longer'],
];

/** How long an arrangement lasts with its track, seconds. */
export function secondsOfArrangement({ steps, trackId }: Arrangement, tracks: readonly MusicTrack[]): number {
  const bpm = tracks.find(({ id }) => id === trackId)?.beats?.bpm ?? 120;
  return (steps.reduce((sum, { beats }) => sum + beats, 0) * 60) / bpm;
}

/** The one value of a facet that an arrangement has. */
export function tagOf(one: Arrangement, facet: ArrangementFacet, tracks: readonly MusicTrack[]): string {
  switch (facet) {
    case 'product':
      return one.steps.some(({ turns }) => turns)
        ? 'turning'
        : new Set(one.steps.map(({ shot }) => shot)).size > 1
          ? 'several products'
          : 'one product';
    case 'mood':
      return tracks.find(({ id }) => id === one.trackId)?.mood ?? '';
    case 'length':
      return LENGTHS.find(([most]) => secondsOfArrangement(one, tracks) <= most)![1];
    case 'shape':
      return CLIP_SHAPE_WORDS[one.shape];
    case 'designs':
      return one.manyDesigns ? 'several designs' : 'one design';
  }
}

export interface FoundArrangements {
  readonly found: readonly Arrangement[];
  /** Values of each facet, and how many arrangements have them among those that the other facets leave. */
  readonly counts: Readonly<Record<ArrangementFacet, readonly { readonly value: string; readonly count: number }[]>>;
}

/** Arrangements with all chosen tags, and what else could be chosen. */
export function findArrangements(
  all: readonly Arrangement[],
  choice: ArrangementChoice,
  tracks: readonly MusicTrack[],
): FoundArrangements {
  const passes = (one: Arrangement, except?: ArrangementFacet): boolean =>
    ARRANGEMENT_FACETS.every(
      (facet) => facet === except || !choice[facet] || tagOf(one, facet, tracks) === choice[facet],
    );
  const countsOf = (facet: ArrangementFacet) => {
    const left = all.filter((one) => passes(one, facet));
    const values = [...new Set(all.map((one) => tagOf(one, facet, tracks)))].filter(Boolean);
    const ordered =
      facet === 'length' ? LENGTHS.map(([, value]) => value).filter((one) => values.includes(one)) : values;
    return ordered.map((value) => ({
      value,
      count: left.filter((one) => tagOf(one, facet, tracks) === value).length,
    }));
  };
  return {
    found: all.filter((one) => passes(one)),
    counts: Object.fromEntries(
      ARRANGEMENT_FACETS.map((facet) => [facet, countsOf(facet)]),
    ) as unknown as FoundArrangements['counts'],
  };
}
