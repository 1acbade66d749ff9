import { boundsOfLayers } from '@kettle/core/document';
import { SELLER } from '@kettle/server';
import sharp from 'sharp';
import { expect, forgetCopies, openCopy, saved, test } from './kettle.js';

test.afterEach(forgetCopies);

test('cloth is printed all over by one press: a target for each panel, seen sewn, with its cut line on the canvas', async ({
  page,
  demo,
}) => {
  // Found where targets are added, not under Mockups alone.
  const id = await openCopy(page, demo, 'Isobars', 'artwork');
  await page.getByRole('button', { name: 'Add a target' }).click();
  await page.getByRole('menuitem', { name: 'All over, cut and sewn …' }).click();
  await page.getByRole('menuitem', { name: /tee, front/i }).click();
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const before = (await demo.house.designs.get(SELLER, id)).document.targets.length;
  await page.getByRole('button', { name: 'All over', exact: true }).click();
  await expect(page.getByRole('button', { name: 'All over', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await saved(page);
  const document = (await demo.house.designs.get(SELLER, id)).document;
  expect(document.targets.length).toBe(before + 4);
  expect([document.scene!.areaId, ...document.scene!.also!.map((one) => one.areaId)].sort()).toEqual([
    'panel-back',
    'panel-front',
    'sleeve-left',
    'sleeve-right',
  ]);

  // Sewn: chest, both sleeves and the shoulders carry the teal of the art on a shirt that was straw.
  const colours = () =>
    page.locator('ks-scene-view canvas').evaluate((surface: HTMLCanvasElement) => {
      const { data } = surface.getContext('2d')!.getImageData(0, 0, surface.width, surface.height);
      return [
        [0.5, 0.6],
        [0.2, 0.35],
        [0.82, 0.35],
        [0.36, 0.2],
      ].map(([x, y]) => {
        // The mean of a patch: the art has lines of other colours.
        const sum = [0, 0, 0];
        for (let j = -12; j <= 12; j++)
          for (let i = -12; i <= 12; i++) {
            const at = ((Math.round(y * surface.height) + j) * surface.width + Math.round(x * surface.width) + i) * 4;
            for (let k = 0; k < 3; k++) sum[k] += data[at + k];
          }
        return sum.map((value) => value / 625);
      });
    });
  await expect.poll(async () => (await colours()).filter(([r, g]) => g > r + 8).length).toBe(4);

  // One picture over front and sleeves: it is made large enough for both, and the sleeves have it turned.
  await page.getByRole('button', { name: 'Carry it over the seams' }).click();
  await expect(page.getByText(/goes on over 2 seams; its edges meet within \d\.\d mm/)).toBeVisible();
  await saved(page);
  const carried = (await demo.house.designs.get(SELLER, id)).document;
  const sleeves = carried.scene!.also!.filter(({ areaId }) => areaId.startsWith('sleeve'));
  const turns = sleeves.map(({ requirementId }) => {
    const target = carried.targets.find((one) => one.requirementId === requirementId)!;
    return Object.values(target.layers!).map(({ place }) => Math.round(place!.turn));
  });
  expect(turns.flat().map(Math.abs)).toEqual(turns.flat().map(() => 59));
  await expect(page.locator('ks-scene-view .readout')).not.toContainText('leaves the print area');

  // The canvas of the front is the panel, in its true size, and what is cut away is told in per cent.
  const front = document.scene!.requirementId!;
  await page.goto(`${demo.address}/designs/${id}/artwork?target=${front}`);
  await expect(page.locator('ks-stage')).toBeVisible();
  await expect(page.getByText('3490 × 4488 px', { exact: false })).toBeVisible();
  await page.goto(`${demo.address}/designs/${id}/checks?target=${front}`);
  await expect(page.getByText(/\d+ % cut away/).first()).toBeVisible();

  // Pressed again nothing is made twice; one press leaves it.
  await page.goto(`${demo.address}/designs/${id}/mockups`);
  await page.getByRole('button', { name: 'All over', exact: true }).click();
  await saved(page);
  expect((await demo.house.designs.get(SELLER, id)).document.targets.length).toBe(before + 4);
  await page.getByRole('button', { name: 'Full front', exact: true }).click();
  await expect(page.getByRole('button', { name: 'All over', exact: true })).toHaveAttribute('aria-pressed', 'false');
  await saved(page);
});

test('art is repeated over every panel, at a size and a distance, on the picture, on the canvas and in the file', async ({
  page,
  demo,
}) => {
  const id = await openCopy(page, demo, 'Barometer Falling', 'mockups');
  await page.getByRole('searchbox', { name: 'Search blanks' }).fill('cotton tee, front');
  await page.locator('ks-blank-list .blank').first().click();
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  await page.getByRole('button', { name: 'All over', exact: true }).click();
  await page.getByLabel('The art covers a panel').selectOption('half-drop');
  const gap = page.getByRole('textbox', { name: 'Gap, mm' });
  await gap.fill('');
  await gap.pressSequentially('40', { delay: 120 });
  await gap.press('Tab');
  const width = page.getByRole('textbox', { name: 'Width, mm' });
  await width.fill('');
  await width.pressSequentially('100', { delay: 120 });
  await width.press('Tab');
  await saved(page);
  const { document } = await demo.house.designs.get(SELLER, id);
  const repeated = document.targets.filter((target) => target.repeat);
  expect(repeated.length).toBe(4);
  for (const { repeat } of repeated) expect(repeat).toEqual({ kind: 'half-drop', gapMm: 40 });
  await expect(page.locator('ks-scene-view .readout')).toContainText('100 × ');

  // The file of the front: what is 140 mm aside lies half a step lower, what is a whole step lower is the same again.
  const front = document.scene!.requirementId!;
  const job = await demo.house.outputs.askForPrintFiles(SELLER, id, [front]);
  await expect.poll(async () => (await demo.house.outputs.job(SELLER, job.id)).state).toBe('done');
  const file = (await demo.house.outputs.printFilesOf(SELLER, id)).find((one) => one.requirementId === front)!;
  const bytes = Buffer.from(await (await fetch(`${demo.address}/api/print-files/${file.id}/content`)).arrayBuffer());
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([3490, 4488]);
  const perMm = info.width / 591;
  const art = boundsOfLayers(document.layers)!;
  const tall = (100 * art.height) / art.width + 40;
  /** How much of the ink around the middle is the same where it is moved to, 0 to 1. */
  const same = (dx: number, dy: number): number => {
    let [alike, inked] = [0, 0];
    for (let y = -60; y < 60; y += 0.7)
      for (let x = -50; x < 50; x += 0.7) {
        const at = (mx: number, my: number): number =>
          data[
            (Math.round(info.height / 2 + my * perMm) * info.width + Math.round(info.width / 2 + mx * perMm)) * 4 + 3
          ];
        const here = at(x, y) > 128;
        if (!here) continue;
        inked++;
        if (at(x + dx, y + dy) > 128) alike++;
      }
    expect(inked).toBeGreaterThan(1000);
    return alike / inked;
  };
  expect(same(140, tall / 2)).toBeGreaterThan(0.9);
  expect(same(0, tall)).toBeGreaterThan(0.9);
  expect(same(140, 0)).toBeLessThan(0.7);

  // Once again is an undo away, or a choice.
  await page.getByLabel('The art covers a panel').selectOption('');
  await saved(page);
  expect((await demo.house.designs.get(SELLER, id)).document.targets.some((target) => target.repeat)).toBe(false);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await demo.house.designs.get(SELLER, id)).document.targets.filter((target) => target.repeat).length).toBe(4);
});

test('croppings are proposed side by side by what draws the eye, and one of them is taken', async ({ page, demo }) => {
  const id = await openCopy(page, demo, 'Cumulus Appreciation', 'mockups');
  await page.getByRole('searchbox', { name: 'Search blanks' }).fill('cotton tee, front');
  await page.locator('ks-blank-list .blank').first().click();
  await expect(page.locator('ks-scene-view .frame')).toHaveAttribute('data-blank', 'tee-front');
  await page.getByRole('button', { name: 'All over', exact: true }).click();
  await page.getByRole('button', { name: 'Compare croppings' }).click();
  const group = page.getByRole('group', { name: /^Croppings of/ });
  const proposed = group.getByRole('button');
  await expect.poll(() => proposed.count()).toBeGreaterThan(2);
  await expect(proposed.first()).toContainText(/middle, keeps \d+ %/);
  const front = async () => {
    const { document } = await demo.house.designs.get(SELLER, id);
    return document.targets.find((target) => target.requirementId === document.scene!.requirementId)!.placement!;
  };
  await saved(page);
  const before = await front();
  await proposed.nth(2).focus();
  await page.keyboard.press('Enter');
  await saved(page);
  const after = await front();
  expect(after.scale).toBeGreaterThanOrEqual(before.scale * 0.99);
  expect([after.scale, after.offsetX, after.offsetY]).not.toEqual([before.scale, before.offsetX, before.offsetY]);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(await front()).toEqual(before);
});
