import { compose, intersect, scale, translate, type Affine, type Box } from '../geometry/affine.js';
import type { Canvas } from '../requirement/canvas.js';
import type { Blank, PrintArea } from './blank.js';

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

/** Texture grid of a print area as seen at a picture size. */
export function textureGrid(area: PrintArea, pixelsPerMm: number): TextureGrid {
  const most = 2048 / Math.max(area.widthMm, area.heightMm);
  const density = Math.min(pixelsPerMm, most);
  return {
    width: Math.max(4, Math.round(area.widthMm * density)),
    height: Math.max(4, Math.round(area.heightMm * density)),
    density,
  };
}

/** Where the canvas lies on the texture, and the part of it that the texture holds. */
export interface CanvasOnTexture {
  /**
   * Area mm to texture pixels, with the canvas's edges on whole pixels: art that fills the canvas then fills them too,
   * and leaves no light line.
   */
  readonly toTexture: Affine;
  /** In whole texture pixels; what lies off the canvas is not printed. */
  readonly clip: Box;
}

export function canvasOnTexture(
  canvas: Pick<Canvas, 'widthMm' | 'heightMm'>,
  placement: AreaPlacement,
  grid: TextureGrid,
): CanvasOnTexture {
  const [a, , , d, e, f] = placement.toArea;
  const edges = (from: number, size: number) => {
    const [first, last] = [Math.round(from * grid.density), Math.round((from + size) * grid.density)];
    return { first, last, scale: Math.max(1, last - first) / size };
  };
  const [x, y] = [edges(e, a * canvas.widthMm), edges(f, d * canvas.heightMm)];
  const within = (first: number, last: number, most: number) => {
    const start = Math.min(most, Math.max(0, first));
    return [start, Math.max(0, Math.min(most, last) - start)] as const;
  };
  const [[left, width], [top, height]] = [within(x.first, x.last, grid.width), within(y.first, y.last, grid.height)];
  return {
    toTexture: [x.scale, 0, 0, y.scale, x.first - e * x.scale, y.first - f * y.scale],
    clip: { x: left, y: top, width, height },
  };
}
