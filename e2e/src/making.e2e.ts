import { SELLER } from '@kettle/server';
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import type { Locator, Page } from '@playwright/test';
import type { RunningServer } from '@kettle/server';
import { chooseCanvas, expect, fill, openNewDesign, saved, seen, test } from './kettle.js';

const FONT = fileURLToPath(new URL('../../server/fonts/rye/rye-latin-400-normal.woff2', import.meta.url));

/** Opens an empty design on the tee. */
async function openEmpty(page: Page, app: RunningServer): Promise<void> {
  await page.goto(app.address);
  await page.getByRole('button', { name: 'or start with an empty canvas' }).click();
  await chooseCanvas(page);
  await expect(page.locator('.stations h1')).toHaveText('Untitled design');
  await expect(page.locator('.paper')).toBeVisible();
}

const documentOf = async ({ house }: RunningServer) => (await house.designs.list(SELLER)).at(-1)!.document;
const layer = (page: Page, name: string) => page.locator('.sheet', { hasText: name });
const addShape = async (page: Page, name: string): Promise<void> => {
  await page.getByRole('button', { name: 'Shape', exact: true }).click();
  await page.getByRole('menuitem', { name, exact: true }).click();
  // The menu's veil takes what is pressed until it is gone.
  await expect(page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
  await expect(page.locator('.panel-title h3')).toHaveText('Shape');
};
/** What was just done is drawn: the canvas follows the page by a frame, and knows what lies where by another. */
const drawn = async (page: Page): Promise<void> => {
  await seen(page);
  await page.evaluate(
    () =>
      new Promise((resolve) => {
        requestAnimationFrame(() => requestAnimationFrame(resolve));
      }),
  );
};
/** Middle of the selection on the screen, where what was just done has put it. */
async function held(page: Page): Promise<{ x: number; y: number }> {
  await drawn(page);
  return page.evaluate(() => {
    const at = JSON.parse(document.querySelector('[data-held]')!.getAttribute('data-held')!) as Record<
      'x' | 'y',
      number
    >;
    const box = document.querySelector('.surface')!.getBoundingClientRect();
    return { x: box.x + at.x, y: box.y + at.y };
  });
}
async function drag(page: Page, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await drawn(page);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  // A press is taken hold of in the next frame of the screen.
  await drawn(page);
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 });
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
}

/** Presses a button until there is nothing more to press it for. */
async function pressThrough(page: Page, button: Locator): Promise<void> {
  for (let steps = 0; steps < 60 && (await button.isEnabled()); steps++) {
    await button.click();
    await seen(page);
  }
}

test('layers are dragged to lines, roped, lined up, grouped and copied; every step is undone after a reload', async ({
  page,
  app,
}) => {
  await openEmpty(page, app);
  await addShape(page, 'Star');
  await fill(page, 'Width, mm', '60');
  // Dragged a little off the middle it comes back to it; with Alt it stays where it is put.
  const middle = await held(page);
  await drag(page, middle, { x: middle.x + 4, y: middle.y + 70 });
  await expect(page.locator('ks-stage .readout')).toContainText('centred');
  await page.keyboard.down('Alt');
  await drag(page, await held(page), { x: middle.x + 4, y: middle.y + 70 });
  await page.keyboard.up('Alt');
  await expect(page.locator('ks-stage .readout')).toContainText('right of centre');
  await addShape(page, 'Ring');
  await fill(page, 'Width, mm', '40');
  await drag(page, await held(page), { x: middle.x - 90, y: middle.y - 40 });
  // A guide pulled out of the upper ruler, typed to its place.
  const ruler = (await page.locator('ks-ruler').first().boundingBox())!;
  await drag(page, { x: ruler.x + 200, y: ruler.y + 10 }, { x: ruler.x + 200, y: ruler.y + 130 });
  await page.keyboard.press('Escape');
  await fill(page, 'From the top, mm', '80');
  // The ring's upper edge jumps to it.
  await layer(page, 'Ring').click();
  await fill(page, 'From top, mm', '83');
  // It is taken hold of where it lies once it is there.
  await expect(page.locator('ks-stage .readout')).toContainText('83 mm below the top');
  const ring = await held(page);
  await drag(page, ring, { x: ring.x - 12, y: ring.y });
  await expect(page.getByRole('textbox', { name: 'From top, mm' })).toHaveValue('80');
  // A rope round both, centres lined up, grouped, and the group moves as one.
  const surface = (await page.locator('.surface').boundingBox())!;
  await drag(
    page,
    { x: surface.x + 8, y: surface.y + 60 },
    { x: surface.x + surface.width - 8, y: surface.y + surface.height - 60 },
  );
  await expect(page.locator('.panel-title h3')).toHaveText('2 layers');
  await page.getByRole('button', { name: 'Centres, left to right' }).click();
  await page.keyboard.press('Control+g');
  await expect(page.locator('.panel-title h3')).toHaveText('Group');
  await saved(page);
  const before = (await documentOf(app)).layers;
  expect(before[0].place.x).toBeCloseTo(before[1].place.x, 6);
  expect(before[0].group).toBe(before[1].group);
  await page.locator('ks-stage .table').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Control+d');
  await expect(page.locator('[data-layer]')).toHaveCount(4);
  await saved(page);
  const after = (await documentOf(app)).layers;
  expect(after[0].place.x - before[0].place.x).toBeCloseTo((10 * 25.4) / 300, 6);
  // The way back is there after a reload, to the very first step and forward again.
  await page.reload();
  await expect(page.locator('[data-layer]')).toHaveCount(4);
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeEnabled();
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  await pressThrough(page, undo);
  await expect(page.locator('[data-layer]')).toHaveCount(0);
  const redo = page.getByRole('button', { name: 'Redo', exact: true });
  await pressThrough(page, redo);
  await expect(page.locator('[data-layer]')).toHaveCount(4);
  await saved(page);
  expect((await documentOf(app)).layers).toEqual(after);
});

