import type { LengthUnit } from '../units/length.js';
import { USUAL_CONVERSION, type ColourConversion, type TiffPacking } from './conversion.js';
import type { TargetPlacement } from './placement.js';
import { PROCESS_LIMITS, type PressLimits, type PrintProcess } from './press.js';

export type ColourMode = 'rgb' | 'cmyk' | 'grey';
export type Transparency = 'required' | 'allowed' | 'forbidden';
export type FileType = 'png' | 'tiff' | 'jpeg' | 'webp' | 'pdf' | 'svg';
export type SizeRule = 'exact' | 'at-least' | 'at-most';

export const COLOUR_MODES: readonly ColourMode[] = ['rgb', 'cmyk', 'grey'];
export const TRANSPARENCIES: readonly Transparency[] = ['required', 'allowed', 'forbidden'];
export const FILE_TYPES: readonly FileType[] = ['png', 'tiff', 'jpeg', 'webp', 'pdf', 'svg'];
export const SIZE_RULES: readonly SizeRule[] = ['exact', 'at-least', 'at-most'];

/** A garment or ground colour on sale, sRGB as `#rrggbb`. */
export interface Colourway {
  readonly name: string;
  readonly hex: string;
}

/** A piece of cloth that is printed before it is cut and sewn. Points are mm from the canvas's top left corner. */
export interface Panel {
  /** The all-over area of blanks that shows it. */
  readonly areaId: string;
  /** Where it is cut, a closed polygon. */
  readonly cut: readonly (readonly [number, number])[];
  /** Where the sewn piece ends: beyond these lines the print disappears in a seam or inside a hem. */
  readonly lines: readonly {
    readonly name: 'collar' | 'shoulder' | 'armhole' | 'side' | 'hem';
    readonly points: readonly (readonly [number, number])[];
  }[];
  /** What must not be lost keeps this far away from the cut, mm. */
  readonly insetMm: number;
}

/** What a channel demands of a print file for one product. */
export interface RequirementFields {
  readonly channel: string;
  readonly name: string;
  /** Product words as on the blanks, e.g. `T-shirt`; ties a requirement to its mockups. Empty when none fits. */
  readonly product: string;
  readonly width: number;
  readonly height: number;
  readonly unit: LengthUnit;
  /** Dots per inch of both axes, 30 to 2400. */
  readonly dpi: number;
  readonly mode: ColourMode;
  readonly transparency: Transparency;
  readonly fileTypes: readonly FileType[];
  /** Which of them is made, where the seller would rather have one than another. */
  readonly preferred?: FileType;
  /** How a TIFF is packed; absent for LZW. */
  readonly packing?: TiffPacking;
  /** Ground of a file without transparency; absent for white. */
  readonly ground?: string;
  /** How colours become those of a CMYK print; absent for the shipped profile. */
  readonly conversion?: ColourConversion;
  /** How ink comes onto the product; absent where the product says it. */
  readonly process?: PrintProcess;
  /** Limits that differ from those of the process. */
  readonly limits?: Partial<PressLimits>;
  /** Width of the edge of the canvas that is cut away, in mm; absent for none. */
  readonly bleedMm?: number;
  /** The piece of cloth it is for, where it is printed before it is cut and sewn. */
  readonly panel?: Panel;
  /** True when the file is to be made mirrored, as for a transfer. */
  readonly mirrored?: boolean;
  /** Largest file in bytes, or null when the channel names none. */
  readonly maxBytes: number | null;
  readonly sizeRule: SizeRule;
  /** Distance of the safe line from each edge of the canvas, in mm. */
  readonly safeInsetMm: number;
  /** Where a design sits unless the seller moves it. */
  readonly placement: TargetPlacement;
  /** Colours the product is sold in; the first is the one shown by default. */
  readonly colourways: readonly Colourway[];
  readonly note: string;
}

export interface Requirement extends RequirementFields {
  readonly id: string;
  /** Grows by one with every change; files made under an older revision are out of date. */
  readonly revision: number;
}

export const conversionOf = ({ conversion }: Pick<Requirement, 'conversion'>): ColourConversion =>
  conversion ?? USUAL_CONVERSION;

/** The process of a requirement: what it says, or what its product is usually made by. */
export function processOf({ process, product, mode }: Pick<Requirement, 'process' | 'product' | 'mode'>): PrintProcess {
  if (process) return process;
  if (/mug|bottle|cushion|all-?over|case/i.test(product)) return 'sublimation';
  return /poster|print|card|sticker|notebook|paper/i.test(product) || (!product && mode === 'cmyk')
    ? 'paper'
    : 'direct';
}

/** Limits that a requirement's prints are judged by: those of its process, with its own in their place. */
export const limitsOf = (requirement: Pick<Requirement, 'process' | 'product' | 'mode' | 'limits'>): PressLimits => ({
  ...PROCESS_LIMITS[processOf(requirement)],
  ...requirement.limits,
});
