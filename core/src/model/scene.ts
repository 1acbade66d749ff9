import type { Box } from '../geometry/affine.js';
import type { LengthUnit } from '../units/length.js';

/** Proportions of listing pictures, width by height. */
export const PICTURE_SHAPES = { '1:1': 1, '4:5': 4 / 5, '3:4': 3 / 4, '16:9': 16 / 9 } as const;
export type PictureShape = keyof typeof PICTURE_SHAPES;

/** Which part of a blank's picture is shown. */
export type PictureCrop =
  /** As much of the picture as a shape holds, the print area as near its middle as can be. */
  | { readonly of: 'whole'; readonly shape: PictureShape }
  /** The print with some of the product around it. */
  | { readonly of: 'print'; readonly shape: PictureShape }
  /** A part of the print, so close that ink and cloth are told apart. */
  | { readonly of: 'detail'; readonly shape: PictureShape }
  /** A box of the seller's own, in shares of the picture. */
  | { readonly of: 'box'; readonly box: Box };

/** From the backdrop's colour to another; `turn` in degrees clockwise, 0 from the top down. */
export interface GradientBehind {
  readonly kind: 'gradient';
  readonly to: string;
  readonly turn: number;
}

/** How a picture that stands behind is seen. */
export interface BehindSight {
  /** How far out of focus it is, 0 to 1. */
  readonly blur: number;
  /** Its light against its own, {@link LEAST_LIGHT} to {@link MOST_LIGHT}. */
  readonly light: number;
}

/** A picture of the seller's own. */
export interface PictureBehind extends BehindSight {
  readonly kind: 'picture';
  readonly assetId: string;
}

/** What stands behind a product instead of one colour. */
export type Behind = GradientBehind | PictureBehind;

/** How a print was put on its product; `plain` is ink that has no nature of its own, as on paper. */
export type InkKind = 'plain' | 'direct' | 'transfer' | 'screen' | 'sublimation';

/** How a picture looks beside its colours. */
export interface Look {
  readonly ink: InkKind;
  /** Contrast of the light on the product, 0 to 2: 1 as it was taken, 0 without folds. */
  readonly folds: number;
  /** How much of the knit of a top is seen up close, 0 to 1. */
  readonly knit: number;
  /** Softness of the lens, 0 to 1. */
  readonly softness: number;
  /** Grain of the sensor, 0 to 1. */
  readonly grain: number;
}

/** What a seller decided about it; the rest is decided by {@link lookOf}. */
export type LookChoice = { readonly [K in keyof Look]?: Look[K] };

/** Units that a client is told measures in. */
export type MeasureUnit = Exclude<LengthUnit, 'px'>;

/** A print area of a blank, and the target whose print it carries. */
export interface AreaPrint {
  readonly areaId: string;
  readonly requirementId: string | null;
}

/** How one scene shows a print elsewhere than its target has it. */
export interface OwnPlacement {
  /** Moved by, in mm of the print area. */
  readonly x: number;
  readonly y: number;
  /** Larger by, about the middle of the canvas's upper edge. */
  readonly factor: number;
}

/** How a design is shown on a blank. */
export interface Scene extends AreaPrint {
  readonly blankId: string;
  /** Other areas that are printed on at the same time, from the lowest to the topmost. */
  readonly also?: readonly AreaPrint[];
  /** The part of the picture that is shown; all of it when absent. */
  readonly crop?: PictureCrop;
  readonly garment: string;
  readonly backdrop: string;
  /** 0 lets the fabric swallow the print, 1 is a full layer of ink. */
  readonly inkOpacity: number;
  /** 0 to 1, share of the blank's own shadow on the backdrop. */
  readonly shadow: number;
  /** True when the print is shown at its printed size even where the print area then cuts it off. */
  readonly trueSize?: boolean;
  /** What stands behind instead of the backdrop's colour. */
  readonly behind?: Behind;
  /** What the seller decided of the look of ink, folds and camera. */
  readonly look?: LookChoice;
  /** The unit in which the picture carries measured lines, for a client; none when absent. */
  readonly measured?: MeasureUnit;
  /** Placed for this scene alone; the print file is as it was. Only the first area's print moves. */
  readonly own?: OwnPlacement;
  /** Id of the kept scene that this is; absent for one that is only looked at. */
  readonly keptAs?: string;
}

/** A scene that a design keeps under a name. */
export interface KeptScene extends Omit<Scene, 'keptAs'> {
  readonly id: string;
  readonly name: string;
}
