import type { Box, Point } from '../geometry/affine.js';

/** Where a point of a print area is seen on its picture, or null where it is not. */
export type PixelOf = (point: Point) => Point | null;

/** Cells along each side in which it is told what of a box is seen. */
const CELLS = 24;

/**
 * The parts of a box on a print area that are seen, as an SVG path to be filled: a cell is part of it where all of its
 * corners are seen. So what runs around a mug is found wherever it faces the camera, though its sides do not.
 */
export function seenCells(box: Box, pixelOf: PixelOf): string {
  const at = (i: number, j: number): Point | null =>
    pixelOf({ x: box.x + (i / CELLS) * box.width, y: box.y + (j / CELLS) * box.height });
  const rows = Array.from({ length: CELLS + 1 }, (_r, j) => Array.from({ length: CELLS + 1 }, (_c, i) => at(i, j)));
  let path = '';
  for (let j = 0; j < CELLS; j++)
    for (let i = 0; i < CELLS; i++) {
      const corners = [rows[j][i], rows[j][i + 1], rows[j + 1][i + 1], rows[j + 1][i]];
      if (corners.every((one) => one !== null))
        path += `M${corners.map((one) => `${one!.x.toFixed(1)} ${one!.y.toFixed(1)}`).join('L')}Z`;
    }
  return path;
}

/** A place to take a box at: on its picture, and on its area, mm. */
export interface SeenCorner {
  readonly pixel: Point;
  readonly at: Point;
}

/** For each corner of a box the nearest place along its upper or lower edge that is seen, if there is one before the middle. */
export function seenCorners(box: Box, pixelOf: PixelOf): SeenCorner[] {
  return [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ].flatMap(([i, j]): SeenCorner[] => {
    for (let k = 0; k < CELLS; k++) {
      const along = (k / CELLS) * 0.45;
      const at = { x: box.x + (i ? 1 - along : along) * box.width, y: box.y + j * box.height };
      const pixel = pixelOf(at);
      if (pixel) return [{ pixel, at }];
    }
    return [];
  });
}
