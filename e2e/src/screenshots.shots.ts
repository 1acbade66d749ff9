import { fileURLToPath } from 'node:url';
import { expect, openDemo, test } from './kettle.js';

// Takes the pictures of docs/screenshots from the demo data: npm run shots -w @kettle/e2e

const FOLDER = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));

test('pictures of the main views', async ({ page, demo }) => {
  test.setTimeout(180_000);
  const shot = (name: string) => page.screenshot({ path: `${FOLDER}${name}.png` });
  const still = () => page.waitForFunction(() => [...document.images].every((image) => image.complete));
  await page.goto(demo.address);
  await expect(page.getByText('Making')).toHaveCount(0, { timeout: 90_000 });
  await still();
  await shot('job-sheet');

  await openDemo(page, demo, 'Mostly Drizzle', 'artwork');
  await page.locator('[data-layer]').nth(2).click();
  await page.waitForTimeout(800);
  await shot('bench');
  await openDemo(page, demo, 'Fog Signal', 'artwork');
  await page.getByRole('button', { name: 'Lettering', exact: true }).click();
  await expect(page.locator('[data-layer]')).toHaveCount(2);
  await page.getByRole('textbox', { name: 'Text' }).fill('Mind the rocks');
  await expect(page.locator('[data-layer]').nth(1)).toContainText('Mind the rocks');
  await page.getByRole('textbox', { name: 'Bend, °' }).fill('-50');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'From top, mm' }).fill('350');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /Face/ }).click();
  await page.waitForTimeout(2500);
  await shot('lettering');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.locator('[data-layer]').nth(1).focus();
  await page.keyboard.press('Delete');
  await openDemo(page, demo, 'Barometer Falling', 'fit');
  await page.getByRole('button', { name: /^Mug wrap/ }).click();
  await page.waitForTimeout(800);
  await shot('fit');
  await openDemo(page, demo, 'Rain Gauge Regulars', 'checks');
  await page.waitForTimeout(800);
  await shot('checks');
  await openDemo(page, demo, 'Fog Signal', 'files');
  await page.getByRole('button', { name: 'why?' }).click();
  await page.waitForTimeout(500);
  await shot('certificate');

  await openDemo(page, demo, 'Mostly Drizzle', 'mockups');
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const set = page.getByRole('group', { name: 'Colours of the set' });
  for (const colour of ['Soot', 'Teal', 'Brick']) await set.getByRole('button', { name: colour }).click();
  await page.getByRole('button', { name: 'Make 3 pictures' }).click();
  await expect(page.locator('a.picture')).toHaveCount(3, { timeout: 60_000 });
  await still();
  await page.mouse.move(640, 300);
  await page.waitForTimeout(1200);
  await shot('mockup');
  await openDemo(page, demo, 'Fog Signal', 'mockups');
  await page.getByRole('button', { name: /Mug, middle/ }).click();
  await expect(page.locator('ks-scene-view .readout')).toContainText('61.1');
  await page.getByRole('group', { name: 'Product colour' }).getByRole('button', { name: 'Harbour' }).click();
  await page.waitForTimeout(4000);
  await page.mouse.move(400, 20);
  await page.waitForTimeout(400);
  await shot('mockup-mug');

  await page.goto(`${demo.address}/requirements`);
  await expect(page.locator('.preview')).toBeVisible();
  await page.waitForTimeout(500);
  await shot('requirements');
});
