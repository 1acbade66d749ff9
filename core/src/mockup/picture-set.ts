import type { KeptScene } from '../model/scene.js';
import type { DesignDocument } from '../model/design.js';
import type { Colourway, Requirement } from '../model/requirement.js';
import { colourwayOf, type Blank, type PictureFit, type PictureFormat } from '../model/blank.js';

/** Most shots in a set, and most colours of one. */
export const [MOST_SHOTS, MOST_COLOURS] = [40, 12];

/** One scene of a set, for any design: which of a design's targets it shows is found by its blank's product. */
export interface Shot extends Omit<KeptScene, 'requirementId' | 'garment'> {
  /** Its product's colour; the one a design is sold on when absent. */
  readonly garment?: string;
  /** In how many colours it is taken: that one, then the next the design is sold in. */
  readonly colours: number;
}

/** A usual row of listing pictures. */
export interface PictureSetFields {
  readonly name: string;
  /** What it is for, in a sentence; may be empty. */
  readonly about: string;
  readonly shots: readonly Shot[];
  readonly size: number;
  readonly format: PictureFormat;
  readonly fit?: PictureFit;
}

export interface PictureSet extends PictureSetFields {
  readonly id: string;
  readonly revision: number;
  /** True for one that came with the program: it is copied before it is changed. */
  readonly shipped: boolean;
}

/** A kept scene as a shot of a set. A picture behind it belongs to its design, and stays there. */
export function shotOf({ requirementId: _requirement, behind, ...scene }: KeptScene): Shot {
  return { ...scene, ...(behind?.kind === 'gradient' ? { behind } : {}), colours: 1 };
}

/**
 * Colours of a blank that a design is sold in, the one it is shown on first; all the blank comes in when it is sold in
 * none of them.
 */
export function soldIn(design: DesignDocument, requirement: Requirement | null, blank: Blank): Colourway[] {
  const target = design.targets.find((one) => one.requirementId === requirement?.id);
  const left = new Set((target?.leftOut ?? []).map((hex) => hex.toLowerCase()));
  const sold = [...(target?.garment ? [target.garment] : []), ...(requirement?.colourways ?? []).map((one) => one.hex)]
    .filter((hex) => !left.has(hex.toLowerCase()))
    .flatMap((hex) => colourwayOf(blank, hex) ?? []);
  const known = sold.filter((one, i) => sold.indexOf(one) === i);
  return known.length ? known : [...blank.colourways];
}

/** The colours a shot is taken in. @param sold those the design is sold in, the first of them first */
export function coloursOf(
  { garment, colours }: Pick<Shot, 'garment' | 'colours'>,
  blank: Blank,
  sold: readonly Colourway[],
): Colourway[] {
  const own = garment === undefined ? [] : [colourwayOf(blank, garment) ?? { name: garment, hex: garment }];
  const others = [...sold, ...blank.colourways].filter(
    (one, i, all) =>
      one.hex.toLowerCase() !== own[0]?.hex.toLowerCase() &&
      all.findIndex((other) => other.hex.toLowerCase() === one.hex.toLowerCase()) === i,
  );
  return [...own, ...others].slice(0, Math.max(1, colours));
}

/** How many pictures a set has of a design. @param blankOf the blank of a shot; one that is missing counts as one picture */
export const countOf = (
  { shots }: Pick<PictureSetFields, 'shots'>,
  blankOf: (id: string) => Blank | undefined,
): number =>
  shots.reduce((sum, shot) => {
    const blank = blankOf(shot.blankId);
    return sum + (blank ? coloursOf(shot, blank, []).length : 1);
  }, 0);
