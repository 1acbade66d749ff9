import { SELLER } from '@kettle/server';
import { readFile } from 'node:fs/promises';
import { decode } from 'fast-png';
import sharp from 'sharp';
import { ART, ART_FILE, expect, fill, keyboard, numberOf, openNewDesign, saved, test } from './kettle.js';

test('a seller drops art and ends with an accepted print file and a shirt picture, by mouse', async ({
  page,
  app,
  larkpost,
}) => {
  await page.goto(app.address);
  await expect(page.getByRole('heading', { name: 'Drop your artwork here' })).toBeVisible();

  // Dropped anywhere on the sheet, it becomes a design named after its file.
  const transfer = await page.evaluateHandle((text) => {
    const data = new DataTransfer();
    data.items.add(new File([text], 'fog-signal.svg', { type: 'image/svg+xml' }));
    return data;
  }, ART.toString());
  await page.dispatchEvent('.sheet', 'dragover', { dataTransfer: transfer });
  await expect(page.getByText('Drop to make a design')).toBeVisible();
  await page.dispatchEvent('.sheet', 'drop', { dataTransfer: transfer });
  await expect(page.locator('.stations h1')).toHaveText('Fog signal');
  await saved(page);

  // Dragged on the canvas: the readout and the numbers follow.
  await page.locator('[data-layer]').first().click();
  const [width, fromTop] = [await numberOf(page, 'Width'), await numberOf(page, 'From top')];
  const paper = (await page.locator('.paper').boundingBox())!;
  const scale = paper.width / 355.6;
  const middle = { x: paper.x + paper.width / 2, y: paper.y + (fromTop + width / 4) * scale };
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x + 3, middle.y + 30, { steps: 4 });
  await page.mouse.move(middle.x + 3, middle.y + 60, { steps: 4 });
  await page.mouse.up();
  // To within a screen pixel, and drawn to the centre line.
  await expect
    .poll(async () => Math.abs((await numberOf(page, 'From top')) - fromTop - 60 / scale))
    .toBeLessThan(1.5 / scale);
  expect(await numberOf(page, 'From centre')).toBe(0);
  await expect(page.locator('ks-stage .readout')).toContainText('centred');
  await expect(page.locator('ks-stage .readout')).toContainText('sharp at any size');

  // Resized from a corner, in proportion.
  const top = await numberOf(page, 'From top');
  const corner = { x: paper.x + paper.width / 2 + (width / 2) * scale, y: paper.y + (top + width / 2) * scale };
  // The pointer says when it is over the handle, which is drawn with the next frame.
  await expect
    .poll(async () => {
      await page.mouse.move(corner.x + 20, corner.y + 20);
      await page.mouse.move(corner.x, corner.y);
      return page.locator('ks-stage .konvajs-content').evaluate((content) => content.style.cursor);
    })
    .toContain('resize');
  await page.mouse.down();
  await page.mouse.move(corner.x - 60, corner.y - 30, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => Math.abs((await numberOf(page, 'Width')) - width + 60 / scale)).toBeLessThan(3 / scale);
  expect((await numberOf(page, 'Width')) / (await numberOf(page, 'Height'))).toBeCloseTo(2, 1);

  // A usual place, then the print file.
  await page.getByRole('button', { name: 'Chest', exact: true }).click();
  await expect(page.locator('ks-stage .readout')).toContainText('280 × 140 mm');
  await saved(page);
  await page.getByRole('button', { name: 'Files' }).click();
  await page.getByRole('button', { name: 'Make this print file' }).click();
  await expect(page.getByRole('heading', { name: 'As Larkpost Market demands' })).toBeVisible();
  await expect(page.locator('tbody tr').filter({ hasText: 'DPI' })).toContainText('300 DPI in both axes');
  await page.locator('tbody tr').filter({ hasText: 'DPI' }).getByRole('button', { name: 'why?' }).click();
  await expect(page.locator('tbody')).toContainText('11,811 whole pixels per metre');

  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe('Fog-signal-Larkpost-Market-Tee-front-4200x4800.png');
  const bytes = await readFile(await file.path());
  const png = decode(bytes);
  expect([png.width, png.height, png.channels]).toEqual([4200, 4800, 4]);
  // Chest: 280 mm wide, its top 40 mm below the upper edge. The disc's middle is 70 mm in and 70 mm down.
  const pixel = (xMm: number, yMm: number) => {
    const i = (Math.round((yMm / 25.4) * 300) * 4200 + Math.round((xMm / 25.4) * 300)) * 4;
    return [...png.data.subarray(i, i + 4)];
  };
  const from = (355.6 - 280) / 2;
  expect(pixel(from + 70, 40 + 70)).toEqual([242, 189, 75, 255]);
  expect(pixel(from + 224, 40 + 70)).toEqual([232, 228, 218, 255]);
  expect(pixel(from + 150, 40 + 4)[3]).toBe(0);

  // The marketplace judges the bytes by its own reader.
  const verdict = await fetch(`${larkpost}/products/tee-front/print-file`, { method: 'POST', body: bytes });
  expect([verdict.status, await verdict.json()]).toEqual([201, { accepted: true, reasons: [] }]);
  const wrong = await fetch(`${larkpost}/products/tote/print-file`, { method: 'POST', body: bytes });
  expect(((await wrong.json()) as { reasons: string[] }).reasons).toEqual([
    'The file is 4200 × 4800 px; this product needs 3150 × 3300 px.',
  ]);

  // On a shirt, in two colours at once.
  await page.getByRole('button', { name: 'Mockups' }).click();
  await expect(page.locator('ks-scene-view .readout')).toContainText('280 × 140 mm');
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const set = page.getByRole('group', { name: 'Colours of the set' });
  await set.getByRole('button', { name: 'Harbour' }).click();
  await set.getByRole('button', { name: 'Brick' }).click();
  await page.getByRole('combobox', { name: 'Size' }).selectOption('1200');
  await page.getByRole('button', { name: 'Make 2 pictures' }).click();
  await expect(page.locator('a.picture')).toHaveCount(2);
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: /Download Fog-signal-Cotton-tee-front-Brick-1200/ }).click();
  const picture = sharp(await readFile(await (await saving).path()));
  expect(await picture.metadata()).toMatchObject({ width: 1200, height: 1200, format: 'jpeg' });

  // Home again, it is on the sheet as ready.
  await page.getByRole('link', { name: 'Job sheet' }).first().click();
  await expect(page.getByRole('button', { name: /Fog signal for Larkpost Market, Tee, front: ready/ })).toBeVisible();
  await expect(page.getByText('2 pictures')).toBeVisible();
});

