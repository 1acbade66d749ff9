import type { Pixels } from '../geometry/pixels.js';
import { eachSegment } from './stroke-cells.js';
import type { Touch } from '../model/treatment.js';

/**
 * Brings parts back and takes parts away along strokes, in place.
 * @param original the picture before any treatment, on the same grid
 */
export function touchUp(pixels: Pixels, original: Pixels, { strokes }: Touch): void {
  const { width, height, data } = pixels;
  const longer = Math.max(width, height);
  for (const { back, points, size, hardness } of strokes) {
    const reach = Math.max((size * longer) / 2, 0.5);
    const firm = reach * hardness;
    // Each pixel is covered once a stroke, as far as its nearest piece covers it.
    const covers = new Map<number, number>();
    eachSegment(points, reach + 0.5, width, height, (cell, distance) => {
      const cover = Math.max(0, Math.min(1, (reach + 0.5 - distance) / Math.max(1, reach - firm)));
      if (cover > (covers.get(cell) ?? 0)) covers.set(cell, cover);
    });
    for (const [cell, cover] of covers) {
      const i = cell * 4;
      if (!back) {
        data[i + 3] = Math.round(data[i + 3] * (1 - cover));
        if (data[i + 3] === 0) data[i] = data[i + 1] = data[i + 2] = 0;
        continue;
      }
      const had = (data[i + 3] / 255) * (1 - cover);
      const gets = (original.data[i + 3] / 255) * cover;
      const all = had + gets;
      if (all <= 0) continue;
      for (let k = 0; k < 3; k++) data[i + k] = Math.round((data[i + k] * had + original.data[i + k] * gets) / all);
      data[i + 3] = Math.round(all * 255);
    }
  }
}
