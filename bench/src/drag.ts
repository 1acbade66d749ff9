import { SELLER } from '@kettle/server';
import type { Page } from '@playwright/test';
import type { RunningServer } from '@kettle/server';
import { thirtyLayers } from './thirty-layers.js';
import { median, type Row } from './timing.js';

/** Layers of a thirty-layer design dragged on the stage: the longest time from one frame of the screen to the next. */
export async function dragOfThirty(page: Page, { address, house }: RunningServer): Promise<Row[]> {
  const design = await house.designs.add(SELLER, await thirtyLayers(house));
  await page.goto(`${address}/designs/${design.id}/artwork`);
  await page.locator('.stations small').filter({ hasText: 'saved' }).waitFor();
  await page.waitForTimeout(2500);
  const gaps: number[] = [];
  const idle: number[] = [];
  for (const id of ['p0', 's0', 't2', 'g3', 'f1', 'f3']) {
    await page.locator(`[data-layer="${id}"]`).click();
    await page.waitForTimeout(400);
    const found = await page.evaluate(async () => {
      // The handle box of the selection is drawn on a canvas; the strip's selection and the readout tell that a drag took hold.
      const surface = document.querySelector<HTMLElement>('.surface .konvajs-content')!;
      const frame = () => new Promise<number>(requestAnimationFrame);
      const still: number[] = [];
      let last = await frame();
      for (let i = 0; i < 30; i++) { const now = await frame(); still.push(now - last); last = now; }
      const middle = JSON.parse(document.querySelector('[data-held]')!.getAttribute('data-held')!) as { x: number; y: number };
      const box = surface.getBoundingClientRect();
      const at = (type: string, x: number, y: number, target: EventTarget) => target.dispatchEvent(new PointerEvent(type, { clientX: box.x + x, clientY: box.y + y, pointerId: 1, bubbles: true, cancelable: true, button: 0, pointerType: 'mouse' }));
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
      at('pointerup', middle.x, middle.y, window);
      return { times, still, moved: held !== JSON.stringify(middle) };
    });
    if (!found.moved) throw new Error(`Dragging ${id} moved nothing.`);
    gaps.push(...found.times);
    idle.push(...found.still);
    await page.waitForTimeout(700);
  }
  const longest = Math.max(...gaps);
  return [{ what: `Dragging six layers of a design of 30: longest of ${gaps.length} frames (median ${median(gaps).toFixed(1)} ms)`, measured: `${longest.toFixed(1)} ms`, against: `longest frame at rest: ${Math.max(...idle).toFixed(1)} ms`, ratio: (longest / 32).toFixed(2), budget: '≤ 1.00 of 32 ms', kept: longest <= 32 }];
}
