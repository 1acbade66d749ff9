import type { Box, Point } from '../geometry/affine.js';

/** What every treatment has. */
interface AnyTreatment {
  readonly id: string;
  /** True while it is kept in the list and not used. */
  readonly off?: boolean;
}

/** Shows a part of the picture only: shares 0 to 1 of its width and height. */
export interface Crop extends AnyTreatment {
  readonly kind: 'crop';
  readonly box: Box;
}

/** Takes one colour out. Edge pixels are unmixed from it, so that nothing of it stays around the art. */
export interface ColourCut extends AnyTreatment {
  readonly kind: 'colour';
  /** `#rrggbb` */
  readonly hex: string;
  /** Distance in levels (0 to 255, root mean square of the channels) that still counts as this colour. */
  readonly tolerance: number;
  /** From where it is followed: the picture's border and clear parts, a clicked point, or wherever it is. */
  readonly from: 'border' | 'point' | 'everywhere';
  /** The clicked point, shares 0 to 1 of width and height; needed with `from: 'point'`. */
  readonly at?: Point;
  /**
   * How deep a soft edge may go, a share 0 to {@link MOST_SOFT_EDGE} of the longer side; art that nears the ground's
   * colour farther than that is kept whole. Cuts of before have none, and go as deep as the colour changes, at most so far.
   */
  readonly soft?: number;
}

/** Deepest soft edge, share of a picture's longer side. */
export const MOST_SOFT_EDGE = 0.16;
/** How deep a soft edge goes when nothing is said of it. */
export const USUAL_SOFT_EDGE = 0.08;

/** A line rubbed over a picture: what it touches is to be kept or dropped. */
export interface SeedStroke {
  readonly keep: boolean;
  /** x and y of each point one after the other, shares 0 to 1 of width and height. */
  readonly points: readonly number[];
  /** Width, share 0 to 1 of the longer side. */
  readonly size: number;
}

/** Finds the edge between what strokes keep and what they drop. */
export interface StrokeCut extends AnyTreatment {
  readonly kind: 'strokes';
  readonly strokes: readonly SeedStroke[];
  /** Width of the edge that may be soft, as hair is: a share 0 to 0.1 of the longer side. */
  readonly hair: number;
  /** True where the edge is decided anew on a finer copy, so that letters keep their counters. Cuts of before have none. */
  readonly fine?: boolean;
  /**
   * Share of alpha, 0 to 0.5, that is ground seen between hairs: that much is none, and that much less than all is all.
   * {@link SOME_HAZE} where absent.
   */
  readonly clean?: number;
  /**
   * How far from the first edge a fine cut decides anew, cells of the small copy, 0 to 192: bays of letters lie deep.
   * {@link LITTLE_ANEW} where absent.
   */
  readonly anew?: number;
}

/** What cuts of before cleaned, and what a new one begins with. */
export const [SOME_HAZE, USUAL_CLEAN] = [0.03, 0.1];
/** The same of what is decided anew: letters as high as a seventh of the picture are found to their middle. */
export const [LITTLE_ANEW, USUAL_ANEW] = [4, 12];

/** A cut by strokes as it begins. */
export const NEW_STROKES: Omit<StrokeCut, 'id'> = {
  kind: 'strokes',
  strokes: [],
  hair: 0.006,
  fine: true,
  clean: USUAL_CLEAN,
  anew: USUAL_ANEW,
};

/** Unmixes every pixel into one colour, which goes, and the rest, which stays as soft as it was. */
export interface Dissolve extends AnyTreatment {
  readonly kind: 'dissolve';
  readonly hex: string;
  /** Alpha up to this is noise of the ground, 0 to 0.5. */
  readonly clean: number;
}

/** Works on the edge that the steps before it made. Lengths are px of the picture's own grid. */
export interface EdgeWork extends AnyTreatment {
  readonly kind: 'edge';
  /** Grows the art when positive, −50 to 50. */
  readonly shift: number;
  /** Blurs the edge, 0 to 50. */
  readonly soften: number;
  /** Takes corners and teeth out of the edge without blurring it, 0 to 50. */
  readonly smooth: number;
  /** How far colours of edge pixels are replaced by those of the art behind them, 0 to 1. */
  readonly decontaminate: number;
  /** Islands up to this many px are cleared. */
  readonly specks: number;
  /** Holes up to this many px are filled. */
  readonly pinholes: number;
}

