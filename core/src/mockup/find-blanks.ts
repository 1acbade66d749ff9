import { labOf } from '../colour/lab.js';
import { rgbOf } from '../colour/srgb.js';
import type { Blank } from '../model/blank.js';

/** What blanks are told apart by. */
export const BLANK_FACETS = ['category', 'product', 'view', 'wearer', 'setting', 'kind', 'colour', 'whose'] as const;
export type BlankFacet = (typeof BLANK_FACETS)[number];

/** One value a facet is narrowed to; absent facets take all. */
export type BlankChoice = Readonly<Partial<Record<BlankFacet, string>>>;

/** A value of a facet, and how many blanks have it among those that all other facets and the words leave. */
export interface BlankCount {
  readonly value: string;
  readonly count: number;
}

export interface FoundBlanks {
  readonly blanks: readonly Blank[];
  /** In the order of the blanks they come from; colours from light to dark, then around the wheel. */
  readonly counts: Readonly<Record<BlankFacet, readonly BlankCount[]>>;
}

/** Words for colours, in the order they are listed. */
const COLOURS = ['white', 'grey', 'black', 'red', 'brown', 'yellow', 'green', 'blue', 'purple', 'pink'] as const;
export type ColourWord = (typeof COLOURS)[number];

/** Chroma below which a colour is called white, grey or black (CIELAB), and the lightness that parts those. */
const [HUELESS, LIGHT, DARK] = [12, 84, 26];
/** Where hues begin, degrees of CIELAB; the first goes on where the last ends. */
const HUES: readonly (readonly [number, ColourWord])[] = [
  [0, 'red'],
  [55, 'brown'],
  [75, 'yellow'],
  [110, 'green'],
  [200, 'blue'],
  [300, 'purple'],
  [330, 'pink'],
];

/** The word a shopper would call a colour by. */
export function colourWord(hex: string): ColourWord {
  const { L: l, a, b } = labOf(rgbOf(hex));
  const chroma = Math.hypot(a, b);
  // Very light cloth passes for white and very dark for black with some hue left in it.
  if (chroma < (l > LIGHT || l < DARK ? HUELESS : HUELESS / 2))
    return l > LIGHT ? 'white' : l < DARK ? 'black' : 'grey';
  const hue = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
  const word = HUES.findLast(([from]) => hue >= from)![1];
  // Light yellows stay yellow, dark ones are browns; light reds are pinks.
  if (word === 'brown' && l > 70) return 'yellow';
  if (word === 'yellow' && l < 50) return 'brown';
  if (word === 'red' && l > 70) return 'pink';
  return word;
}

/** Values of a facet that a blank has. */
function valuesOf(blank: Blank, facet: BlankFacet, own: ReadonlySet<string>): readonly string[] {
  switch (facet) {
    case 'colour':
      return [...new Set(blank.colourways.map(({ hex }) => colourWord(hex)))];
    case 'whose':
      return [own.has(blank.id) ? 'own' : 'shipped'];
    default:
      return [blank[facet]];
  }
}

/**
 * Blanks that have all words and all chosen values, and what else could be chosen.
 * @param words looked for anywhere in what a blank says of itself
 * @param own ids of the seller's own blanks
 */
export function findBlanks(
  blanks: readonly Blank[],
  choice: BlankChoice,
  words: string,
  own: ReadonlySet<string> = new Set(),
): FoundBlanks {
  const asked = words.toLowerCase().split(/\s+/).filter(Boolean);
  const worded = blanks.filter((blank) => {
    const { name, product, category, view, setting, wearer, tags, colourways } = blank;
    const says = [name, product, category, view, setting, wearer, ...tags, ...colourways.map((one) => one.name)]
      .join(' ')
      .toLowerCase();
    return asked.every((word) => says.includes(word));
  });
  const passes = (blank: Blank, except?: BlankFacet): boolean =>
    BLANK_FACETS.every(
      (facet) => facet === except || !choice[facet] || valuesOf(blank, facet, own).includes(choice[facet]),
    );
  const countsOf = (facet: BlankFacet): BlankCount[] => {
    const left = worded.filter((blank) => passes(blank, facet));
    const all = new Set(blanks.flatMap((blank) => valuesOf(blank, facet, own)));
    const values = facet === 'colour' ? COLOURS.filter((word) => all.has(word)) : [...all];
    return values.map((value) => ({
      value,
      count: left.filter((blank) => valuesOf(blank, facet, own).includes(value)).length,
    }));
  };
  return {
    blanks: worded.filter((blank) => passes(blank)),
    counts: Object.fromEntries(
      BLANK_FACETS.map((facet) => [facet, countsOf(facet)]),
    ) as unknown as FoundBlanks['counts'],
  };
}
