import { SELLER } from '@kettle/server';
import { expect, openDemo, saved, test } from './kettle.js';

test('a set is chosen for designs on the sheet, made in one run, and what changes is missing again', async ({
  page,
  demo,
}) => {
  // The demo’s own files and pictures are made first.
  await page.goto(demo.address);
  await expect(page.locator('ks-sheet-cell').first()).toBeVisible();
  // Two designs by their boxes, then their pictures.
  for (const name of ['Rain Gauge', 'Isobars']) await page.getByLabel(`Select all of ${name}`).click({ force: true });
  await page.getByRole('button', { name: 'Pictures of the selected …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Listing pictures of 2 designs');
  // The shipped set is copied and made smaller: two pictures, at a person's pace.
  await dialog.getByRole('button', { name: /^Prints/ }).click();
  await dialog.getByRole('button', { name: 'Copy it to change it' }).click();
  const name = dialog.getByLabel('Name', { exact: true });
  await name.fill('');
  await name.pressSequentially('Two of a kind', { delay: 110 });
  for (const shot of ['In a room', 'In a room, wide', 'As a card'])
    await dialog.getByRole('button', { name: `Take ${shot} out`, exact: true }).click();
  await dialog.getByLabel('Longest side').selectOption('600');
  await dialog.getByRole('button', { name: 'Use it and make what is missing' }).click();
  await expect(dialog).toHaveCount(0);
  const cell = (design: string) => page.getByRole('button', { name: new RegExp(`^Listing pictures of ${design}`) });
  for (const design of ['Rain Gauge', 'Isobars']) await expect(cell(design)).toHaveText(/2 of 2\s*Two of a kind/);
  await expect(cell('Isobars').locator('img')).toHaveCount(2);

  // On the bench: the set is known, a change makes its pictures missing, one press makes them.
  await openDemo(page, demo, 'Isobars', 'mockups');
  const side = page.getByLabel('Fabric and light');
  await expect(side).toContainText('2 of 2 of the set “Two of a kind”');
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+ArrowDown');
  await saved(page);
  await expect(side).toContainText('0 of 2 of the set');
  await side.getByRole('button', { name: 'Make what is missing' }).click();
  await expect(side).toContainText('2 of 2 of the set');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await saved(page);
});

test('a picture is framed: a shape, the print up close, a box of one’s own by mouse and by keyboard', async ({
  page,
  demo,
}) => {
  const id = await openDemo(page, demo, 'Mostly Drizzle', 'mockups');
  const frame = page.locator('ks-scene-view .frame');
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const shows = page.getByLabel('Picture shows');
  const surface = page.locator('ks-scene-view canvas');
  const size = () => surface.evaluate((canvas: HTMLCanvasElement) => [canvas.width, canvas.height]);
  await shows.selectOption('whole');
  await expect.poll(size).toEqual([800, 1000]);
  await page.getByRole('button', { name: '16:9', exact: true }).click();
  await expect.poll(async () => (await size())[0]).toBe(1000);
  // The stage has the shape of the picture.
  const box = (await frame.boundingBox())!;
  expect(box.width / box.height).toBeCloseTo(16 / 9, 1);

  // Close to the print there is nothing but ink and cloth: no wall in its lower corners, where the art has no light ink.
  await shows.selectOption('detail');
  await page.getByRole('button', { name: '1:1', exact: true }).click();
  await expect.poll(size).toEqual([1000, 1000]);
  await expect
    .poll(() =>
      surface.evaluate((canvas: HTMLCanvasElement) => {
        const { data, width, height } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        // The demo's wall is a light warm grey.
        return [(height - 1) * width, height * width - 1].filter((at) => {
          const [r, g, b] = data.subarray(at * 4, at * 4 + 3);
          return r > 190 && g > 190 && b > 185 && r - b < 25;
        }).length;
      }),
    )
    .toBe(0);

  // A box of one's own: drawn by its corner, moved by the arrow keys, undone in steps.
  await shows.selectOption('box');
  await expect(page.getByRole('button', { name: 'See it as it is made' })).toBeVisible();
  const crop = page.locator('ks-scene-view rect.crop');
  const before = (await crop.boundingBox())!;
  const corner = page.locator('ks-scene-view .handle').last();
  const at = (await corner.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await page.mouse.move(at.x + 70, at.y + 40, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => (await crop.boundingBox())!.width).toBeGreaterThan(before.width + 40);
  await page.getByRole('application').focus();
  const left = (await crop.boundingBox())!.x;
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => (await crop.boundingBox())!.x).toBeGreaterThan(left + 10);
  await saved(page);
  const kept = (await demo.house.designs.get(SELLER, id)).document.scene!.crop!;
  expect(kept.of).toBe('box');
  await page.getByRole('button', { name: 'See it as it is made' }).click();
  await expect.poll(async () => (await size()).join()).not.toBe('1000,1000');

  // The wall fades: its upper edge is as it was, its lower one darker.
  await shows.selectOption('all');
  const walls = () =>
    surface.evaluate((canvas: HTMLCanvasElement) =>
      [4, canvas.height - 5].map((y) => canvas.getContext('2d')!.getImageData(4, y, 1, 1).data[1]),
    );
  await expect.poll(async () => Math.abs((await walls())[0] - (await walls())[1])).toBeLessThan(25);
  await page.getByLabel('The wall fades to another colour').check();
  await expect.poll(async () => (await walls())[0] - (await walls())[1]).toBeGreaterThan(50);
  await page.getByLabel('The wall fades to another colour').uncheck();

  // Two areas at once: the second carries a target of its own, and stays after a reload.
  await shows.selectOption('all');
  const also = page.getByLabel('Left chest at the same time');
  await also.selectOption({ index: 1 });
  await saved(page);
  await page.reload();
  await expect(page.getByLabel('Left chest at the same time')).not.toHaveValue('');
  expect((await demo.house.designs.get(SELLER, id)).document.scene!.also).toHaveLength(1);
  await page.getByLabel('Left chest at the same time').selectOption('');

  // Placed for this scene alone: the print file is as it was.
  const layers = JSON.stringify((await demo.house.designs.get(SELLER, id)).document.layers);
  const targets = JSON.stringify((await demo.house.designs.get(SELLER, id)).document.targets);
  await page.getByLabel('Placed for this scene alone').check();
  await page.getByRole('application').focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.locator('.readout')).toContainText('placed for this scene alone');
  await saved(page);
  const moved = (await demo.house.designs.get(SELLER, id)).document;
  expect(moved.scene!.own!.y).toBeCloseTo(10, 3);
  expect([JSON.stringify(moved.layers), JSON.stringify(moved.targets)]).toEqual([layers, targets]);
  await page.getByRole('button', { name: 'As on the print file' }).click();
  await saved(page);
  expect((await demo.house.designs.get(SELLER, id)).document.scene!.own).toBeUndefined();
});
