import { clothOf } from '../document/version.js';
import { type PrintProcess } from '../model/press.js';
import { processOf } from '../model/requirement.js';
import type { Requirement } from '../model/requirement.js';
import { isClothing } from './area.js';
import type { Blank } from '../model/blank.js';
import type { InkKind, Look, LookChoice } from '../model/scene.js';

export const INK_KINDS: readonly InkKind[] = ['direct', 'transfer', 'screen', 'sublimation', 'plain'];

export const INK_WORDS: Readonly<Record<InkKind, string>> = {
  direct: 'direct to garment',
  transfer: 'transfer film',
  screen: 'screen ink',
  sublimation: 'sublimation',
  plain: 'plain ink',
};

/** What each looks like, in a sentence. */
export const INK_ADVICE: Readonly<Record<InkKind, string>> = {
  direct: 'Dull, in the threads: the knit shows through, a little less on dark cloth, where white lies under it.',
  transfer: 'A thin film on the cloth: it shines by itself, hides most of the knit and has an edge.',
  screen: 'A layer of ink: some shine, half of the knit.',
  sublimation: 'Dyes the cloth itself: colours are mixed with the cloth’s own, and white is the cloth.',
  plain: 'Colours as they are in the file.',
};

/** How ink lies on the cloth. All 0 to 1 but `sheen` and `seep`. */
export interface InkOnCloth {
  /** Its gloss against the cloth's own: 1 is the same. */
  readonly sheen: number;
  /** How far its gloss is white, as that of a film, instead of the hue of what is under it. */
  readonly film: number;
  /** How far it dyes the cloth instead of covering it. */
  readonly dye: number;
  /** How much of the knit's height is left on it. */
  readonly relief: number;
  /** How much of it is missing where the knit is low, for the height of a stitch. */
  readonly seep: number;
  /** How far its edge stands out and takes the light, as a share of it: thick ink bends the cloth. */
  readonly edge: number;
}

const INKS: Readonly<Record<InkKind, InkOnCloth>> = {
  plain: { sheen: 1, film: 0, dye: 0, relief: 1, seep: 0, edge: 0 },
  direct: { sheen: 0.75, film: 0, dye: 0, relief: 1, seep: 0.8, edge: 0 },
  transfer: { sheen: 1.5, film: 1, dye: 0, relief: 0.3, seep: 0, edge: 0.22 },
  screen: { sheen: 1.25, film: 0.5, dye: 0, relief: 0.6, seep: 0.5, edge: 0.1 },
  sublimation: { sheen: 1, film: 0, dye: 1, relief: 1, seep: 0, edge: 0 },
};

/** How a kind of ink lies on cloth of a colour. */
export function inkOn(kind: InkKind, garment: string): InkOnCloth {
  const ink = INKS[kind];
  // White under the ink fills the threads.
  return kind === 'direct' && clothOf(garment) === 'dark' ? { ...ink, relief: 0.85, seep: ink.seep / 2 } : ink;
}

/** Nothing added: the formula of the packs alone. */
export const PLAIN_LOOK: Look = { ink: 'plain', folds: 1, knit: 0, softness: 0, grain: 0 };

/** What a camera adds unless a seller wants it otherwise. */
export const GENTLE_FINISH = { folds: 1, knit: 0.5, softness: 0.3, grain: 0.2 } as const;

/** Most contrast of folds. */
export const MOST_FOLDS = 2;

const KIND_OF: Readonly<Record<PrintProcess, InkKind>> = {
  direct: 'direct',
  transfer: 'transfer',
  screen: 'screen',
  sublimation: 'sublimation',
  paper: 'plain',
};

/** The ink of a print by itself: of its requirement's process, where its cloth can take that: dark cloth cannot be dyed. */
export function usualInk(
  blank: Pick<Blank, 'category'>,
  requirement: Pick<Requirement, 'process' | 'product' | 'mode'> | null,
  garment: string,
): InkKind {
  if (!isClothing(blank)) return 'plain';
  const kind = requirement ? KIND_OF[processOf(requirement)] : 'direct';
  return kind === 'sublimation' && clothOf(garment) === 'dark' ? 'transfer' : kind;
}

/** The look of a scene: as it was chosen, the rest by the product, the print's process and the colour of the cloth. */
export function lookOf(
  choice: LookChoice | undefined,
  blank: Pick<Blank, 'category'>,
  requirement: Pick<Requirement, 'process' | 'product' | 'mode'> | null,
  garment: string,
): Look {
  const look = { ...GENTLE_FINISH, ink: usualInk(blank, requirement, garment), ...choice };
  // Only tops are knitted.
  return blank.category === 'Tops' ? look : { ...look, knit: 0 };
}