/** A line brushed by hand. */
export interface TouchStroke {
  /** True brings the picture back, false takes it away. */
  readonly back: boolean;
  readonly points: readonly number[];
  readonly size: number;
  /** 1 has a clean edge, 0 is soft to the middle. */
  readonly hardness: number;
}

/** Brings parts back and takes parts away by hand. */
export interface Touch extends AnyTreatment {
  readonly kind: 'touch';
  readonly strokes: readonly TouchStroke[];
}

/** Changes the colours, never the alpha. All at zero and off changes nothing. */
export interface Tone extends AnyTreatment {
  readonly kind: 'tone';
  /** −1 to 1. */
  readonly lightness: number;
  readonly contrast: number;
  readonly saturation: number;
  readonly warmth: number;
  /** Degrees, −180 to 180. */
  readonly hue: number;
  /** Turns lightness over while hues stay. */
  readonly turnedOver: boolean;
  /** One ink: `#rrggbb`, or null to keep the colours. */
  readonly ink: string | null;
  /** Black and white from this lightness on, 0 to 1, or null for none. */
  readonly threshold: number | null;
}

/** A change to a picture layer that leaves its file alone. */
export type Treatment = Crop | ColourCut | StrokeCut | Dissolve | EdgeWork | Touch | Tone;

/** Treatments that take something out. */
export type Cut = ColourCut | StrokeCut | Dissolve;

export const MAX_TREATMENTS = 40;
/** Most strokes of one treatment, and most points of one stroke. */
export const MAX_SEED_STROKES = 300;
export const MAX_SEED_POINTS = 600;

export const NO_EDGE: Omit<EdgeWork, 'id'> = {
  kind: 'edge',
  shift: 0,
  soften: 0,
  smooth: 0,
  decontaminate: 0,
  specks: 0,
  pinholes: 0,
};

export const NO_TONE: Omit<Tone, 'id'> = {
  kind: 'tone',
  lightness: 0,
  contrast: 0,
  saturation: 0,
  warmth: 0,
  hue: 0,
  turnedOver: false,
  ink: null,
  threshold: null,
};

const changesEdge = (edge: EdgeWork): boolean =>
  edge.shift !== 0 ||
  edge.soften > 0 ||
  edge.smooth > 0 ||
  edge.decontaminate > 0 ||
  edge.specks > 0 ||
  edge.pinholes > 0;

const changesTone = (tone: Tone): boolean =>
  tone.lightness !== 0 ||
  tone.contrast !== 0 ||
  tone.saturation !== 0 ||
  tone.warmth !== 0 ||
  tone.hue !== 0 ||
  tone.turnedOver ||
  tone.ink !== null ||
  tone.threshold !== null;

function isAtWork(treatment: Treatment): boolean {
  if (treatment.off) return false;
  switch (treatment.kind) {
    case 'crop':
      return treatment.box.width < 1 || treatment.box.height < 1;
    case 'strokes':
    case 'touch':
      return treatment.strokes.length > 0;
    case 'edge':
      return changesEdge(treatment);
    case 'tone':
      return changesTone(treatment);
    case 'colour':
    case 'dissolve':
      return true;
  }
}

/** Treatments that change a pixel: those that are on and set to something. */
export const atWork = (treatments: readonly Treatment[] | undefined): Treatment[] =>
  (treatments ?? []).filter(isAtWork);

const WHOLE: Box = { x: 0, y: 0, width: 1, height: 1 };

/** The part of the picture that is shown, shares of its width and height. */
export const cropOf = (treatments: readonly Treatment[] | undefined): Box =>
  atWork(treatments).findLast((one) => one.kind === 'crop')?.box ?? WHOLE;

/** Whole pixels of a picture that a crop shows: at least one. */
export function cropPixels(box: Box, width: number, height: number): Box {
  const x = Math.min(width - 1, Math.max(0, Math.round(box.x * width)));
  const y = Math.min(height - 1, Math.max(0, Math.round(box.y * height)));
  return {
    x,
    y,
    width: Math.max(1, Math.min(width, Math.round((box.x + box.width) * width)) - x),
    height: Math.max(1, Math.min(height, Math.round((box.y + box.height) * height)) - y),
  };
}
