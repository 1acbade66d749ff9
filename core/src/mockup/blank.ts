import type { Colourway } from '../requirement/requirement.js';

/** Part of a product that can be printed, with its real size. */
export interface PrintArea {
  readonly id: string;
  readonly name: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly safeInsetMm: number;
  readonly bleedMm?: number;
  /** File with the area's position map. */
  readonly uv: string;
}

/** A picture of an unprinted product with the maps that let a design be printed on it. */
export interface Blank {
  readonly id: string;
  readonly name: string;
  readonly category: string;
  readonly product: string;
  readonly view: string;
  readonly wearer: string;
  readonly setting: string;
  readonly kind: 'still';
  readonly tags: readonly string[];
  readonly width: number;
  readonly height: number;
  /** Reflectance of the white product, 0 to 1. */
  readonly albedo: number;
  /** 0 for hard gloss, towards 1 for fuzz that takes the cloth's hue. */
  readonly glossTint: number;
  readonly shadowStrength: number;
  readonly backdrop: string;
  readonly colourways: readonly Colourway[];
  readonly areas: readonly PrintArea[];
  readonly files: { readonly photo: string; readonly mask: string; readonly shade: string; readonly shadow: string };
}

/** Sizes a listing picture is made in, px a side. */
export const PICTURE_SIZES = [600, 1200, 2000] as const;