test('lettering is written in place, in a face found by its look, in a font of one’s own, and missing letters are told', async ({
  page,
  app,
}) => {
  await openEmpty(page, app);
  await page.getByRole('button', { name: 'Lettering', exact: true }).click();
  const words = page.getByRole('textbox', { name: /^Words of the lettering/ });
  await expect(words).toBeFocused();
  await page.keyboard.type('Tarn End');
  await page.keyboard.press('Escape');
  await expect(layer(page, 'Tarn End')).toBeVisible();
  await page.getByRole('button', { name: /^Face/ }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('searchbox')).toBeFocused();
  await page.keyboard.type('slab');
  await expect(dialog.locator('.face')).toHaveCount(3);
  await dialog.getByRole('button', { name: 'Put Rye among the favourites' }).click();
  // A file that is no font is told; a real one comes onto its own shelf.
  await dialog
    .locator('input[type=file]')
    .setInputFiles({ name: 'song.ttf', mimeType: 'font/ttf', buffer: Buffer.from('not a font at all') });
  await expect(dialog.getByRole('alert')).toContainText('“song.ttf”: This is not a font.');
  await dialog
    .locator('input[type=file]')
    .setInputFiles({ name: 'sign.woff2', mimeType: 'font/woff2', buffer: await readFile(FONT) });
  // It is what is written in from now on.
  await expect(page.locator('#face-name')).toHaveText('Rye');
  await expect
    .poll(async () => {
      const [one] = (await documentOf(app)).layers;
      return one.kind === 'text' && [one.text, one.fontId.slice(0, 4)];
    })
    .toEqual(['Tarn End', 'own-']);
  // In place again, by a double click on the canvas.
  const at = await held(page);
  await page.mouse.dblclick(at.x, at.y);
  await expect(words).toBeFocused();
  await page.keyboard.type('ضباب');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('alert').filter({ hasText: 'Rye has no' })).toBeVisible();
  await page.getByRole('button', { name: 'Use Cairo' }).click();
  await expect(page.locator('#face-name')).toHaveText('Cairo');
  await page.getByLabel('Weight').selectOption({ label: '200 Extra light' });
  await page.getByRole('button', { name: 'Circle', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Circle across, mm' })).toBeVisible();
  await saved(page);
  await expect
    .poll(async () => {
      const [one] = (await documentOf(app)).layers;
      return one.kind === 'text' && [one.text, one.fontId, (one.settings.circle ?? 0) > 0];
    })
    .toEqual(['ضباب', 'cairo-arabic-200', true]);
});

test('a graphic is recoloured part by part, a fill runs and fades, and lines are drawn and erased by hand', async ({
  page,
  app,
}) => {
  await openEmpty(page, app);
  await page.getByRole('button', { name: 'Graphic', exact: true }).click();
  await page.getByRole('searchbox', { name: 'Search graphics' }).fill('teapot');
  await page.getByRole('dialog').getByRole('button', { name: 'Teapot' }).click();
  await expect(page.locator('.panel-title h3')).toHaveText('Graphic');
  await page.getByRole('button', { name: /^Part 1 of/ }).click();
  await fill(page, 'Part 1, hex', '#112233');
  await addShape(page, 'Rectangle');
  await page.getByRole('button', { name: 'Linear', exact: true }).click();
  await page.getByRole('button', { name: 'Fade out' }).click();
  await page.getByRole('button', { name: 'Add a stop' }).click();
  await page.getByLabel('Blend mode').selectOption('multiply');
  // A colour off the canvas: the teapot's red body, through the sampler.
  await layer(page, 'Teapot').click();
  const body = await held(page);
  await layer(page, 'Rectangle').click();
  await page.keyboard.press('Delete');
  await addShape(page, 'Star');
  await fill(page, 'Width, mm', '20');
  await fill(page, 'From top, mm', '300');
  await page.getByRole('button', { name: 'Fill: take a colour from the canvas' }).click();
  await page.mouse.click(body.x, body.y + 10);
  await expect(page.getByRole('textbox', { name: 'Fill, hex' })).toHaveValue('#f8312f');
  // Brush and eraser.
  const surface = (await page.locator('.surface').boundingBox())!;
  const spot = (x: number, y: number) => ({ x: surface.x + surface.width * x, y: surface.y + surface.height * y });
  await page.getByRole('button', { name: 'Brush', exact: true }).click();
  await fill(page, 'Size, mm', '12');
  await drag(page, spot(0.4, 0.7), spot(0.6, 0.7));
  await expect(layer(page, 'Freehand')).toBeVisible();
  await page.getByRole('button', { name: 'Eraser', exact: true }).click();
  await drag(page, spot(0.5, 0.6), spot(0.5, 0.8));
  await page.getByRole('button', { name: 'Put the eraser away' }).click();
  await saved(page);
  const { layers } = await documentOf(app);
  expect(layers.map((one) => one.kind)).toEqual(['graphic', 'shape', 'freehand']);
  expect(layers[0]).toMatchObject({
    parts: expect.arrayContaining([expect.objectContaining({ fill: '#112233' })]) as never,
  });
  expect(
    layers[2].kind === 'freehand' && layers[2].strokes.map((stroke) => [stroke.erase, Math.round(stroke.size)]),
  ).toEqual([
    [false, 12],
    [true, 12],
  ]);
});

test('the eraser rubs a corner off a shape, and out of nothing else; it moves with it, is in the file, and comes back', async ({
  page,
  app,
}) => {
  await openEmpty(page, app);
  const surface = (await page.locator('.surface').boundingBox())!;
  const spot = (x: number, y: number) => ({ x: surface.x + surface.width * x, y: surface.y + surface.height * y });
  // Lines of before, right where the eraser will come by.
  await page.getByRole('button', { name: 'Brush', exact: true }).click();
  await fill(page, 'Size, mm', '10');
  await drag(page, spot(0.45, 0.45), spot(0.55, 0.45));
  await expect(layer(page, 'Freehand')).toBeVisible();
  await page.getByRole('button', { name: 'Put the brush away' }).click();
  await addShape(page, 'Rectangle');
  const middle = await held(page);
  await page.getByRole('button', { name: 'Rub out', exact: true }).click();
  await expect(page.locator('ks-stage .told')).toContainText('Rubbing out of “Rectangle”');
  await fill(page, 'Size, mm', '20');
  await drag(page, { x: middle.x - 30, y: middle.y }, { x: middle.x + 30, y: middle.y });
  await page.locator('ks-stage .table').focus();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Rubbed out: 1 stroke')).toBeVisible();
  await saved(page);
  const { id, document } = (await app.house.designs.list(SELLER)).at(-1)!;
  const [line, shape] = document.layers;
  expect(line.kind === 'freehand' && line.strokes.map((stroke) => stroke.erase)).toEqual([false]);
  expect(shape.rubbed!.length).toBe(1);
  // Moved, it takes its hole along; what is seen through it is what lies there.
  await drag(page, { x: middle.x, y: middle.y + 25 }, { x: middle.x, y: middle.y + 85 });
  await saved(page);
  const seenAt = async (y: number): Promise<number> => {
    const answer = await page.request.get(`${app.address}/api/designs/${id}/miniature?size=512`);
    const { data, info } = await sharp(await answer.body())
      .raw()
      .toBuffer({ resolveWithObject: true });
    return data[(Math.round(y * info.height) * info.width + Math.round(info.width / 2)) * info.channels + 3];
  };
  const { place } = (await app.house.designs.get(SELLER, id)).document.layers[1];
  const share = (mm: number) => (place.y + mm) / document.field.height;
  await expect.poll(() => seenAt(share(0))).toBe(0);
  expect(await seenAt(share(-20))).toBe(255);
  expect(await seenAt(share(20))).toBe(255);
  await page.getByRole('button', { name: 'Bring all of it back' }).click();
  await saved(page);
  await expect.poll(() => seenAt(share(0))).toBe(255);
});

test('a canvas of one’s own is typed where it is needed; what is new fits it, and its file has its pixels', async ({
  page,
  app,
}) => {
  await page.goto(app.address);
  await page.getByRole('button', { name: 'or start with an empty canvas' }).click();
  // What opens takes the focus a moment after it is there; nobody types before that.
  await expect(page.getByRole('searchbox', { name: 'Search requirements' })).toBeFocused();
  await page.getByRole('textbox', { name: 'Width' }).fill('90,5');
  await page.getByRole('textbox', { name: 'Height' }).fill('120');
  await page.keyboard.press('Enter');
  await expect(page.locator('.stations h1')).toHaveText('Untitled design');
  await page.getByRole('button', { name: 'Lettering', exact: true }).click();
  await expect(page.getByRole('textbox', { name: /^Words of the lettering/ })).toBeFocused();
  await page.keyboard.type('Tarn End');
  await page.keyboard.press('Escape');
  await expect(layer(page, 'Tarn End')).toBeVisible();
  await addShape(page, 'Badge');
  await saved(page);
  for (const one of (await documentOf(app)).layers) {
    await layer(page, one.name).click();
    expect(Number(await page.getByRole('textbox', { name: 'Width, mm' }).inputValue())).toBeLessThan(90.5);
    expect(Number(await page.getByRole('textbox', { name: 'From top, mm' }).inputValue())).toBeGreaterThan(0);
  }
  // Another size for the same design, without leaving it.
  await page.getByRole('button', { name: 'Add a target' }).click();
  await page.getByRole('menuitem', { name: 'A size of your own' }).click();
  await page.getByRole('button', { name: 'px', exact: true }).last().click();
  await page.getByRole('textbox', { name: 'Width' }).last().fill('900');
  await page.getByRole('textbox', { name: 'Height' }).last().fill('600');
  await page.keyboard.press('Enter');
  await expect(page.locator('ks-target-cards .card')).toHaveCount(2);
  await expect(page.locator('ks-stage')).toContainText('900 × 600 px');
  await saved(page);
  await page.locator('.stations nav button', { hasText: 'Files' }).click();
  await page.getByRole('button', { name: /^Make 2 print files/ }).click();
  await expect
    .poll(async () => {
      const { id } = (await app.house.designs.list(SELLER)).at(-1)!;
      const files = await app.house.outputs.printFilesOf(SELLER, id);
      const sizes = files.map(async (file) => {
        const { width, height } = await sharp(
          await (await page.request.get(`${app.address}/api/print-files/${file.id}/content`)).body(),
        ).metadata();
        return [width, height];
      });
      return Promise.all(sizes);
    })
    .toEqual(
      expect.arrayContaining([
        [1069, 1417],
        [900, 600],
      ]),
    );
});

test('a number that is entered stays; entered again it changes nothing, arrow keys go on from it, and a comma is understood', async ({
  page,
  app,
}) => {
  await openNewDesign(page, app.address);
  await addShape(page, 'Badge');
  const field = page.getByRole('textbox', { name: 'From top, mm' });
  await field.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('33', { delay: 120 });
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('33');
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('33');
  await page.keyboard.press('ArrowUp');
  await expect(field).toHaveValue('34');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('12,5', { delay: 120 });
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('12.5');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('1,200', { delay: 120 });
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('“1,200” can be 1200 or 1.2');
  await page.getByRole('button', { name: '1.2', exact: true }).click();
  await expect(field).toHaveValue('1.2');
  await saved(page);
  const shape = (await documentOf(app)).layers.at(-1)!;
  expect(shape.place.y - shape.place.height / 2).toBeCloseTo(1.2, 3);
});

test('one target moves, hides and recolours a layer for itself, and drops that again', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.getByRole('button', { name: 'Add a target' }).click();
  await page.getByRole('searchbox', { name: 'Search requirements' }).fill('mug 2480');
  await page.getByRole('menuitem', { name: /Mug wrap/ }).click();
  await addShape(page, 'Badge');
  await page.getByRole('button', { name: /^Only Mug wrap/ }).click();
  await fill(page, 'From top, mm', '5');
  await fill(page, 'Fill, hex', '#112233');
  await expect(page.locator('ks-reach-details .own')).toContainText('moved, recoloured');
  await expect(page.locator('ks-target-cards li').nth(1)).toContainText('one layer differs');
  await page.getByRole('button', { name: 'Hide Badge' }).click();
  await saved(page);
  const { layers, targets } = await documentOf(app);
  expect(layers[1]).toMatchObject({ hidden: false });
  expect(targets[1].layers?.[layers[1].id]).toMatchObject({
    hidden: true,
    colours: { [(layers[1] as { fill: string }).fill]: '#112233' },
  });
  await page.locator('ks-target-cards .card').first().click();
  await expect(page.getByRole('textbox', { name: 'Fill, hex' })).not.toHaveValue('#112233');
  await page.locator('ks-target-cards .card').nth(1).click();
  await page.getByRole('button', { name: 'As everywhere' }).click();
  await saved(page);
  expect((await documentOf(app)).targets[1].layers).toEqual({});
});

