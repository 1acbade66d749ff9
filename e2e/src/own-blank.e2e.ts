import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Blank } from '@kettle/core/model';
import { viewOf } from '@kettle/core/mockup';
import { BLANKS, packIn, readyBlank, SELLER } from '@kettle/server';
import sharp from 'sharp';
import { expect, forgetCopies, openCopy, test } from './kettle.js';

test.afterEach(forgetCopies);

/** A shirt on a wall as a camera would keep it. */
async function photo(): Promise<Buffer> {
  const blank = JSON.parse(await readFile(join(BLANKS, 'tee-hanger', 'blank.json'), 'utf8')) as Blank;
  const kernel = await readyBlank(packIn(join(BLANKS, 'tee-hanger'), blank), blank, [], viewOf(blank, null, 800));
  const { data, width, height } = kernel.render(
    { garment: '#A5442F', backdrop: '#DDE6E3', inkOpacity: 1, shadow: blank.shadowStrength },
    [],
  );
  return sharp(Buffer.from(data), { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality: 85 })
    .toBuffer();
}

test('a photo becomes a blank in one sitting, survives a reload half-way, and is printed on', async ({
  page,
  demo,
}) => {
  const id = await openCopy(page, demo, 'Fog Signal', 'mockups');
  await page.getByRole('button', { name: 'From a photo …' }).click();
  await expect(page.getByRole('heading', { name: 'A blank from your photo' })).toBeVisible();
  // Something that is no photo is told, and nothing is lost by it.
  const picker = page.getByLabel('Photo', { exact: true });
  await picker.setInputFiles({
    name: 'drawing.svg',
    mimeType: 'image/svg+xml',
    buffer: Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9z"/></svg>'),
  });
  await expect(page.getByText('A blank is made of a photo. This file is a drawing.')).toBeVisible();
  await picker.setInputFiles({ name: 'hanger.jpg', mimeType: 'image/jpeg', buffer: await photo() });
  const surface = page.locator('ks-picture-view canvas');
  await expect(surface).toBeVisible();

  // Two strokes over the sleeves take the shirt off its wall.
  const box = (await surface.boundingBox())!;
  const side = Math.min(box.width, box.height) - 36;
  const at = (x: number, y: number) =>
    [box.x + box.width / 2 + (x - 0.5) * side, box.y + box.height / 2 + (y - 0.5) * side] as const;
  for (const [from, to] of [
    [at(0.3, 0.42), at(0.36, 0.36)],
    [at(0.7, 0.42), at(0.64, 0.36)],
  ]) {
    await page.mouse.move(...from);
    await page.mouse.down();
    await page.mouse.move(...to, { steps: 5 });
    await page.mouse.up();
  }
  await page.reload();
  await expect(surface).toBeVisible();

  // The area: a corner by mouse, another by keyboard, one step back.
  await page.getByRole('button', { name: /2 Where it is printed/ }).click();
  const points = page.locator('ks-area-overlay .point');
  await expect(points).toHaveCount(4);
  const first = (await points.first().boundingBox())!;
  await page.mouse.move(first.x + 9, first.y + 9);
  await page.mouse.down();
  await page.mouse.move(first.x + 20, first.y + 16, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await points.first().boundingBox())!.x).toBeGreaterThan(first.x + 8);
  await points.nth(2).focus();
  const third = (await points.nth(2).boundingBox())!;
  await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => (await points.nth(2).boundingBox())!.y).toBeGreaterThan(third.y + 4);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await points.nth(2).boundingBox())!.y).toBeCloseTo(third.y, 0);
  // Crossed corners are told before anything is made.
  await points.nth(1).focus();
  for (let n = 0; n < 20; n++) await page.keyboard.press('Shift+ArrowLeft');
  await expect(page.getByText(/corners of the print area are crossed/).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep the blank' })).toBeDisabled();
  for (let n = 0; n < 20; n++) await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Keep the blank' })).toBeEnabled();

  const name = page.getByLabel('Name', { exact: true });
  await name.fill('');
  await name.pressSequentially('Hanger at home', { delay: 110 });
  await page.getByRole('button', { name: 'Keep the blank' }).click();
  await expect(page.getByText('Kept. It stands among your blanks')).toBeVisible();
  await page.getByRole('button', { name: 'Print on it' }).click();

  // It is chosen, comes in white, and carries the design.
  await expect(page.locator('ks-blank-list .blank[aria-pressed="true"]')).toContainText('Hanger at home');
  await page.getByRole('group', { name: 'Product colour' }).getByRole('button', { name: 'White', exact: true }).click();
  const canvas = page.locator('ks-scene-view canvas');
  const colourAt = (x: number, y: number) =>
    canvas.evaluate(
      (surface: HTMLCanvasElement, [sx, sy]) => [
        ...surface.getContext('2d')!.getImageData(Math.round(sx * surface.width), Math.round(sy * surface.height), 1, 1)
          .data,
      ],
      [x, y],
    );
  // Cloth below the print: light and without a hue. It was brick.
  await expect
    .poll(async () => {
      const [r, g, b] = await colourAt(0.5, 0.82);
      return Math.min(r, g, b) > 120 && Math.max(r, g, b) - Math.min(r, g, b) < 25;
    })
    .toBe(true);
  const own = (await demo.house.blanks.of(SELLER)).find((one) => one.own && one.name === 'Hanger at home')!;
  expect(own.areas[0].widthMm).toBe(300);
  expect((await demo.house.designs.get(SELLER, id)).document.scene?.blankId).toBeDefined();

  // It is changed later, and goes out as a pack.
  await page.getByRole('button', { name: 'Change it …' }).click();
  await expect(page.getByRole('heading', { name: 'Change a blank' })).toBeVisible();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Hanger at home');
  await page.getByRole('button', { name: 'Back' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export it' }).click();
  expect((await download).suggestedFilename()).toMatch(/\.blank\.zip$/);
  // Taken off the list and brought back by one press.
  await page.getByRole('button', { name: 'Take it away' }).click();
  await expect(page.locator('ks-blank-list .blank', { hasText: 'Hanger at home' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.locator('ks-blank-list .blank', { hasText: 'Hanger at home' })).toHaveCount(1);
  // Other tests count the blanks that come with the program.
  await demo.house.blanks.remove(SELLER, own.id);
});
