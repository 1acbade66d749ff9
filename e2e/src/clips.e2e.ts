import { SELLER } from '@kettle/server';
import { expect, forgetCopies, openCopy, saved, test } from './kettle.js';

test.afterEach(forgetCopies);

test('a clip is started, changed, played, made with its sound, and is out of date with its design', async ({
  page,
  demo,
}) => {
  test.setTimeout(300_000);
  const id = await openCopy(page, demo, 'Cumulus Appreciation', 'clips');
  await page.getByRole('button', { name: /^Quick cut/ }).click();
  const row = page.getByRole('list', { name: 'Scenes in a row' });
  await expect(row.locator('.scene')).toHaveCount(4);
  const stage = page.locator('ks-clip-stage canvas');
  await expect(stage).toHaveAttribute('data-ready', 'true', { timeout: 120_000 });

  // The product is in the middle of an upright shape too: its colour at both sides of it alike.
  await page.getByRole('button', { name: 'tall 9:16' }).click();
  await expect
    .poll(() =>
      stage.evaluate((canvas: HTMLCanvasElement) => {
        const { width, height } = canvas;
        const { data } = canvas.getContext('2d')!.getImageData(0, Math.round(height * 0.45), width, 1);
        const isWall = (x: number): boolean =>
          [0, 1, 2].every(
            (k) =>
              Math.abs(data[x * 4 + k] - data[k]) < 14 || Math.abs(data[x * 4 + k] - data[(width - 1) * 4 + k]) < 14,
          );
        const inside = Array.from({ length: width }, (_, x) => x).filter((x) => !isWall(x));
        return width > height || !inside.length ? 1 : Math.abs((inside[0] + inside.at(-1)!) / 2 / width - 0.5);
      }),
    )
    .toBeLessThan(0.12);
  await page.getByRole('button', { name: 'square 1:1' }).click();

  // Frame by frame, by keyboard; another scene is chosen where the next one begins.
  await stage.click();
  await page.getByRole('slider', { name: 'Frame' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(stage).toHaveAttribute('data-frame', '1');

  // Played, with its music, by the space bar.
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  await expect.poll(async () => Number(await stage.getAttribute('data-frame'))).toBeGreaterThan(12);
  await page.getByRole('button', { name: 'Stop' }).click();

  // Moved by keyboard, and taken back.
  const names = () => row.locator('.scene').evaluateAll((all) => all.map((one) => one.getAttribute('aria-label')));
  const before = await names();
  await row.locator('.scene').first().focus();
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(names).not.toEqual(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(names).toEqual(before);

  // A title at a person’s pace, and a dissolve.
  await page.getByRole('button', { name: 'The whole clip' }).click();
  await page.getByRole('textbox', { name: 'Title' }).pressSequentially('Cumulus', { delay: 120 });
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Cumulus');
  await row.locator('.scene').first().click();
  await page.getByRole('combobox', { name: 'Into the next' }).selectOption('dissolve');
  await page.getByRole('button', { name: 'The whole clip' }).click();
  await saved(page);

  await page.getByRole('combobox', { name: 'Size' }).selectOption('720');
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await expect(page.getByRole('progressbar', { name: 'How far the clip is' })).toBeVisible();
  const made = page.getByRole('list', { name: 'Clips that were made' }).getByRole('listitem');
  await expect(made).toHaveCount(1, { timeout: 180_000 });
  await expect(made).toContainText('720 × 720 px');
  await expect(made).toContainText('VP9 and Opus');

  // What plays is what was made: frames of the file, decoded again, against those of the stage.
  const [clip] = (await demo.house.designs.get(SELLER, id)).document.clips!;
  const frames = Number(await page.getByRole('slider', { name: 'Frame' }).getAttribute('max')) + 1;
  expect(clip.scenes.length).toBe(4);
  const href = (await made.getByRole('link').getAttribute('href'))!;
  await page.evaluate(async (source) => {
    const video = document.createElement('video');
    video.muted = true;
    await new Promise((resolve, reject) => {
      video.addEventListener('loadeddata', resolve, { once: true });
      video.addEventListener('error', () => reject(new Error(video.error?.message)), { once: true });
      video.src = source;
    });
    (window as unknown as { video: HTMLVideoElement }).video = video;
  }, href);
  const seconds = await page.evaluate(() => (window as unknown as { video: HTMLVideoElement }).video.duration);
  expect(Math.abs(seconds - frames / 24)).toBeLessThan(0.06);
  const slider = page.getByRole('slider', { name: 'Frame' });
  for (const frame of [0, 20, Math.floor(frames / 2), frames - 2]) {
    await slider.fill(String(frame));
    await expect(stage).toHaveAttribute('data-frame', String(frame));
    const difference = await page.evaluate(async (at) => {
      const { video } = window as unknown as { video: HTMLVideoElement };
      const done = new Promise((resolve) => video.addEventListener('seeked', resolve, { once: true }));
      video.currentTime = (at + 0.5) / 24;
      await done;
      const side = 240;
      const pixels = (source: CanvasImageSource) => {
        const context = new OffscreenCanvas(side, side).getContext('2d', { willReadFrequently: true })!;
        context.imageSmoothingQuality = 'high';
        context.drawImage(source, 0, 0, side, side);
        return context.getImageData(0, 0, side, side).data;
      };
      const [one, other] = [pixels(video), pixels(document.querySelector<HTMLCanvasElement>('ks-clip-stage canvas')!)];
      let sum = 0;
      for (let i = 0; i < one.length; i++) if (i % 4 < 3) sum += Math.abs(one[i] - other[i]);
      return sum / (side * side * 3);
    }, frame);
    expect(difference).toBeLessThan(3);
  }

  // Its design changes: the file says so.
  await row.locator('.scene').first().click();
  await page.getByRole('combobox', { name: 'Movement' }).selectOption('still');
  await saved(page);
  await expect(made).toContainText('out of date');
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await expect(made).not.toContainText('out of date');
});

test('a clip that is being made can be cancelled, and bad files are refused in a sentence', async ({ page, demo }) => {
  test.setTimeout(240_000);
  const id = await openCopy(page, demo, 'Isobars', 'clips');
  await page.getByRole('button', { name: /^Close, then whole/ }).click();
  await expect(page.locator('ks-clip-stage canvas')).toHaveAttribute('data-ready', 'true', { timeout: 120_000 });
  await saved(page);
  await page.getByRole('button', { name: 'Make it in every shape' }).click();
  const settings = page.getByRole('complementary', { name: 'Settings of the clip' });
  await settings.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('button', { name: 'Make this clip' })).toBeEnabled();
  expect(await (await fetch(`${demo.address}/api/designs/${id}/clips`)).json()).toEqual([]);

  const { document, revision } = await demo.house.designs.get(SELLER, id);
  const [clip] = document.clips!;
  const send = async (query: string, body: Buffer) => {
    const answer = await fetch(`${demo.address}/api/designs/${id}/clips?${query}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: new Uint8Array(body),
    });
    return [answer.status, ((await answer.json()) as { detail: string }).detail];
  };
  const asked = `clip=${clip.id}&revision=${revision}&side=720`;
  expect(await send(asked, Buffer.from('<html>'))).toEqual([
    422,
    expect.stringContaining('not a clip that can be read'),
  ]);
  expect(await send(asked.replace(clip.id, 'none'), Buffer.from('x'))).toEqual([
    404,
    expect.stringContaining('no clip'),
  ]);
  expect(await send(asked.replace('720', '90000'), Buffer.from('x'))).toEqual([
    422,
    expect.stringContaining('720 or 1080'),
  ]);
});
