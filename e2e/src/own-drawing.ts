import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import type { Page } from '@playwright/test';
import type { Affine } from '@kettle/core/geometry';
import type { Layer } from '@kettle/core/model';

const PAINTER = fileURLToPath(new URL('../../web/src/app/paint/paint-layers.ts', import.meta.url));

/** The application's own drawing of layers, in the browser, at a size of one's choice. */
export async function ownDrawing(
  page: Page,
  layers: readonly Layer[],
  toCanvas: Affine,
  pixelsPerMm: number,
  size: { width: number; height: number },
): Promise<Buffer> {
  const {
    outputFiles: [script],
  } = await build({
    stdin: { contents: `export { drawLayers } from ${JSON.stringify(PAINTER)}`, resolveDir: '.', loader: 'ts' },
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'painter',
    target: 'es2022',
  });
  await page.evaluate(script.text.replace('var painter', 'globalThis.painter'));
  const base64 = await page.evaluate(
    async ({ layers, toCanvas, pixelsPerMm, size }) => {
      const { drawLayers } = (globalThis as unknown as { painter: { drawLayers: (...args: unknown[]) => void } })
        .painter;
      const images: Record<string, HTMLImageElement> = {};
      for (const layer of layers) {
        if (layer.kind !== 'picture') continue;
        const image = new Image();
        image.src = `/api/assets/${layer.assetId}/content`;
        await image.decode();
        images[layer.assetId] = image;
      }
      const canvas = new OffscreenCanvas(size.width, size.height);
      const context = canvas.getContext('2d', { willReadFrequently: true })!;
      drawLayers(context, { layers }, toCanvas, pixelsPerMm, (layer: { assetId: string }) => images[layer.assetId]);
      const { data } = context.getImageData(0, 0, size.width, size.height);
      let text = '';
      for (let i = 0; i < data.length; i += 32768) text += String.fromCharCode(...data.subarray(i, i + 32768));
      return btoa(text);
    },
    { layers, toCanvas, pixelsPerMm, size },
  );
  return Buffer.from(base64, 'base64');
}

export interface Difference {
  /** Pixels away from every edge that differ by two or three levels, and by more. */
  readonly rounded: number;
  readonly inside: number;
  /** Pixels whose value is not among those the other drawing has within a pixel's distance. */
  readonly astray: number;
  readonly pixels: number;
  readonly worst: { x: number; y: number; by: number };
}

/**
 * Compares two drawings, premultiplied. Anti-aliasing may put an edge's grey a pixel to either side, so a pixel
 * agrees when its value lies within the
 * range the other drawing has in the 3 × 3 pixels around it, give or take `slack` levels; away from edges, where that
 * range is one value, it should be that value within a level.
 */
export function difference(
  ours: Uint8Array,
  theirs: Uint8Array,
  { width, height }: { width: number; height: number },
  slack: number,
): Difference {
  const premultiplied = (data: Uint8Array, i: number, c: number): number =>
    c === 3 ? data[i + 3] : Math.round((data[i + c] * data[i + 3]) / 255);
  let [rounded, inside, astray] = [0, 0, 0];
  let worst = { x: 0, y: 0, by: 0 };
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const at = (y * width + x) * 4;
      for (let c = 0; c < 4; c++) {
        let [least, most] = [255, 0];
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            const v = premultiplied(theirs, at + (dy * width + dx) * 4, c);
            least = Math.min(least, v);
            most = Math.max(most, v);
          }
        const value = premultiplied(ours, at, c);
        const off = Math.max(least - value, value - most, 0);
        if (off > worst.by) worst = { x, y, by: off };
        if (most - least <= 1 && off > 1) {
          if (off > 3) inside++;
          else rounded++;
          break;
        }
        if (off > slack) {
          astray++;
          break;
        }
      }
    }
  }
  return { rounded, inside, astray, pixels: width * height, worst };
}
