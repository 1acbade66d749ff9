import type { Pixels } from '../geometry/pixels.js';

/** The smallest rectangle of whole pixels that holds all ink above an alpha, or null when there is none. */
export function inkBounds(
  { data, width, height }: Pixels,
  least = 0,
): { left: number; top: number; right: number; bottom: number } | null {
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (data[(y * width + x) * 4 + 3] > least) {
        left = Math.min(left, x);
        right = Math.max(right, x + 1);
        top = Math.min(top, y);
        bottom = y + 1;
      }
  return left < right ? { left, top, right, bottom } : null;
}