test('the same by keyboard alone', async ({ page, app }) => {
  await page.goto(app.address);
  await expect(page.getByRole('button', { name: 'Choose a file' })).toBeVisible();
  const { press, tabTo } = keyboard(page);
  const chooser = page.waitForEvent('filechooser');
  await tabTo(/^Choose a file/);
  await press('Enter');
  await (await chooser).setFiles(ART_FILE);
  await expect(page.locator('.stations h1')).toHaveText('Fog signal');
  await expect(page.locator('.paper')).toBeVisible();

  await tabTo(/^Fog signal, layer 1 of 1/);
  await press('Enter');
  const fromTop = await numberOf(page, 'From top');
  await tabTo(/^Canvas\. Arrow keys/);
  await press('Shift+ArrowDown', 3);
  await press('ArrowDown', 1);
  // 31 px of 300 DPI, shown to a tenth of a millimetre.
  const moved = fromTop + (31 * 25.4) / 300;
  await expect.poll(async () => Math.abs((await numberOf(page, 'From top')) - moved)).toBeLessThan(0.11);
  await press('Control+z', 4);
  await expect.poll(async () => Math.abs((await numberOf(page, 'From top')) - fromTop)).toBeLessThan(0.11);
  await press('Control+Shift+Z', 4);
  await expect.poll(async () => Math.abs((await numberOf(page, 'From top')) - moved)).toBeLessThan(0.11);
  await saved(page);

  await press('4');
  await expect(page.getByRole('button', { name: 'Make this print file' })).toBeVisible();
  await tabTo(/^Make this print file/);
  await press('Enter');
  await expect(page.getByRole('heading', { name: 'As Larkpost Market demands' })).toBeVisible();
  const download = page.waitForEvent('download');
  await tabTo(/^Download$/);
  await press('Enter');
  expect((await download).suggestedFilename()).toContain('Tee-front-4200x4800.png');

  await press('5');
  await expect(page.locator('ks-scene-view .readout')).toContainText('mm below the top');
  await tabTo(/^Design on the product/);
  await press('ArrowDown', 5);
  await press('-', 2);
  await saved(page);
  await tabTo(/^Make 1 picture/);
  await press('Enter');
  await expect(page.locator('a.picture')).toHaveCount(1);
});

