import type { InkFacts } from '../raster/ink.js';

/** What is known of an artwork file once it is in. */
export interface AssetFacts extends InkFacts {
  /** Pixels of a raster picture; for vector art its natural size at 96 px an inch, which limits nothing. */
  readonly width: number;
  readonly height: number;
  readonly vector: boolean;
  /** DPI the file claims for itself, or null. It does not limit printing; effective DPI does. */
  readonly dpi: number | null;
  readonly hasAlpha: boolean;
  readonly format: string;
  /** What was done to bring it to 8-bit sRGB, as sentences. */
  readonly conversions: readonly string[];
  /** Families that its live text asks for, when an SVG draws letters in a font; absent when all is outlines. */
  readonly liveText?: readonly string[];
  /**
   * SHA-256 of the same drawing as it is drawn, where that is another file: with its letters as outlines where its text
   * asks for fonts of the seller's own, so that nobody who draws it needs the font, and with its styles worked out where
   * renderers differ from browsers.
   */
  readonly outlined?: string;
  /** Families of the seller's own that these letters are set in. */
  readonly ownFamilies?: readonly string[];
}

/** Facts of the pictures of a design by asset id. */
export type FactsById = Readonly<Record<string, AssetFacts | undefined>>;
