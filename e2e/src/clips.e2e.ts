import { loudnessOf } from '@kettle/core/clip';
import { SELLER } from '@kettle/server';
import sharp from 'sharp';
import { expect, forgetCopies, openCopy, saved, test } from './kettle.js';

test.afterEach(forgetCopies);

test('a clip is started, changed, played, made with its sound, and is out of date with its design', async ({
  page,
  demo,
}) => {
  const id = await openCopy(page, demo, 'Cumulus Appreciation', 'clips');
  await page.getByRole('button', { name: /^Quick cut/ }).click();
  const row = page.getByRole('list', { name: 'Scenes in a row' });
  await expect(row.locator('.scene')).toHaveCount(4);
  const stage = page.locator('ks-clip-stage canvas');
  await expect(stage).toHaveAttribute('data-ready', 'true');

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

  // Trimmed by its edge, with the mouse and by keys; each is one step to undo.
  const edge = page.getByRole('button', { name: /^Length of scene 1/ });
  const length = async () => Number(/([\d.]+) s/.exec((await edge.getAttribute('aria-label'))!)![1]);
  const whole = await length();
  const grip = (await edge.boundingBox())!;
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(grip.x + 90, grip.y + grip.height / 2, { steps: 8 });
  await page.mouse.up();
  await expect.poll(length).toBeGreaterThan(whole + 0.3);
  await expect.poll(names).toEqual(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(length).toBe(whole);
  await edge.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(length).toBeCloseTo(whole + 1 / 24, 1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(length).toBe(whole);

  // A title at a person’s pace, and a dissolve.
  await page.getByRole('button', { name: 'The whole clip' }).click();
  await page.getByRole('textbox', { name: 'Title' }).pressSequentially('Cumulus', { delay: 120 });
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Cumulus');
  await row.locator('.scene').first().click();
  await page.getByRole('combobox', { name: 'Into the next' }).selectOption('dissolve');
  await page.getByRole('button', { name: 'The whole clip' }).click();
  await saved(page);

  await page.getByRole('combobox', { name: 'Shorter side' }).selectOption('720');
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await expect(page.getByRole('progressbar', { name: 'How far the clip is' })).toBeVisible();
  const made = page.getByRole('list', { name: 'Clips that were made' }).getByRole('listitem');
  await expect(made).toHaveCount(1);
  await expect(made).toContainText('720 × 720 px');
  await expect(made).toContainText('VP9 and Opus');

  // Its cover is the picture that was chosen, and its music is as loud as posts are.
  const cover = await page.request.get(
    new URL((await made.getByRole('link', { name: 'cover' }).getAttribute('href'))!, page.url()).href,
  );
  expect(cover.headers()['content-type']).toBe('image/jpeg');
  const loudness = await page.evaluate(
    async (source) => {
      const bytes = await (await fetch(source)).arrayBuffer();
      const sound = await new OfflineAudioContext(2, 1, 48_000).decodeAudioData(bytes);
      return { seconds: sound.duration, channels: [0, 1].map((c) => [...sound.getChannelData(c)]) };
    },
    (await made.getByRole('link', { name: /webm$/ }).getAttribute('href'))!,
  );
  const level = loudnessOf(
    loudness.channels.map((channel) => Float32Array.from(channel)),
    48_000,
  );
  expect(level).toBeGreaterThan(-16);
  expect(level).toBeLessThan(-14);

  // What plays is what was made: frames of the file, decoded again, against those of the stage.
  const [clip] = (await demo.house.designs.get(SELLER, id)).document.clips!;
  const frames = Number(await page.getByRole('slider', { name: 'Frame' }).getAttribute('max')) + 1;
  expect(clip.scenes.length).toBe(4);
  const href = (await made.getByRole('link', { name: /webm$/ }).getAttribute('href'))!;
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
  // Sound and picture end together, within a frame.
  expect(Math.abs(loudness.seconds - frames / 24)).toBeLessThan(1 / 24);
  const slider = page.getByRole('slider', { name: 'Frame' });
  for (const frame of [0, 20, Math.floor(frames / 2), frames - 2]) {
    await slider.fill(String(frame));
    await expect(stage).toHaveAttribute('data-frame', String(frame));
    await page.evaluate(async (at) => {
      const { video } = window as unknown as { video: HTMLVideoElement };
      const done = new Promise((resolve) => video.addEventListener('seeked', resolve, { once: true }));
      video.currentTime = (at + 0.5) / 24;
      await done;
    }, frame);
    const difference = (): Promise<number> =>
      page.evaluate(() => {
        const { video } = window as unknown as { video: HTMLVideoElement };
        const side = 240;
        const pixels = (source: CanvasImageSource) => {
          const context = new OffscreenCanvas(side, side).getContext('2d', { willReadFrequently: true })!;
          context.imageSmoothingQuality = 'high';
          context.drawImage(source, 0, 0, side, side);
          return context.getImageData(0, 0, side, side).data;
        };
        const [one, other] = [
          pixels(video),
          pixels(document.querySelector<HTMLCanvasElement>('ks-clip-stage canvas')!),
        ];
        let sum = 0;
        for (let i = 0; i < one.length; i++) if (i % 4 < 3) sum += Math.abs(one[i] - other[i]);
        return sum / (side * side * 3);
      });
    // A busy browser says that it has found the place before it shows the picture.
    await expect.poll(difference).toBeLessThan(3);
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
  const id = await openCopy(page, demo, 'Isobars', 'clips');
  await page.getByRole('button', { name: /^Close, then whole/ }).click();
  await expect(page.locator('ks-clip-stage canvas')).toHaveAttribute('data-ready', 'true');
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

test('a clip is made though the worker that was got ready for it never started, and kept once the server answers again', async ({
  page,
  demo,
}) => {
  await openCopy(page, demo, 'Isobars', 'clips');
  let lost = false;
  await page.route(/\/worker-[^/]+\.js$/, async (route) => {
    const response = await route.fetch();
    const body = await response.text();
    if (lost || !body.includes('cannot make clips')) return route.fulfill({ response, body });
    lost = true;
    return route.abort();
  });
  await page.getByRole('button', { name: /^Close, then whole/ }).click();
  await expect(page.locator('ks-clip-stage canvas')).toHaveAttribute('data-ready', 'true');
  await saved(page);
  await expect.poll(() => lost).toBe(true);
  let isAway = true;
  await page.route(/\/api\/designs\/[^/]+\/clips\?/, (route) =>
    isAway ? route.abort('connectionrefused') : route.continue(),
  );
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await expect(page.getByText('It is kept as soon as the server answers')).toBeVisible();
  isAway = false;
  const made = page.getByRole('list', { name: 'Clips that were made' });
  await expect(made.getByRole('link', { name: /\.webm$/ })).toBeVisible();
});

test('a product turns on the stage and in the file, with music of one’s own and corrected framing', async ({
  page,
  demo,
}) => {
  const id = await openCopy(page, demo, 'Mostly Drizzle', 'clips');
  // Each arrangement plays small where the pointer rests.
  await page
    .getByRole('group', { name: 'Product' })
    .getByRole('button', { name: /^turning/ })
    .click();
  const start = page.getByRole('button', { name: /^Turns to you/ });
  await start.hover();
  await expect(page.getByRole('img', { name: 'Turns to you, with this design' })).toBeVisible();
  await start.click();
  const row = page.getByRole('list', { name: 'Scenes in a row' });
  await expect(row.locator('.scene')).toHaveCount(2);
  await expect(row.locator('.scene').first()).toHaveAttribute('aria-label', /turning, turn towards/);
  const stage = page.locator('ks-clip-stage canvas');
  await expect(stage).toHaveAttribute('data-ready', 'true');

  // It turns: the first frame and the one where it faces who looks differ far more than two of those where it stays.
  const slider = page.getByRole('slider', { name: 'Frame' });
  const seenAt = async (frame: number): Promise<number[]> => {
    await slider.fill(String(frame));
    await expect(stage).toHaveAttribute('data-frame', String(frame));
    return stage.evaluate((canvas: HTMLCanvasElement) => {
      const small = new OffscreenCanvas(90, 90).getContext('2d', { willReadFrequently: true })!;
      small.drawImage(canvas, 0, 0, 90, 90);
      return [...small.getImageData(0, 0, 90, 90).data];
    });
  };
  const apart = (one: number[], other: number[]): number =>
    one.reduce((sum, value, i) => sum + Math.abs(value - other[i]), 0) / one.length;
  const facing = await seenAt(60);
  expect(apart(await seenAt(0), facing)).toBeGreaterThan(3);
  expect(apart(await seenAt(66), facing)).toBeLessThan(0.3);

  // Framed otherwise by a drag, in this shape alone, and taken back.
  await page.getByRole('button', { name: 'The whole clip' }).click();
  const before = await seenAt(60);
  await row.locator('.scene').first().click();
  const nearer = page.getByRole('slider', { name: 'Nearer' });
  await page.getByText('Framing in the square shape').click();
  await nearer.focus();
  for (let press = 0; press < 8; press++) await page.keyboard.press('PageUp', { delay: 100 });
  await saved(page);
  const box = (await stage.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height / 2, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  const [framed] = (await demo.house.designs.get(SELLER, id)).document.clips!;
  expect(framed.scenes[0].framings!['1:1']!.zoom).toBeGreaterThan(1);
  expect(framed.scenes[0].framings!['1:1']!.x).toBeLessThan(-0.02);
  await page.getByRole('button', { name: 'As proposed' }).click();
  await saved(page);
  expect((await demo.house.designs.get(SELLER, id)).document.clips![0].scenes[0].framings).toBeUndefined();
  expect(apart(await seenAt(60), before)).toBeLessThan(0.3);

  // Music of one’s own: a broken file is told, a good one is taken, with the tempo that is typed.
  await page.getByRole('button', { name: 'The whole clip' }).click();
  const own = page.getByLabel('Your own music');
  await own.setInputFiles({ name: 'broken.mp3', mimeType: 'audio/mpeg', buffer: Buffer.from('no music at all') });
  await expect(page.getByText(/“broken.mp3”: This browser cannot play this music/)).toBeVisible();
  await own.setInputFiles({ name: 'Drip.wav', mimeType: 'audio/wav', buffer: drip(4) });
  await expect(page.getByRole('combobox', { name: 'Music', exact: true }).locator('option:checked')).toHaveText(/Drip/);
  await page.getByRole('textbox', { name: 'Beats/min' }).fill('100');
  await page.keyboard.press('Tab');
  await row.locator('.scene').first().click();
  await expect(page.getByRole('textbox', { name: 'In beats' })).toBeVisible();
  // One short scene is enough for a file.
  await row.locator('.scene').last().click();
  await page.keyboard.press('Delete');
  await expect(row.locator('.scene')).toHaveCount(1);
  await row.locator('.scene').first().click();
  await page.getByRole('textbox', { name: 'Length, s' }).fill('1.5');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'The whole clip' }).click();
  await saved(page);

  await page.getByRole('combobox', { name: 'Shorter side' }).selectOption('720');
  const made = page.getByRole('list', { name: 'Clips that were made' }).getByRole('listitem');
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await expect(made).toHaveCount(1);
  await expect(made.first()).toContainText('VP9 and Opus');
  await page.getByRole('combobox', { name: 'File' }).selectOption('mp4');
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await expect(made).toHaveCount(2);
  await expect(made.first()).toContainText('AV1 and Opus');
  await page.getByRole('combobox', { name: 'File' }).selectOption('webp');
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await expect(made).toHaveCount(3);
  await expect(made.first()).toContainText('WebP, silent');

  // The file’s own pictures, read by another program, turn like the stage’s.
  const href = (await made.first().getByRole('link', { name: /webp$/ }).getAttribute('href'))!;
  const bytes = await (await page.request.get(new URL(href, page.url()).href)).body();
  const { pages = 0 } = await sharp(bytes, { pages: -1 }).metadata();
  for (const picture of [0, pages - 1]) {
    const { data, info } = await sharp(bytes, { page: picture })
      .resize(120, 120)
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    await slider.fill(String(picture * 2));
    await expect(stage).toHaveAttribute('data-frame', String(picture * 2));
    const shown = Buffer.from(
      await stage.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL('image/png').split(',')[1]),
      'base64',
    );
    const seen = await sharp(shown).resize(120, 120).removeAlpha().raw().toBuffer();
    let sum = 0;
    for (let i = 0; i < data.length; i++) sum += Math.abs(data[i] - seen[i]);
    expect(sum / (info.width * info.height * 3)).toBeLessThan(3);
  }
});

test('clips of several designs are begun from the sheet: one each, and one that shows them all', async ({
  page,
  demo,
}) => {
  const first = await openCopy(page, demo, 'Isobars', 'clips');
  const second = await openCopy(page, demo, 'Fog Signal', 'clips');
  const names = await Promise.all(
    [first, second].map(async (id) => (await demo.house.designs.get(SELLER, id)).document.name),
  );
  await page.goto(demo.address);
  for (const name of names) await page.getByLabel(`Select all of ${name}`, { exact: true }).click({ force: true });
  await page.getByRole('button', { name: 'Clips …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('heading', { name: 'Clips of 2 designs' })).toBeVisible();
  await dialog.getByRole('button', { name: /^Layer by layer/ }).click();
  await dialog.getByRole('button', { name: 'tall 9:16' }).click();
  // The server makes them, while nobody watches.
  await dialog.getByRole('checkbox', { name: /^Have the server make them at once/ }).check();
  const asked = page.waitForResponse((response) => response.url().endsWith('/api/clip-runs'));
  await dialog.getByRole('button', { name: 'Begin 2 clips' }).click();
  await expect(dialog.getByText('2 of 2 begun.')).toBeVisible();
  // What comes of it is in a specification; here two cores have enough to do.
  const { jobId } = (await (await asked).json()) as { jobId: string };
  const run = await demo.house.outputs.job(SELLER, jobId);
  expect([run.kind, run.total, [...run.designIds].sort()]).toEqual(['clips', 2, [first, second].sort()]);
  await demo.house.outputs.cancel(SELLER, jobId);
  await dialog.getByRole('button', { name: 'Close', exact: true }).click();
  for (const id of [first, second]) {
    const { clips = [], name } = (await demo.house.designs.get(SELLER, id)).document;
    expect(clips.map((one) => [one.name, one.shape, one.scenes[0].movement])).toEqual([
      ['Layer by layer', '9:16', 'layers'],
    ]);
    expect(clips[0].words!.title).toBe(name);
  }

  // One for all is opened at once, and shows both; they are selected still.
  await page.getByRole('button', { name: 'Clips …' }).click();
  await dialog.getByRole('button', { name: 'One clip that shows them all' }).click();
  await dialog.getByRole('button', { name: 'Begin the clip' }).click();
  await expect(page).toHaveURL(/\/clips$/);
  await page.getByRole('button', { name: /^Parade/ }).click();
  const row = page.getByRole('list', { name: 'Scenes in a row' });
  await expect(row.locator('.scene')).toHaveCount(2);
  const stage = page.locator('ks-clip-stage canvas');
  await expect(stage).toHaveAttribute('data-ready', 'true');
  const other = names.find((name) => !page.url().includes(first) === (name === names[0]))!;
  await expect(row.locator('.scene').last()).toHaveAttribute('aria-label', new RegExp(other));
  // The two scenes print different art: what their middles show differs.
  const slider = page.getByRole('slider', { name: 'Frame' });
  const middle = async (frame: number): Promise<number[]> => {
    await slider.fill(String(frame));
    await expect(stage).toHaveAttribute('data-frame', String(frame));
    return stage.evaluate((canvas: HTMLCanvasElement) => {
      const { width, height } = canvas;
      const { data } = canvas
        .getContext('2d')!
        .getImageData(width * 0.4, height * 0.35, Math.round(width * 0.2), Math.round(height * 0.2));
      return [...data];
    });
  };
  const [one, two] = [await middle(2), await middle(Number(await slider.getAttribute('max')) - 2)];
  expect(one.reduce((sum, value, i) => sum + Math.abs(value - two[i]), 0) / one.length).toBeGreaterThan(4);

  // This one is begun on the server too, and called off.
  await page.getByRole('button', { name: 'Have the server make it' }).click();
  await expect(page.getByText(/The server makes a clip, \d+ %/)).toBeVisible();
  await page.getByRole('button', { name: 'Cancel on the server' }).click();
  await expect(page.getByText(/The server makes a clip/)).toBeHidden();
});

/** A WAV with a drop of sound every half second, 16 bits, 16 kHz. */
function drip(seconds: number): Buffer {
  const rate = 16_000;
  const samples = Buffer.alloc(seconds * rate * 2);
  for (let k = 0; k < seconds * rate; k++) {
    const since = k % (rate / 2);
    samples.writeInt16LE(Math.round(12_000 * Math.sin(since / 6) * Math.exp(-since / 1200)), k * 2);
  }
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + samples.length, 4);
  head.write('WAVEfmt ', 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(rate, 24);
  head.writeUInt32LE(rate * 2, 28);
  head.writeUInt16LE(2, 32);
  head.writeUInt16LE(16, 34);
  head.write('data', 36);
  head.writeUInt32LE(samples.length, 40);
  return Buffer.concat([head, samples]);
}