test('a two-line lettered badge with a shape behind it, from nothing to a print file, by keyboard alone', async ({
  page,
  app,
}) => {
  await page.goto(app.address);
  await expect(page.getByRole('button', { name: 'Choose a file' })).toBeVisible();
  const { press, tabTo } = keyboard(page);
  await tabTo(/^or start with an empty canvas/);
  await press('Enter');
  await expect(page.getByRole('searchbox', { name: 'Search requirements' })).toBeFocused();
  await page.keyboard.type('tee front');
  await press('Enter');
  await expect(page.locator('.stations h1')).toHaveText('Untitled design');

  await tabTo(/^Lettering$/);
  await press('Enter');
  await expect(page.locator('[data-layer]')).toHaveCount(1);
  // The words stand ready to be written over, where they are.
  await expect(page.getByRole('textbox', { name: /^Words of the lettering/ })).toBeFocused();
  await page.keyboard.type('Tarn End');
  await press('Enter');
  await page.keyboard.type('Weather Club');
  await expect(page.locator('[data-layer]').first()).toContainText('Tarn End');
  await press('Escape');
  await expect(page.locator('ks-stage .table')).toBeFocused();
  await tabTo(/^Letter spacing/);
  await page.keyboard.type('4');
  await press('Enter');

  await tabTo(/^Shape$/);
  await press('Enter');
  await expect(page.getByRole('menuitem', { name: 'Rectangle' })).toBeFocused();
  await press('ArrowDown', 8);
  await expect(page.getByRole('menuitem', { name: 'Badge' })).toBeFocused();
  await press('Enter');
  await expect(page.locator('[data-layer]')).toHaveCount(2);
  await tabTo(/^Width, mm/);
  await page.keyboard.type('260');
  await press('Enter');
  await tabTo(/^Fill, hex/);
  await press('Control+a');
  await page.keyboard.type('#f2bd4b');
  await press('Enter');
  await tabTo(/^Badge, layer 2 of 2/);
  await press('Alt+ArrowLeft');
  await expect(page.locator('[data-layer]').first()).toContainText('Badge');
  await tabTo(/^Tarn End/);
  await press('Enter');
  await tabTo(/^Fill, hex/);
  await press('Control+a');
  await page.keyboard.type('#1f2b4d');
  await press('Enter');
  await saved(page);

  await tabTo(/^4?\s*Files/);
  await press('Enter');
  await expect(page.getByRole('button', { name: 'Make this print file' })).toBeVisible();
  await tabTo(/^Make this print file/);
  await press('Enter');
  await expect(page.getByRole('heading', { name: 'As Larkpost Market demands' })).toBeVisible();
  const download = page.waitForEvent('download');
  await tabTo(/^Download$/);
  await press('Enter');
  const png = decode(await readFile(await (await download).path()));
  // Both inks are in the file, the lettering wholly on the badge.
  const count = { gold: 0, navy: 0, other: 0 };
  for (let i = 0; i < png.data.length; i += 4) {
    if (png.data[i + 3] < 255) continue;
    const key =
      png.data[i] === 0xf2 && png.data[i + 2] === 0x4b
        ? 'gold'
        : png.data[i] === 0x1f && png.data[i + 2] === 0x4d
          ? 'navy'
          : 'other';
    count[key]++;
  }
  // A badge 260 mm across is about five million pixels; the letters a good part of a million.
  expect(count.gold).toBeGreaterThan(4_000_000);
  expect(count.navy).toBeGreaterThan(300_000);
  expect(count.other).toBeLessThan(100_000);
});

