import sharp from 'sharp';
import { expect, openDemo, test } from './kettle.js';
import { expectNoBarriers as check } from './no-barriers.js';

test.describe('nobody is shut out, light or dark,', () => {
  test('of the job sheet, the requirements and the package', async ({ page, demo }) => {
    await page.goto(demo.address);
    await expect(page.locator('ks-sheet-cell').first()).toBeVisible();
    await check(page, 'job sheet');
    await page.getByRole('button', { name: 'Package …' }).click();
    await expect(page.getByRole('list', { name: 'Examples' })).toBeVisible();
    await check(page, 'package');
    await page.goto(`${demo.address}/requirements`);
    await expect(page.locator('.preview')).toBeVisible();
    await check(page, 'requirements');
  });

  for (const station of ['artwork', 'fit', 'checks', 'files', 'mockups', 'clips', 'hand-over'])
    test(`of the station ${station}`, async ({ page, demo }) => {
      await openDemo(page, demo, 'Mostly Drizzle', station);
      if (station === 'artwork') await page.locator('[data-layer]').first().click();
      await check(page, station);
      if (station === 'checks') {
        await page.getByRole('button', { name: 'Side by side' }).click();
        await expect(page.getByText('Working …')).toHaveCount(0);
        await check(page, 'proof');
      }
    });

  test('of those whom a design is handed to, and of what became of it', async ({ page, demo }) => {
    await openDemo(page, demo, 'Mostly Drizzle', 'hand-over');
    for (const desk of ['Print shop', 'Client’s yes', 'Orders in hand', 'What became of it']) {
      await page.getByRole('button', { name: desk, exact: true }).click();
      await expect(page.getByText('Opening …')).toHaveCount(0);
      await check(page, desk);
    }
    await page.goto(`${demo.address}/channels`);
    await expect(page.getByRole('heading', { name: 'Larkpost Market' })).toBeVisible();
    await check(page, 'channels');
    await page.getByRole('button', { name: /^Hobnail/ }).click();
    await check(page, 'print shop');
    await page.getByRole('button', { name: /^Currencies/ }).click();
    await check(page, 'currencies');
  });

  test('of what stands in front of the stations', async ({ page, demo }) => {
    await openDemo(page, demo, 'Cumulus Appreciation', 'checks');
    await page.getByRole('button', { name: 'On every colour' }).click();
    await expect(page.locator('ks-colour-wall .wall li').first()).toBeVisible();
    await check(page, 'every colour');
    await openDemo(page, demo, 'Cumulus Appreciation', 'artwork');
    await page.locator('[data-layer]').first().click();
    await page.getByRole('button', { name: 'Make it fit for cloth' }).click();
    await expect(page.locator('ks-picture-view canvas')).toBeVisible();
    await check(page, 'fit for cloth');
    for (const step of [/^Edge/, /^Tone/, /^Strokes/]) await page.getByRole('button', { name: step }).first().click();
    await check(page, 'fit for cloth, strokes');
    await page.getByRole('button', { name: /Leave it as it was|Back to the canvas/ }).click();
  });

  test('of picture sets and of the page where a photo becomes a blank', async ({ page, demo }) => {
    await page.goto(demo.address);
    await expect(page.locator('ks-sheet-cell').first()).toBeVisible();
    await page.getByRole('button', { name: 'Pictures …' }).click();
    await page.getByRole('button', { name: /^Tees/ }).click();
    await page.getByRole('button', { name: 'Copy it to change it' }).click();
    await expect(page.getByLabel('Name', { exact: true })).toBeVisible();
    await check(page, 'picture sets');
    await page.goto(`${demo.address}/blanks/new`);
    await expect(page.getByRole('heading', { name: 'A blank from your photo' })).toBeVisible();
    await check(page, 'own blank, begun');
    const pixels = { width: 120, height: 120, channels: 3, background: '#a5442f' } as const;
    const buffer = await sharp({ create: pixels }).jpeg().toBuffer();
    await page.getByLabel('Photo', { exact: true }).setInputFiles({ name: 'a.jpg', mimeType: 'image/jpeg', buffer });
    await expect(page.locator('ks-picture-view canvas')).toBeVisible();
    await check(page, 'own blank, product');
    await page.getByRole('button', { name: /2 Where it is printed/ }).click();
    await page.getByRole('button', { name: 'Round', exact: true }).click();
    await check(page, 'own blank, area');
  });

  test('of what opens over the bench', async ({ page, demo }) => {
    await openDemo(page, demo, 'Mostly Drizzle', 'artwork');
    await page.getByRole('button', { name: 'Graphic', exact: true }).click();
    await expect(page.locator('.pieces svg').first()).toBeVisible();
    await check(page, 'graphics');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'History' }).click();
    await expect(page.locator('ks-history-dialog img').first()).toBeVisible();
    await check(page, 'history');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Brush', exact: true }).click();
    await check(page, 'brush');
    await page.getByRole('button', { name: 'Put the brush away' }).click();
    await page.getByRole('button', { name: 'Shape', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Star', exact: true }).click();
    await page.getByRole('button', { name: 'Radial', exact: true }).click();
    await page.getByRole('button', { name: 'Stop 1: mix' }).click();
    await check(page, 'gradient');
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
  });
});
