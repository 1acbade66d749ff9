import { spawn } from 'node:child_process';
import { execPath } from 'node:process';
import type { Page } from '@playwright/test';
import { SELLER, type RunningServer } from '@kettle/server';
import { against, measureOf, type Row } from './timing.js';

/** Art dragged on a shirt, seen at 1000 × 1000. */
export async function dragOnShirt(page: Page, { address, house }: RunningServer): Promise<Row[]> {
  const design = (await house.designs.list(SELLER)).find((one) => one.document.name === 'Mostly Drizzle')!;
  await page.goto(`${address}/designs/${design.id}/mockups`);
  await page.waitForFunction(
    () => Number(document.querySelector('[data-frame-ms]')?.getAttribute('data-frame-ms') ?? 0) > 0,
  );
  await page.waitForTimeout(1500);
  const alone = await dragged(page);
  // Another program takes all of a core meanwhile.
  const busy = spawn(execPath, ['-e', 'for (;;);'], { stdio: 'ignore' });
  const beside = await dragged(page).finally(() => busy.kill('SIGKILL'));
  return [
    against(
      `Preview 1000 × 1000 while dragging: drawing a frame (${alone.drawing.length} frames)`,
      measureOf(alone.drawing),
      16.7,
    ),
    against('The same while another program keeps a core busy', measureOf(beside.drawing), 16.7),
    against('From one shown frame to the next', measureOf(alone.gaps), 33),
  ];
}

async function dragged(page: Page): Promise<{ gaps: number[]; drawing: number[] }> {
  // One move for each frame of the screen, made inside the page, so that the test's own pace is not measured.
  return page.evaluate(async () => {
    const shown = document.querySelector('[data-frame-ms]')!;
    const [svg, path] = [shown.querySelector('svg')!, shown.querySelector<SVGPathElement>('path.art')!];
    const box = path.getBoundingClientRect();
    const at = (type: string, x: number, y: number) =>
      new PointerEvent(type, { clientX: x, clientY: y, pointerId: 1, bubbles: true, cancelable: true });
    path.setPointerCapture = () => undefined;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const times: number[] = [];
    const drawing: number[] = [];
    new MutationObserver(() => {
      times.push(performance.now());
      drawing.push(Number(shown.getAttribute('data-frame-ms')));
    }).observe(shown, { attributes: true, attributeFilter: ['data-frame-ms'] });
    path.dispatchEvent(at('pointerdown', x, y));
    for (let i = 0; i < 150; i++) {
      await new Promise(requestAnimationFrame);
      svg.dispatchEvent(at('pointermove', x + 30 * Math.sin(i / 9), y + 30 * Math.cos(i / 9)));
    }
    svg.dispatchEvent(at('pointerup', x, y));
    return { gaps: times.slice(1).map((time, i) => time - times[i]), drawing };
  });
}