test('typed numbers, layers and their order survive a reload', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.locator('ks-design-page input[type=file]').setInputFiles({ ...ART_FILE, name: 'second-sheet.svg' });
  await expect(page.locator('[data-layer]')).toHaveCount(2);
  await fill(page, 'Width', '120');
  await fill(page, 'From top', '33.5');
  await fill(page, 'Turn', '15');
  await page.locator('[data-layer]').nth(1).focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page.locator('[data-layer]').first()).toContainText('Second sheet');
  await page.getByRole('button', { name: 'Hide Fog signal' }).click();
  await saved(page);
  await page.reload();
  await expect(page.locator('[data-layer]').first()).toContainText('Second sheet');
  await expect(page.getByRole('button', { name: 'Show Fog signal' })).toBeAttached();
  await page.locator('[data-layer]').first().click();
  expect([await numberOf(page, 'Width'), await numberOf(page, 'Turn')]).toEqual([120, 15]);

  // Closed in the very moment of a change: nothing is lost.
  await fill(page, 'Turn', '40');
  await page.reload();
  await page.locator('[data-layer]').first().click();
  await expect.poll(() => numberOf(page, 'Turn')).toBe(40);
});

test('an earlier revision is brought back, and the later one is an undo away', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.locator('[data-layer]').first().click();
  const width = await numberOf(page, 'Width, mm');
  await fill(page, 'Width, mm', '50');
  await saved(page);
  await page.reload();
  await page.getByRole('button', { name: 'History' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('listitem').first()).toContainText('as it is now');
  await dialog.getByRole('textbox', { name: 'Name of revision 1' }).fill('At its own size');
  await page.keyboard.press('Enter');
  await dialog.getByRole('button', { name: 'With a name' }).click();
  await expect(dialog.getByRole('listitem')).toHaveCount(1);
  await dialog.getByRole('button', { name: 'Bring back revision 1' }).click();
  await page.locator('[data-layer]').first().click();
  await expect.poll(() => numberOf(page, 'Width, mm')).toBe(width);
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect.poll(() => numberOf(page, 'Width, mm')).toBe(50);
  await saved(page);
});

test('two tabs never overwrite each other silently', async ({ page, app, context }) => {
  await openNewDesign(page, app.address);
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.locator('.stations h1')).toHaveText('Fog signal');
  const rename = async (tab: typeof page, name: string) => {
    await tab.getByRole('textbox', { name: 'Name', exact: true }).fill(name);
    await tab.keyboard.press('Enter');
  };
  await rename(page, 'From the first tab');
  await saved(page);
  await rename(other, 'From the second tab');
  await expect(other.getByRole('alert')).toContainText('Changed elsewhere.');
  await expect(other.getByRole('alert')).toContainText('nothing was overwritten');
  await other.getByRole('button', { name: 'Take the newer one' }).click();
  await expect(other.locator('.stations h1')).toHaveText('From the first tab');
  await other.getByRole('button', { name: 'Undo' }).click();
  await expect(other.locator('.stations h1')).toHaveText('From the second tab');
  await saved(other);
});

test('a lost connection is told, and the work is saved when it is back', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.route('**/api/designs/*', (route) =>
    route.request().method() === 'PUT' ? route.abort('connectionrefused') : route.continue(),
  );
  await page.locator('[data-layer]').first().click();
  await fill(page, 'Turn', '25');
  await expect(page.getByRole('alert')).toContainText('Not saved yet.');
  await expect(page.getByRole('alert')).toContainText('The server does not answer');
  await page.unroute('**/api/designs/*');
  await saved(page);
  await expect(page.getByRole('alert')).toHaveCount(0);
  const [design] = await app.house.designs.list(SELLER);
  expect(design.document.layers[0].place.turn).toBe(25);
});
