import type { Page } from '@playwright/test';
import { SELLER, type RunningServer } from '@kettle/server';
import { against, measureOf, type Row } from './timing.js';

const SEEN = ['tote', 'mug-front', 'hoodie-front', 'apron', 'cushion', 'poster-portrait', 'phone-case', 'bottle'];

/**
 * From the press on a blank to its small picture enlarged, and to the sharp one with the design on it. Previews were
 * made before, as they are after a start.
 */
export async function blanks(page: Page, { address, house }: RunningServer): Promise<Row[]> {
  const [design] = await house.designs.list(SELLER);
  for (const blank of house.blanks.all)
    await house.blanks.preview(SELLER, blank.id, { areaId: blank.areas[0].id, crop: null, size: 1000 });
  await page.goto(`${address}/designs/${design.id}/mockups`);
  await page.waitForFunction(
    () => Number(document.querySelector('[data-frame-ms]')?.getAttribute('data-frame-ms') ?? 0) > 0,
  );
  await page.waitForTimeout(2500);
  const [early, sharp]: [number[], number[]] = [[], []];
  for (const id of SEEN) {
    const times = await page.evaluate(async (blank) => {
      const button = document.querySelector<HTMLButtonElement>(`ks-blank-list [data-blank="${blank}"]`)!;
      const frame = () => new Promise(requestAnimationFrame);
      const start = performance.now();
      button.click();
      let seen = 0;
      for (;;) {
        await frame();
        const image = document.querySelector<HTMLImageElement>('img.early');
        if (!seen && (!image || (image.complete && image.naturalWidth > 0))) seen = performance.now() - start;
        if (seen && !image) return { seen, sharp: performance.now() - start };
      }
    }, id);
    early.push(times.seen);
    sharp.push(times.sharp);
    await page.waitForTimeout(1200);
  }
  return [
    against('A blank that is chosen: its small picture, enlarged', measureOf(early), 100),
    against('The same: sharp, with the design on it', measureOf(sharp), 500),
  ];
}
