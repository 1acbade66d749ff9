import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { expect, openDemo, saved, test } from './kettle.js';

test('one press makes what is missing for what is shown, and one package holds it, named by a pattern', async ({
  page,
  app,
}) => {
  // Three designs by file, for a requirement of one's own in CMYK.
  const requirement = await app.house.requirements.add('one', {
    channel: 'Hobnail',
    name: 'Transfer',
    product: 'T-shirt',
    width: 60,
    height: 70,
    unit: 'mm',
    dpi: 300,
    mode: 'cmyk',
    transparency: 'allowed',
    fileTypes: ['tiff'],
    maxBytes: null,
    sizeRule: 'exact',
    safeInsetMm: 2,
    placement: { rule: 'fit', anchor: 'centre', scale: 1, offsetX: 0, offsetY: 0 },
    colourways: [{ name: 'White', hex: '#ffffff' }],
    note: '',
    mirrored: true,
    process: 'transfer',
  });
  for (const name of ['Mostly Drizzle', 'Fog Signal', 'Isobars'])
    await app.house.designs.add({ owner: 'one' }, {
      version: 1,
      name,
      field: { width: 60, height: 70 },
      targets: [{ requirementId: requirement.id }],
      layers: [
        {
          kind: 'shape',
          id: 's',
          name: 'Disc',
          shape: 'ellipse',
          parameters: {},
          fill: '#c8472d',
          outline: null,
          opacity: 1,
          hidden: false,
          place: { x: 20, y: 25, width: 24, height: 24, turn: 0, flipX: false, flipY: false },
        },
      ],
    } as never);
  await page.goto(app.address);
  await page.getByRole('searchbox', { name: 'Show designs with these words' }).pressSequentially('fog', { delay: 130 });
  await expect(page.getByRole('button', { name: /^Make what is missing/ })).toContainText('1');
  await page.getByRole('button', { name: 'Show all' }).click();
  await page.getByRole('button', { name: /^Make what is missing/ }).click();
  const run = page.getByRole('region', { name: 'The run' });
  await expect(run).toContainText('All 3 files made');
  await run.getByRole('button', { name: 'Put away' }).click();

  await page.getByRole('button', { name: 'Package …' }).click();
  const dialog = page.getByRole('dialog');
  const pattern = dialog.getByRole('textbox', { name: 'Files are named' });
  await pattern.click();
  await page.keyboard.press('Control+A');
  for (const letter of '{requirement} {design') await page.keyboard.type(letter, { delay: 110 });
  await expect(dialog.getByRole('alert')).toContainText('brace');
  await page.keyboard.type('}', { delay: 110 });
  await expect(dialog.getByRole('list', { name: 'Examples' })).toContainText('Transfer Mostly-Drizzle.png');
  await dialog.getByRole('button', { name: 'Pack what is made' }).click();
  await expect(dialog.getByRole('list', { name: 'Files in the package' }).locator('li')).toHaveCount(3);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('link', { name: 'Download the ZIP' }).click(),
  ]);
  const inside = unzipSync(new Uint8Array(await readFile(await download.path())));
  expect(Object.keys(inside)).toEqual([
    'Hobnail/Transfer Fog-Signal.tif',
    'Hobnail/Transfer Isobars.tif',
    'Hobnail/Transfer Mostly-Drizzle.tif',
    'manifest.csv',
    'manifest.json',
    'README.txt',
  ]);
  const { space, hasAlpha, width, density } = await sharp(
    Buffer.from(inside['Hobnail/Transfer Isobars.tif']),
  ).metadata();
  expect([space, hasAlpha, width, density]).toEqual(['cmyk', true, 709, 300]);
  // Mirrored: what lies left on the canvas is right in the file.
  const { data, info } = await sharp(Buffer.from(inside['Hobnail/Transfer Isobars.tif']))
    .pipelineColourspace('cmyk')
    .toColourspace('cmyk')
    .raw()
    .toBuffer({ resolveWithObject: true });
  const alphaAt = (x: number): number => data[(295 * info.width + x) * info.channels + 4];
  expect([alphaAt(236), alphaAt(709 - 236)]).toEqual([0, 255]);
});

test('the checks are walked through by keyboard, seen as printed, accepted with a reason, and come back with the art', async ({
  page,
  demo,
}) => {
  await openDemo(page, demo, 'Rain Gauge Regulars', 'artwork');
  await page.keyboard.press('3');
  const list = page.getByRole('listbox', { name: /Findings of all targets/ });
  await expect(list.getByRole('option').first()).toBeVisible();
  await list.focus();
  const before = await list.getByRole('option', { selected: true }).textContent();
  await page.keyboard.press('ArrowDown');
  await expect(list.getByRole('option', { selected: true })).not.toHaveText(before!);
  await page.keyboard.press('ArrowUp');
  const title = (await list.getByRole('option', { selected: true }).locator('b').textContent())!;

  // As printed: the picture is another one, and the inks are read under the pointer.
  await page.getByRole('button', { name: 'Side by side' }).click();
  const print = page.getByRole('img', { name: /as it will be printed/ });
  await expect(print).toBeVisible();
  await expect(page.getByText('Working …')).toHaveCount(0);
  const box = (await print.boundingBox())!;
  await expect
    .poll(async () => {
      await page.mouse.move(box.x + box.width / 2 + 2, box.y + box.height / 2);
      await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 + 2);
      return page
        .locator('.probe')
        .textContent({ timeout: 500 })
        .catch(() => '');
    })
    .toMatch(/C \d+ M \d+ Y \d+ K \d+/);

  await page.getByRole('button', { name: 'Take it as it is …' }).click();
  await page.keyboard.type('the client wants it so', { delay: 110 });
  await page.keyboard.press('Enter');
  await expect(list.getByRole('option').last()).toContainText(title);
  await expect(list.getByRole('option').last()).toContainText('accepted');
  await saved(page);
  await page.reload();
  await expect(list.getByRole('option').last()).toContainText('accepted');
  // Others look at this design too: it is as it was.
  await list.getByRole('option').last().click();
  await page.getByRole('button', { name: 'Look at it again' }).click();
  await expect(page.getByText('accepted', { exact: true })).toHaveCount(0);
  await saved(page);
});

test('a requirement’s set goes out as a table, is changed in a spreadsheet, and comes back after a look at what changes', async ({
  page,
  app,
}) => {
  await page.goto(`${app.address}/requirements`);
  const take = async (text: string): Promise<void> => {
    await page
      .getByLabel('Requirements as CSV or JSON')
      .setInputFiles({ name: '50% off.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  };
  await take('channel;name;width;height;unit;dpi\nLarkpost;Apron;30,5;40;cm;abc\n');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('alert')).toContainText('Row 2, dpi');
  await expect(dialog.getByRole('button', { name: 'Take it in' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Leave it' }).click();
  // It fades; the next one would stand beside it.
  await expect(dialog).toHaveCount(0);
  await take('channel;name;width;height;unit;dpi\nLarkpost;Apron;30,5;40;cm;300\n');
  await expect(dialog).toContainText('1 new');
  await dialog.getByRole('button', { name: 'Take it in' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByRole('button', { name: /Apron/ })).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'CSV', exact: true }).click(),
  ]);
  const csv = (await readFile(await download.path())).toString('utf8');
  expect(csv).toContain('Larkpost,Apron,,30.5,40,cm,300');
  await take(csv.replace(',300,', ',150,'));
  await expect(dialog).toContainText(/dpi:\s*300\s*→ 150/);
});
