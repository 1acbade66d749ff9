import type { Page } from '@playwright/test';
import { CLIP_FPS, clipSize, framesOf, type Clip, type ClipScene } from '@kettle/core';
import { SELLER, type RunningServer } from '@kettle/server';
import { beside, measureOf, type Row } from './timing.js';

const SIDE = 1080;
/** As the maker of clips has it. */
const BITS_PER_PIXEL = 0.14;

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
  await page.locator('ks-clip-stage canvas[data-ready=true]').waitFor({ timeout: 240_000 });
}

/** Rounds: the first finds everything cold. */
const ROUNDS = 3;

/** A clip made by its button until it is kept and read back, beside encoding its frames alone, in turns. */
export async function clips(page: Page, server: RunningServer): Promise<Row[]> {
  await openClip(page, server, CLIP);
  const { width, height } = clipSize(CLIP.shape, SIDE);
  const link = page.getByRole('list', { name: 'Clips that were made' }).getByRole('link', { name: /webm$/ });
  const [ours, alone]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round++) {
    ours.push(await made(page));
    alone.push(
      await page.evaluate(encodedAlone, {
        source: (await link.first().getAttribute('href'))!,
        frames: framesOf(CLIP),
        fps: CLIP_FPS,
        width,
        height,
        bitrate: Math.round(width * height * CLIP_FPS * BITS_PER_PIXEL),
      }),
    );
  }
  return [
    beside(
      `A clip of ${framesOf(CLIP) / CLIP_FPS} s at ${width} × ${height}, three scenes and music: drawn, made, kept, read back`,
      {
        ours: measureOf(ours),
        baseline: measureOf(alone),
        ratio: measureOf(ours.map((one, i) => one / alone[i])),
      },
      'encoding the same frames alone',
      1.5,
    ),
  ];
}

/** Presses the button and waits until it is said that the file is made, read back and kept. @returns ms */
async function made(page: Page): Promise<number> {
  const said = page.locator('mat-snack-bar-container').filter({ hasText: 'is made and kept' });
  const start = performance.now();
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await said.waitFor({ timeout: 120_000 });
  const took = performance.now() - start;
  // The next one says so again.
  await said.getByRole('button', { name: 'Close' }).click();
  await said.waitFor({ state: 'detached' });
  return took;
}

/** Takes the frames out of a file and encodes them again; only the latter is timed. Runs in the page. */
async function encodedAlone(of: {
  source: string;
  frames: number;
  fps: number;
  width: number;
  height: number;
  bitrate: number;
}): Promise<number> {
  const video = document.createElement('video');
  video.muted = true;
  await new Promise((resolve) => {
    video.addEventListener('loadeddata', resolve, { once: true });
    video.src = of.source;
  });
  const pictures: ImageBitmap[] = [];
  for (let n = 0; n < of.frames; n++) {
    const there = new Promise((resolve) => video.addEventListener('seeked', resolve, { once: true }));
    video.currentTime = (n + 0.5) / of.fps;
    await there;
    pictures.push(await createImageBitmap(video));
  }
  const start = performance.now();
  const encoder = new VideoEncoder({ output: () => undefined, error: () => undefined });
  encoder.configure({
    codec: 'vp09.00.40.08',
    width: of.width,
    height: of.height,
    bitrate: of.bitrate,
    framerate: of.fps,
  });
  for (const [n, picture] of pictures.entries()) {
    const frame = new VideoFrame(picture, { timestamp: Math.round((n * 1e6) / of.fps) });
    encoder.encode(frame, { keyFrame: n % (2 * of.fps) === 0 });
    frame.close();
    if (encoder.encodeQueueSize > 4)
      await new Promise((resolve) => encoder.addEventListener('dequeue', resolve, { once: true }));
  }
  await encoder.flush();
  return performance.now() - start;
}
