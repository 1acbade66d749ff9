import { compose, scale, translate, type Affine, type Box } from '../design/affine.js';
import type { Canvas } from '../requirement/canvas.js';
import type { Blank, PrintArea } from './blank.js';

/** Products whose print keeps its real size wherever it lies; on all others the canvas is fitted to the product's face. */
const CLOTHING = new Set(['Tops', 'Aprons', 'Bags']);

/** How a target's canvas lies on a print area. */
export interface AreaPlacement {
  /** Canvas mm to area mm. */
  readonly toArea: Affine;
  /** Size on the product relative to the print file: 1 is the true printed size. */
  readonly factor: number;
}

/**
 * Lays a canvas on a print area: at true size and hung from the top edge on clothing, when it is at most 1.4 times as large as the area;
 * otherwise fitted into the area's middle.
 */
export function placeOnArea(blank: Pick<Blank, 'category'>, area: PrintArea, canvas: Pick<Canvas, 'widthMm' | 'heightMm'>): AreaPlacement {
  const trueSize = CLOTHING.has(blank.category) && canvas.widthMm <= area.widthMm * 1.4 && canvas.heightMm <= area.heightMm * 1.4;
  const factor = trueSize ? 1 : Math.min(area.widthMm / canvas.widthMm, area.heightMm / canvas.heightMm);
  const left = (area.widthMm - canvas.widthMm * factor) / 2;
  const down = trueSize ? 0 : (area.heightMm - canvas.heightMm * factor) / 2;
  return { toArea: compose(translate(left, down), scale(factor)), factor };
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
  return { width: Math.max(4, Math.round(area.widthMm * density)), height: Math.max(4, Math.round(area.heightMm * density)), density };
}

/** The part of the texture that the canvas covers, in whole texture pixels: what lies off the canvas is not printed. */
export function canvasOnTexture(canvas: Pick<Canvas, 'widthMm' | 'heightMm'>, placement: AreaPlacement, grid: TextureGrid): Box {
  const [a, , , d, e, f] = placement.toArea;
  const x = Math.max(0, Math.round(e * grid.density));
  const y = Math.max(0, Math.round(f * grid.density));
  return {
    x, y, width: Math.min(grid.width, Math.round((e + a * canvas.widthMm) * grid.density)) - x,
    height: Math.min(grid.height, Math.round((f + d * canvas.heightMm) * grid.density)) - y,
  };
}
