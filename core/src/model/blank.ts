import type { Colourway } from './requirement.js';

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
  /** File with the area's coverage, where the position map has none: in a moving blank. */
  readonly cover?: string;
  /** Share of the picture that it takes. */
  readonly visible?: number;
  /** `all-over` for a panel of cloth that is printed before it is sewn; absent for an ordinary print area. */
  readonly kind?: 'all-over';
  /** Of a panel: where it is cut, a closed polygon in mm from the area's top left corner. */
  readonly cut?: readonly (readonly [number, number])[];
  /** Of a panel: where the sewn piece ends. */
  readonly lines?: readonly {
    readonly name: 'collar' | 'shoulder' | 'armhole' | 'side' | 'hem';
    readonly points: readonly (readonly [number, number])[];
  }[];
}

/** Areas that are printed one by one on the finished product. */
export const printAreasOf = (blank: Pick<Blank, 'areas'>): readonly PrintArea[] =>
  blank.areas.filter((area) => area.kind === undefined);

/** True for a picture that brings its room along: nothing of a backdrop is seen, and no shadow falls on it. */
export const isInRoom = ({ inRoom, shadowStrength }: Pick<Blank, 'inRoom' | 'shadowStrength'>): boolean =>
  inRoom ?? shadowStrength === 0;

/** A picture of an unprinted product with the maps that let a design be printed on it. */
export interface Blank {
  readonly id: string;
  readonly name: string;
  readonly category: string;
  readonly product: string;
  readonly view: string;
  readonly wearer: string;
  readonly setting: string;
  readonly kind: 'still' | 'moving';
  readonly tags: readonly string[];
  readonly width: number;
  readonly height: number;
  /** Reflectance of the white product, 0 to 1. */
  readonly albedo: number;
  /** 0 for hard gloss, towards 1 for fuzz that takes the cloth's hue. */
  readonly glossTint: number;
  readonly shadowStrength: number;
  /** Whether it brings its room along; where nothing is said, a blank without a shadow does. */
  readonly inRoom?: boolean;
  readonly backdrop: string;
  readonly colourways: readonly Colourway[];
  readonly areas: readonly PrintArea[];
  readonly files: { readonly photo: string; readonly mask: string; readonly shade: string; readonly shadow: string };
}

/** The colourway of a blank that is this colour, if it is one it is sold in. */
export const colourwayOf = ({ colourways }: Pick<Blank, 'colourways'>, hex: string): Colourway | undefined =>
  colourways.find((one) => one.hex.toLowerCase() === hex.toLowerCase());

/** Sizes a listing picture is made in, px a side. */
export const PICTURE_SIZES = [600, 1200, 2000] as const;

/** Kinds of listing pictures. */
export type PictureFormat = 'jpeg' | 'png' | 'webp';
export const PICTURE_FORMATS: readonly PictureFormat[] = ['jpeg', 'png', 'webp'];

/** Which of them for what, in a sentence. */
export const PICTURE_ADVICE: Readonly<Record<PictureFormat, string>> = {
  jpeg: 'JPEG is taken everywhere: the one for listings.',
  png: 'PNG keeps every pixel and is several times larger: for print and for working on.',
  webp: 'WebP is the smallest: for a shop of your own, and where it is named.',
};

/** Shortest and longest side of a picture that is asked for, px. */
export const [LEAST_PICTURE, MOST_PICTURE] = [100, 4000];

/** What becomes of a picture after it is drawn. Absent parts leave it as it is. */
export interface PictureFit {
  /** Its longest side, px. */
  readonly longest?: number;
  /** An exact frame, filled up with the backdrop. */
  readonly frame?: { readonly width: number; readonly height: number };
  readonly maxBytes?: number;
  /** Dots per inch that a JPEG or PNG says of itself, for those who print it; none is said when absent. */
  readonly dpi?: number;
}

/** Least and most DPI that a picture says of itself. */
export const [LEAST_PICTURE_DPI, MOST_PICTURE_DPI] = [30, 1200];

/** Longest side that a picture is drawn at, px: what is longer is enlarged. */
export const LARGEST_DRAWN = PICTURE_SIZES[PICTURE_SIZES.length - 1];

/** The size a picture is drawn at: a fit makes it smaller, up to the largest that is drawn. */
export const drawnSize = ({ longest, frame }: PictureFit, otherwise: number): number => {
  const wanted = frame ? Math.max(frame.width, frame.height) : longest;
  if (wanted === undefined) return otherwise;
  return PICTURE_SIZES.find((size) => size >= wanted) ?? LARGEST_DRAWN;
};