test('layers are copied to another design, and a picture comes from the clipboard', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await addShape(page, 'Heart');
  await page.locator('ks-stage .table').focus();
  // The clipboard itself belongs to the browser: what it is given and what it gives goes through its own events.
  const copied = await page.evaluate(() => {
    const data = new DataTransfer();
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }),
    );
    return Object.fromEntries([...data.types].map((type) => [type, data.getData(type)]));
  });
  await saved(page);
  await page.goto(app.address);
  await page.getByRole('button', { name: 'Start from …' }).click();
  await page.getByRole('menuitem', { name: 'An empty canvas' }).click();
  await chooseCanvas(page);
  await expect(page.locator('.stations h1')).toHaveText('Untitled design');
  await expect(page.locator('.paper')).toBeVisible();
  await page.evaluate((given) => {
    const data = new DataTransfer();
    for (const [type, text] of Object.entries(given)) data.setData(type, text);
    document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, copied);
  await expect(layer(page, 'Heart')).toBeVisible();
  await page.evaluate(async () => {
    const canvas = new OffscreenCanvas(80, 60);
    const context = canvas.getContext('2d')!;
    context.fillStyle = '#c2552b';
    context.fillRect(0, 0, 80, 60);
    const data = new DataTransfer();
    data.items.add(new File([await canvas.convertToBlob()], 'image.png', { type: 'image/png' }));
    document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(layer(page, 'Pasted picture')).toBeVisible();
  await saved(page);
  expect((await documentOf(app)).layers.map((one) => one.kind)).toEqual(['shape', 'picture']);
});

test('a design becomes a starting point and a file, and comes back from both', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.getByRole('button', { name: 'Lettering', exact: true }).click();
  await expect(page.getByRole('textbox', { name: /^Words of the lettering/ })).toBeFocused();
  await page.keyboard.type('Tarn End');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'This design as a file' }).click();
  await page.getByRole('menuitem', { name: /^Keep as a starting point/ }).click();
  await expect.poll(async () => (await documentOf(app)).template).toBe(true);
  const first = await documentOf(app);
  await page.getByRole('button', { name: 'This design as a file' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: /kettle\.zip/ }).click();
  const file = await (await download).path();

  await page.goto(app.address);
  await page.getByRole('button', { name: 'Start from …' }).click();
  await page.getByRole('menuitem', { name: 'A starting point' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Fog signal' }).click();
  await page.getByLabel('Name of the new design').fill('Drizzle');
  await page.getByLabel('Words in place of “Tarn End”').fill('Mostly Drizzle, Regrettably');
  await page.getByRole('button', { name: 'Make the design' }).click();
  await expect(page.locator('.stations h1')).toHaveText('Drizzle');
  const filled = await documentOf(app);
  expect(filled.layers.map((one) => (one.kind === 'text' ? one.text : one.kind))).toEqual([
    'picture',
    'Mostly Drizzle, Regrettably',
  ]);
  expect(filled.layers[1].place.x).toBe(first.layers[1].place.x);
  expect(filled.layers[1].place.width).toBeLessThanOrEqual(first.layers[1].place.width + 1e-6);

  await page.goto(app.address);
  await page
    .locator('input[aria-label="Design files"]')
    .setInputFiles({ name: 'Fog-signal.kettle.zip', mimeType: 'application/zip', buffer: await readFile(file) });
  await expect(page.locator('.stations h1')).toHaveText('Fog signal');
  expect(await documentOf(app)).toEqual(first);
});
