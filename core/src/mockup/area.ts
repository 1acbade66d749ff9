import { compose, intersect, scale, translate, type Affine, type Box } from '../geometry/affine.js';
import type { Canvas } from '../model/canvas.js';
import type { Blank, PrintArea } from '../model/blank.js';

/**
 * Products whose print keeps its real size wherever it lies; on all others the canvas is fitted to the product's face.
 */
const CLOTHING = new Set(['Tops', 'Aprons', 'Bags']);

export const isClothing = (blank: Pick<Blank, 'category'>): boolean => CLOTHING.has(blank.category);

/** How a target's canvas lies on a print area. */
export interface AreaPlacement {
  /** Canvas mm to area mm. */
  readonly toArea: Affine;
  /** Size on the product relative to the print file: 1 is the true printed size. */
  readonly factor: number;
}

/** How large the print is shown on a product. */
export interface AreaSizing {
  /** Box of the art on the canvas, in canvas mm; what must not be cut off. The whole canvas when absent. */
  readonly art?: Box | null;
  /** True size even where the product's print area then cuts the art off, because the seller wants to see that. */
  readonly trueSize?: boolean;
  /** A factor that is held while a hand moves the art, so that it does not change under the hand. */
  readonly held?: number | null;
}

/** Half a millimetre over the edge is within what a printer can place. */
const AREA_SLACK = 0.5;

/**
 * Lays a canvas on a print area. On clothing it hangs from the top edge at true size, or as much smaller as its art
 * needs to lie inside the area: a design
 * is never cut off unseen. On all other products the canvas is fitted into the area's middle.
 */
export function placeOnArea(
  blank: Pick<Blank, 'category'>,
  area: PrintArea,
  canvas: Pick<Canvas, 'widthMm' | 'heightMm'>,
  { art, trueSize = false, held = null }: AreaSizing = {},
): AreaPlacement {
  // A panel's canvas is the panel: the art is where it will be on the cloth.
  if (area.kind === 'all-over') {
    const factor = area.widthMm / canvas.widthMm;
    return { toArea: scale(factor), factor };
  }
  const hangs = isClothing(blank) && canvas.widthMm <= area.widthMm * 1.4 && canvas.heightMm <= area.heightMm * 1.4;
  const fitted = Math.min(area.widthMm / canvas.widthMm, area.heightMm / canvas.heightMm);
  const factor = held ?? (!hangs ? fitted : trueSize ? 1 : hangingFactor(area, canvas, art));
  const left = (area.widthMm - canvas.widthMm * factor) / 2;
  const down = hangs ? 0 : (area.heightMm - canvas.heightMm * factor) / 2;
  return { toArea: compose(translate(left, down), scale(factor)), factor };
}

/**
 * 1, or the largest factor at which all art that is printed lies inside the area when the canvas hangs from the middle
 * of its top edge.
 */
function hangingFactor(
  area: PrintArea,
  canvas: Pick<Canvas, 'widthMm' | 'heightMm'>,
  art: Box | null | undefined,
): number {
  const page: Box = { x: 0, y: 0, width: canvas.widthMm, height: canvas.heightMm };
  const printed = art ? intersect(art, page) : page;
  if (!printed) return 1;
  const middle = canvas.widthMm / 2;
  const aside = Math.max(middle - printed.x, printed.x + printed.width - middle);
  return Math.min(
    1,
    (area.widthMm / 2 + AREA_SLACK) / aside,
    (area.heightMm + AREA_SLACK) / (printed.y + printed.height),
  );
}

/** The pixel grid a design is drawn on before it is laid on the product. */
export interface TextureGrid {
  readonly width: number;
  readonly height: number;
  /** Texture pixels per mm, both axes. */
  readonly density: number;
}

/**
 * Texture pixels for one of the picture, along each axis: a bilinear sample of such a grid weighs what a picture pixel
 * covers with the same variance as its own square would, (1 / √2)² / 6 = 1 / 12, neither softer nor coarser.
 */
