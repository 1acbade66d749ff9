import { SELLER } from '@kettle/server';
import { expect, openDemo, saved, test } from './kettle.js';

test('cloth is printed all over by one press: a target for each panel, seen sewn, with its cut line on the canvas', async ({
  page,
  demo,
}) => {
  test.setTimeout(300_000);
  const id = await openDemo(page, demo, 'Isobars', 'mockups');
  await page.getByRole('searchbox', { name: 'Search blanks' }).fill('cotton tee, front');
  await page.locator('ks-blank-list .blank').first().click();
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
  await expect.poll(async () => (await colours()).filter(([r, g]) => g > r + 8).length, { timeout: 120_000 }).toBe(4);

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
