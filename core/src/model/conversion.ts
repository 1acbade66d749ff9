/** How colours that a press does not have are brought to those it has (ICC.1:2022, 6.2). */
export type Intent = 'perceptual' | 'relative' | 'saturation' | 'absolute';

export const INTENTS: readonly Intent[] = ['perceptual', 'relative', 'saturation', 'absolute'];

export const INTENT_WORDS: Readonly<Record<Intent, string>> = {
  perceptual: 'perceptual: all colours give way together',
  relative: 'relative: what fits stays as it is',
  saturation: 'saturation: vivid before true',
  absolute: 'absolute: the white of the paper too',
};

/** How a design's colours become those of the print. */
export interface ColourConversion {
  /** Id of the seller's own ICC profile, or null for the shipped one. */
  readonly profile: string | null;
  readonly intent: Intent;
  /** Maps the darkest tone to the darkest of the press, so that shadows keep their steps. */
  readonly blackPoint: boolean;
}

export const USUAL_CONVERSION: ColourConversion = { profile: null, intent: 'relative', blackPoint: true };

/** How the pixels of a TIFF are packed. */
export type TiffPacking = 'none' | 'lzw' | 'deflate';
export const TIFF_PACKINGS: readonly TiffPacking[] = ['none', 'lzw', 'deflate'];