export const FINER = Math.SQRT2;
/** The same for what moves under a hand: half as many pixels, a little softer. */
export const DRAFT = 1;

/** Longest side of a texture, px. */
export const MOST_TEXTURE = 3072;

/** A part of a print area as an area of its own; `part` in shares of it. */
export const partOfArea = <A extends Pick<PrintArea, 'widthMm' | 'heightMm'>>(area: A, part: Box): A => ({
  ...area,
  widthMm: area.widthMm * part.width,
  heightMm: area.heightMm * part.height,
});

/** Texture grid of a print area, or of the part of it that is seen, at a picture size. @param finer texture pixels for one of the picture */
export function textureGrid(area: PrintArea, pixelsPerMm: number, finer: number = FINER): TextureGrid {
  const most = MOST_TEXTURE / Math.max(area.widthMm, area.heightMm);
  const density = Math.min(pixelsPerMm * finer, most);
  return {
    width: Math.max(4, Math.round(area.widthMm * density)),
    height: Math.max(4, Math.round(area.heightMm * density)),
    density,
  };
}

/** Where the canvas lies on the texture, and the part of it that the texture holds. */
export interface CanvasOnTexture {
  /** Area mm to texture pixels. */
  readonly toTexture: Affine;
  /**
   * The texture pixels that the canvas touches; what lies off it is not printed. Art that ends with the canvas covers
   * the last of them in part by itself.
   */
  readonly clip: Box;
}

/** @param part the part of the area that the texture holds, in shares of it */
export function canvasOnTexture(
  area: Pick<PrintArea, 'widthMm' | 'heightMm'>,
  canvas: Pick<Canvas, 'widthMm' | 'heightMm'>,
  placement: AreaPlacement,
  grid: TextureGrid,
  part: Box,
): CanvasOnTexture {
  const seen = partOfArea(area, part);
  const off = { x: part.x * area.widthMm, y: part.y * area.heightMm };
  const [left, top] = [placement.toArea[4] - off.x, placement.toArea[5] - off.y];
  // The grid has whole pixels: a pixel of it is not quite as wide as it is high.
  const [x, y] = [
    along(left, placement.toArea[0] * canvas.widthMm, grid.width / seen.widthMm, grid.width),
    along(top, placement.toArea[3] * canvas.heightMm, grid.height / seen.heightMm, grid.height),
  ];
  return {
    toTexture: [x.scale, 0, 0, y.scale, x.shift - off.x * x.scale, y.shift - off.y * y.scale],
    clip: { x: x.first, y: y.first, width: x.length, height: y.length },
  };
}

/**
 * One axis of a canvas on a texture. An edge that lies within half a pixel of the area's own is laid on it: art that
 * fills both then leaves no light line.
 */
function along(fromMm: number, lengthMm: number, perMm: number, size: number) {
  const near = (at: number): number => (Math.abs(at) < 0.5 ? 0 : Math.abs(at - size) < 0.5 ? size : at);
  const [from, to] = [near(fromMm * perMm), near((fromMm + lengthMm) * perMm)];
  const scale = (to - from) / lengthMm;
  const first = Math.min(size, Math.max(0, Math.floor(from + 1e-6)));
  return {
    scale,
    shift: from - fromMm * scale,
    first,
    length: Math.max(0, Math.min(size, Math.ceil(to - 1e-6)) - first),
  };
}

/** The largest box of some proportions in a frame: in its middle, or hanging from the middle of its upper edge. */
export function largestIn(frame: Box, { width, height }: Pick<Box, 'width' | 'height'>, hangs: boolean): Box {
  const factor = Math.min(frame.width / width, frame.height / height);
  const [w, h] = [width * factor, height * factor];
  return {
    x: frame.x + (frame.width - w) / 2,
    y: frame.y + (hangs ? 0 : (frame.height - h) / 2),
    width: w,
    height: h,
  };
}
