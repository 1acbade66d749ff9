import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { CLIP_FPS, type Clip } from '@kettle/core/model';
import type { RunningServer } from '@kettle/server';
import { openClip } from './clips.js';
import { against, measureOf, type Row } from './timing.js';

const SECONDS = 10;
/** A tee that turns for ten seconds, its colours changing, with music. */
const CLIP: Clip = {
  id: 'turning',
  name: 'Turning',
  shape: '1:1',
  scenes: [
    {
      id: 'a',
      scene: {
        blankId: 'tee-turning',
        areaId: 'full-front',
        requirementId: null,
        garment: '#1F2B4D',
        backdrop: '#E4E1D9',
        inkOpacity: 1,
        shadow: 0.6,
      },
      frames: SECONDS * CLIP_FPS,
      movement: 'colours',
      colours: ['#A5442F', '#1F6B6B'],
    },
  ],
  music: { trackId: 'three-oktas-and-bright', start: 0, volume: 1 },
};

/** A turning product played for ten seconds: frames that were never shown, and what its tab takes of memory. */
export async function clipsPlaying(page: Page, server: RunningServer): Promise<Row[]> {
  await openClip(page, server, CLIP);
  const idle = await page.evaluate(leftOut, { seconds: SECONDS, fps: CLIP_FPS, plays: false });
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const playing = await page.evaluate(leftOut, { seconds: SECONDS, fps: CLIP_FPS, plays: true });
  const session = await page.context().browser()!.newBrowserCDPSession();
  const { processInfo } = await session.send('SystemInfo.getProcessInfo');
  const sizes = await Promise.all(
    processInfo.filter(({ type }) => type === 'renderer').map(({ id }) => megabytesOf(id)),
  );
  return [
    {
      what: `Frames that ${SECONDS} s of playing a turning product leave out, of ${SECONDS * CLIP_FPS}`,
      measured: `${playing}`,
      spread: 'once',
      against: `an idle page in as much time: ${idle}`,
      ratio: '–',
      budget: '0',
      kept: playing === 0,
    },
    against('Memory of the tab that plays it', measureOf([Math.max(...sizes)]), 600, 'MB'),
  ];
}

async function megabytesOf(pid: number): Promise<number> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8').catch(() => '');
  return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024;
}

/** Frames of a time that were not shown: of the clip, or of an idle page. Runs in the page. */
function leftOut({ seconds, fps, plays }: { seconds: number; fps: number; plays: boolean }): Promise<number> {
  const canvas = document.querySelector('ks-clip-stage canvas')!;
  const shown = new Set<number>();
  return new Promise((resolve) => {
    const begun = performance.now();
    const step = (): void => {
      const since = performance.now() - begun;
      // A page that is idle would have shown the frame of each moment it was asked to draw.
      shown.add(plays ? Number(canvas.getAttribute('data-frame')) : Math.floor((since / 1000) * fps));
      if (since < seconds * 1000 + 100) requestAnimationFrame(step);
      else resolve(Math.max(0, seconds * fps - shown.size));
    };
    requestAnimationFrame(step);
  });
}
