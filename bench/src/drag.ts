import type { Page } from '@playwright/test';
import { SELLER, type RunningServer } from '@kettle/server';
import { thirtyLayers } from './thirty-layers.js';
import { against, measureOf, median, type Row } from './timing.js';

const RUNS = 10;
/** A frame that comes later than this has missed its turn, ms. */
const LATE = 17;

/** Drags six layers, each ninety frames long. Answers the times between frames, ms. */
async function draggedOnce(page: Page): Promise<number[]> {
  const gaps: number[] = [];
  for (const id of ['p0', 's0', 't2', 'g3', 'f1', 'f3']) {
    await page.locator(`[data-layer="${id}"]`).click();
    await page.waitForTimeout(400);
    const found = await page.evaluate(async () => {
      // The handle box of the selection is drawn on a canvas; the strip's selection and the readout tell that a drag
      // took hold.
      const surface = document.querySelector<HTMLElement>('.surface .konvajs-content')!;
      const frame = () => new Promise<number>(requestAnimationFrame);
      const still: number[] = [];
      let last = await frame();
      for (let i = 0; i < 30; i++) {
        const now = await frame();
        still.push(now - last);
        last = now;
      }
      const middle = JSON.parse(document.querySelector('[data-held]')!.getAttribute('data-held')!) as {
        x: number;
        y: number;
      };
      const box = surface.getBoundingClientRect();
      const at = (type: string, x: number, y: number, target: EventTarget) =>
        target.dispatchEvent(
          new PointerEvent(type, {
            clientX: box.x + x,
            clientY: box.y + y,
            pointerId: 1,
            bubbles: true,
            cancelable: true,
            button: 0,
            pointerType: 'mouse',
          }),
        );
      at('pointermove', middle.x, middle.y, surface);
      at('pointerdown', middle.x, middle.y, surface);
      // A hand rests for a moment between the press and the first move.
      for (let i = 0; i < 8; i++) await frame();
      const times: number[] = [];
      last = await frame();
      for (let i = 0; i < 90; i++) {
        at('pointermove', middle.x + 60 * Math.sin(i / 9), middle.y + 60 * (1 - Math.cos(i / 9)), window);
        const now = await frame();
        times.push(now - last);
        last = now;
      }
      const held = document.querySelector('[data-held]')!.getAttribute('data-held');
      // Back to where it was, so that the next run finds it there.
      at('pointermove', middle.x, middle.y, window);
      await frame();
      at('pointerup', middle.x, middle.y, window);
      return { times, still, moved: held !== JSON.stringify(middle) };
    });
    if (!found.moved) throw new Error(`Dragging ${id} moved nothing.`);
    gaps.push(...found.times);
    await page.waitForTimeout(700);
  }
  return gaps;
}

/**
 * Six of thirty layers dragged one after the other, in ten runs: the longest time from one frame of the screen to the
 * next, of each run.
 */
export async function dragOfThirty(page: Page, { address, house }: RunningServer): Promise<Row[]> {
  const design = await house.designs.add(SELLER, await thirtyLayers(house));
  await page.goto(`${address}/designs/${design.id}/artwork`);
  await page.locator('.stations small').filter({ hasText: 'saved' }).waitFor();
  await page.waitForTimeout(2500);
  const runs: number[][] = [];
  for (let run = 0; run < RUNS; run++) runs.push(await draggedOnce(page));
  const all = runs.flat();
  const late = all.filter((gap) => gap > LATE).length;
  const row = against(
    `Dragging six layers of a design of 30: longest frame of each of ${RUNS} runs (${all.length} frames, ${late} over ${LATE} ms, median ${median(all).toFixed(1)} ms)`,
    measureOf(runs.map((gaps) => Math.max(...gaps))),
    LATE,
  );
  return [{ ...row, kept: late === 0 }];
}
