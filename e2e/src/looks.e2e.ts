import type { Page } from '@playwright/test';
import { SELLER } from '@kettle/server';
import sharp from 'sharp';
import { expect, forgetCopies, openCopy, saved, test } from './kettle.js';

test.afterEach(forgetCopies);

/** Greens of the stage, every sixteenth pixel. */
async function stage(page: Page): Promise<number[]> {
  return page.locator('ks-scene-view canvas').evaluate((surface: HTMLCanvasElement) => {
    const { data } = surface.getContext('2d')!.getImageData(0, 0, surface.width, surface.height);
    return Array.from({ length: data.length / 64 }, (_, i) => data[i * 64 + 1]);
  });
}
/** Mean of the absolute difference between two pictures of the stage, in levels. */
const apart = (a: readonly number[], b: readonly number[]): number =>
  a.length === b.length ? a.reduce((sum, value, i) => sum + Math.abs(value - b[i]), 0) / a.length : Infinity;

/** The stage once it does not change any more. */
async function settled(page: Page): Promise<number[]> {
  await saved(page);
  let last = await stage(page);
  await expect
    .poll(
      async () => {
        const before = last;
        last = await stage(page);
        return apart(before, last);
      },
      { intervals: [700] },
    )
    .toBe(0);
  return last;
}

/** Shows the design on a blank and waits until the stage has it. */
async function choose(page: Page, id: string, name: string): Promise<void> {
  await page.getByRole('searchbox', { name: 'Search blanks' }).fill(name);
  await page.locator('ks-blank-list .blank').first().click();
  await expect(page.locator('ks-scene-view .frame')).toHaveAttribute('data-blank', id);
}

test('a print looks as its ink, folds and camera make it; before is a press away, and all of it is undone', async ({
  page,
  demo,
}) => {
  const id = await openCopy(page, demo, 'Fog Signal', 'mockups');
  await choose(page, 'tee-front', 'cotton tee, front');
  const look = async () => (await demo.house.designs.get(SELLER, id)).document.scene?.look;
  await expect(page.getByLabel('Ink', { exact: true })).toHaveValue('usual');
  const folds = page.getByRole('slider', { name: /^Folds/ });
  await folds.focus();
  for (let i = 0; i < 12; i++) await folds.press('ArrowRight', { delay: 60 });
  await page.getByLabel('Ink', { exact: true }).selectOption('transfer');
  await saved(page);
  expect(await look()).toEqual({ folds: 1.6, ink: 'transfer' });
  await expect(page.getByRole('slider', { name: /^Folds/ })).toHaveAttribute('aria-valuetext', '160 %');
  // The art itself comes when it is there.
  const yellow = () =>
    page.locator('ks-scene-view canvas').evaluate((surface: HTMLCanvasElement) => {
      const { data } = surface.getContext('2d')!.getImageData(0, 0, surface.width, surface.height);
      let count = 0;
      for (let i = 0; i < data.length; i += 4) if (data[i] - data[i + 2] > 100) count++;
      return count;
    });
  await expect.poll(yellow).toBeGreaterThan(1000);
  const changed = await settled(page);

  // Before, as long as the key is down; the keyboard does what the mouse does.
  const before = page.getByRole('button', { name: 'Hold for before' });
  await before.focus();
  await page.keyboard.down('Space');
  await expect.poll(async () => apart(await stage(page), changed)).toBeGreaterThan(1);
  await page.keyboard.up('Space');
  await expect.poll(async () => apart(await stage(page), changed)).toBeLessThan(0.01);
  // What is only looked at is not saved.
  expect(await look()).toEqual({ folds: 1.6, ink: 'transfer' });

  await page.getByRole('button', { name: 'As usual again' }).click();
  await saved(page);
  expect(await look()).toBeUndefined();
  await expect.poll(async () => apart(await stage(page), changed)).toBeGreaterThan(0.5);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('slider', { name: /^Folds/ })).toHaveAttribute('aria-valuetext', '160 %');
  await expect.poll(async () => apart(await stage(page), changed)).toBeLessThan(0.01);
});

test('a picture of the seller’s own stands behind, out of focus; a server that fails is told and nothing is lost', async ({
  page,
  demo,
}) => {
  const id = await openCopy(page, demo, 'Fog Signal', 'mockups');
  await choose(page, 'tee-front', 'cotton tee, front');
  const green = await sharp({ create: { width: 800, height: 600, channels: 3, background: '#2f7d3a' } })
    .jpeg()
    .toBuffer();
  const file = { name: '50% garden.jpg', mimeType: 'image/jpeg', buffer: green };
  const picker = page.getByLabel('Picture behind the product');
  await page.route('**/api/assets', (route) => route.fulfill({ status: 503, json: { detail: 'Busy. Try again.' } }));
  await picker.setInputFiles(file);
  await expect(page.getByText('“50% garden.jpg”', { exact: false })).toBeVisible();
  await page.unroute('**/api/assets');
  await picker.setInputFiles(file);
  await expect(page.getByRole('button', { name: 'Take the picture behind away' })).toBeVisible();
  const corner = () =>
    page.locator('ks-scene-view canvas').evaluate((surface: HTMLCanvasElement) => {
      const [r, g, b] = surface.getContext('2d')!.getImageData(20, 20, 1, 1).data;
      return g - Math.max(r, b);
    });
  await expect.poll(corner).toBeGreaterThan(30);
  const blur = page.getByRole('slider', { name: 'Picture behind out of focus' });
  await blur.focus();
  for (let i = 0; i < 4; i++) await blur.press('ArrowRight', { delay: 120 });
  await saved(page);
  const scene = (await demo.house.designs.get(SELLER, id)).document.scene!;
  expect(scene.behind).toEqual(expect.objectContaining({ kind: 'picture', blur: 0.5, light: 1 }));
  // It is there after a reload, and away by a press.
  await page.reload();
  await expect.poll(corner).toBeGreaterThan(30);
  await page.getByRole('button', { name: 'Take the picture behind away' }).click();
  await expect.poll(corner).toBeLessThan(10);
});

test('art under an elastic is told, and moved clear by a press; measures stand on the picture in the client’s unit', async ({
  page,
  demo,
}) => {
  await openCopy(page, demo, 'Mostly Drizzle', 'mockups');
  await choose(page, 'notebook', 'notebook');
  const frame = page.getByRole('application', { name: /Design on the product/ });
  await expect(page.getByText('lies under a part of the product', { exact: false })).toHaveCount(0);
  await frame.focus();
  for (let i = 0; i < 15; i++) {
    await page.keyboard.press('ArrowRight', { delay: 120 });
  }
  await expect(page.getByText('lies under a part of the product', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Move it clear' }).click();
  await expect(page.getByText('lies under a part of the product', { exact: false })).toHaveCount(0);
  await page.getByLabel('Measures of the ink').selectOption('cm');
  const over = page.locator('ks-scene-view img.measures');
  await expect(over).toBeVisible();
  const svg = decodeURIComponent((await over.getAttribute('src'))!);
  expect(svg.match(/[\d.]+ cm/g)!.length).toBeGreaterThanOrEqual(2);
  expect(svg).toContain('below the upper edge');
  await page.getByLabel('Measures of the ink').selectOption('');
  await expect(over).toHaveCount(0);
});
