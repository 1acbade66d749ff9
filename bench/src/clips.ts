import type { Page } from '@playwright/test';
import { CLIP_FPS, clipSize, type Clip, type ClipScene } from '@kettle/core/model';
import { framesOf } from '@kettle/core/clip';
import { SELLER, type RunningServer } from '@kettle/server';
import { encodedAlone, encodesTwice } from './encoding-alone.js';
import { beside, measureOf, type Row } from './timing.js';

const SIDE = 1080;

const scene = (id: string, blankId: string, areaId: string, change: Partial<ClipScene>): ClipScene => ({
  id,
  scene: {
    blankId,
    areaId,
    requirementId: null,
    garment: '#1F2B4D',
    backdrop: '#E4E1D9',
    inkOpacity: 1,
    shadow: 0.6,
  },
  frames: 56,
  movement: 'push',
  transition: { kind: 'dissolve', frames: 12 },
  ...change,
});
/** Six seconds: three products, two dissolves, music and words. */
const CLIP: Clip = {
  id: 'bench',
  name: 'Bench',
  shape: '1:1',
  scenes: [
    scene('a', 'tee-front', 'full-front', {}),
    scene('b', 'tee-flat', 'full-front', { movement: 'reveal' }),
    scene('c', 'tote', 'front', { movement: 'pull', transition: undefined }),
  ],
  words: { title: 'Mostly Drizzle', line: '', when: 'end', hex: '#1f2623' },
  music: { trackId: 'isobars-closing-in', start: 0, volume: 1 },
};

/** Opens the clips station of a design that has one clip, and waits until all of that can be shown. */
export async function openClip(page: Page, { address, house }: RunningServer, clip: Clip): Promise<void> {
  const design = (await house.designs.list(SELLER)).find((one) => one.document.name === 'Mostly Drizzle')!;
  const { document, revision } = await house.designs.get(SELLER, design.id);
  const saved = await fetch(`${address}/api/designs/${design.id}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', 'If-Match': `"${revision}"` },
    body: JSON.stringify({ ...document, clips: [clip] }),
  });
  if (!saved.ok) throw new Error(await saved.text());
  await page.goto(`${address}/designs/${design.id}/clips`);
  await stageReady(page);
}

const stageReady = (page: Page): Promise<void> =>
  page.locator('ks-clip-stage canvas[data-ready=true]').waitFor({ timeout: 240_000 });

const ROUNDS = 5;
/** How long a seller looks at a clip before it is made, ms: it is got ready meanwhile. */
const LOOKED = 4000;

/** A clip made by its button until it is kept and read back, beside encoding its very frames alone, in turns. */
export async function clips(page: Page, server: RunningServer): Promise<Row[]> {
  const other = await page.context().browser()!.newPage({ viewport: page.viewportSize() });
  await encodesTwice(other);
  await openClip(page, server, CLIP);
  await other.goto(page.url());
  await stageReady(other);
  const [atOnce, looked, alone]: [number[], number[], number[]] = [[], [], []];
  for (let round = 0; round < ROUNDS; round++) {
    await page.reload();
    await stageReady(page);
    atOnce.push(await made(page));
    alone.push(await encodedAlone(other, () => made(other)));
    // A page of its own: nothing is there from the one that was made at once.
    await page.reload();
    await stageReady(page);
    await page.waitForTimeout(LOOKED);
    looked.push(await made(page));
  }
  const { width, height } = clipSize(CLIP.shape, SIDE);
  const what = `A clip of ${framesOf(CLIP) / CLIP_FPS} s at ${width} × ${height}, three scenes and music: drawn, made, kept, read back`;
  const row = (how: string, ours: readonly number[]): Row =>
    beside(
      `${what}; ${how}`,
      {
        ours: measureOf(ours),
        baseline: measureOf(alone),
        ratio: measureOf(ours.map((one, i) => one / alone[i])),
      },
      'encoding the same frames alone',
      1.5,
    );
  return [row(`looked at for ${LOOKED / 1000} s before`, looked), row('at once after its page is opened', atOnce)];
}

/** Presses the button and waits until it is said that the file is made, read back and kept. @returns ms between the two */
async function made(page: Page): Promise<number> {
  const took = page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        let pressed = 0;
        document.addEventListener('click', () => (pressed = performance.now()), { capture: true, once: true });
        const seen = new MutationObserver(() => {
          const said = Array.from(document.querySelectorAll('mat-snack-bar-container'));
          if (!said.some(({ textContent }) => textContent?.includes('is made and kept'))) return;
          seen.disconnect();
          resolve(performance.now() - pressed);
        });
        seen.observe(document.body, { childList: true, subtree: true, characterData: true });
      }),
  );
  await page.getByRole('button', { name: 'Make this clip' }).click();
  // Nothing asks the page meanwhile: that would have it draw itself again and again.
  const ms = await took;
  // The next one says so again.
  const said = page.locator('mat-snack-bar-container').filter({ hasText: 'is made and kept' });
  await said.getByRole('button', { name: 'Close' }).click();
  await said.waitFor({ state: 'detached' });
  return ms;
}
