import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { SELLER, type RunningServer } from '@kettle/server';
import { decode } from 'fast-png';
import sharp from 'sharp';
import { expect, keyboard, openDemo, saved, test } from './kettle.js';

/** A navy ring on cream as a JPEG has it, with the cream inside too. */
const logo = (side = 700): Promise<Buffer> =>
  sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${side}" height="${side}" viewBox="0 0 100 100"><rect width="100" height="100" fill="#f4ead4"/><circle cx="50" cy="50" r="30" fill="none" stroke="#1f2b4d" stroke-width="9"/></svg>`,
    ),
  )
    .jpeg({ quality: 82 })
    .toBuffer();

/** A red disc on a ground of waves. */
const onBusy = async (side = 500): Promise<Buffer> => {
  const data = Buffer.alloc(side * side * 3);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const wave = 40 * Math.sin((x / side) * 31 + Math.sin((y / side) * 23)) + 25 * Math.sin((y / side) * 67);
      const art = Math.hypot(x - side / 2, y - side / 2) < side * 0.3;
      data.set(art ? [196, 52, 40] : [120 + wave, 130 + wave, 100 - wave], (y * side + x) * 3);
    }
  return sharp(data, { raw: { width: side, height: side, channels: 3 } })
    .png()
    .toBuffer();
};

async function openWith(page: Page, address: string, name: string, buffer: Buffer): Promise<void> {
  await page.goto(address);
  await page
    .locator('ks-sheet-page input[aria-label="Artwork files"]')
    .setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
  await expect(page.locator('.paper')).toBeVisible();
  await saved(page);
}

const view = (page: Page) => page.locator('ks-picture-view canvas');
const worked = (page: Page) => expect(page.locator('ks-cut-out header small')).not.toContainText('working');

/** A point of the picture on the screen. */
async function on(page: Page, x: number, y: number): Promise<[number, number]> {
  const box = (await view(page).boundingBox())!;
  const side = Math.min(box.width, box.height) - 36;
  return [box.x + (box.width - side) / 2 + x * side, box.y + (box.height - side) / 2 + y * side];
}

/** Colour of the picture on the screen. */
async function seen(page: Page, x: number, y: number): Promise<number[]> {
  const [px, py] = await on(page, x, y);
  const png = await page.screenshot({ clip: { x: Math.round(px) - 1, y: Math.round(py) - 1, width: 3, height: 3 } });
  const { data } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return [...data.subarray(12, 15)];
}
const near = (colour: number[], wanted: number[], by = 14): boolean =>
  colour.every((value, k) => Math.abs(value - wanted[k]) <= by);

/** Alpha of the newest print file at a share of the art's box around the middle of its ink. */
async function printedAlpha(
  { house }: RunningServer,
  designName: RegExp,
): Promise<{ width: number; alpha: Uint8Array }> {
  const design = (await house.designs.list(SELLER)).find((one) => designName.test(one.document.name))!;
  const job = await house.outputs.askForPrintFiles(SELLER, design.id, [design.document.targets[0].requirementId]);
  await expect.poll(async () => (await house.outputs.job(SELLER, job.id)).state).toBe('done');
  const [file] = await house.outputs.printFilesOf(SELLER, design.id);
  expect(file.accepted).toBe(true);
  const png = decode(await readFile(await house.blobs.localPath(file.sha256)));
  return {
    width: png.width,
    alpha: Uint8Array.from({ length: png.width * png.height }, (_, n) => png.data[n * 4 + 3]),
  };
}

test('a logo on cream loses its ground from the finding on, holes too, and prints without it', async ({
  page,
  app,
}) => {
  await openWith(page, app.address, 'club-ring.jpg', await logo());
  await page.locator('.sheet').click();
  await expect(page.locator('ks-finding-card', { hasText: 'A box of flat colour' })).toBeVisible();
  await page.getByRole('button', { name: 'Take the ground out', exact: true }).click();
  await expect(page.getByText('stands on a flat ground, which is taken out already')).toBeVisible();
  await worked(page);
  const harbour = [31, 43, 77];
  await expect.poll(async () => near(await seen(page, 0.05, 0.05), harbour)).toBe(true);
  expect(near(await seen(page, 0.5, 0.5), [244, 234, 212], 8)).toBe(true);
  await page.getByRole('button', { name: 'Everywhere, holes too' }).click();
  await expect.poll(async () => near(await seen(page, 0.5, 0.5), harbour)).toBe(true);
  // Before and after under one key, and back at a press.
  await page.locator('ks-cut-out h2').click();
  await page.keyboard.down('.');
  await expect.poll(async () => near(await seen(page, 0.5, 0.5), [244, 234, 212], 8)).toBe(true);
  await page.keyboard.up('.');
  await page.getByRole('button', { name: 'The mask itself' }).click();
  await expect.poll(async () => near(await seen(page, 0.5, 0.2), [255, 255, 255], 4)).toBe(true);
  expect(near(await seen(page, 0.5, 0.5), [0, 0, 0], 4)).toBe(true);
  await page.getByRole('button', { name: 'Keep it' }).click();
  await saved(page);
  await expect(page.locator('ks-finding-card', { hasText: 'A box of flat colour' })).toHaveCount(0);
  const { width, alpha } = await printedAlpha(app, /club.ring/i);
  const rows = Array.from({ length: alpha.length / width }, (_, y) => y).filter((y) =>
    alpha.subarray(y * width, (y + 1) * width).some((value) => value > 128),
  );
  const middle = rows[Math.floor(rows.length / 2)];
  expect(alpha[middle * width + Math.floor(width / 2)]).toBe(0);
  // Undone as one step.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('ks-finding-card', { hasText: 'A box of flat colour' })).toBeVisible();
});

test('two strokes take a subject off a busy ground; a reload before it is kept loses nothing', async ({
  page,
  app,
}) => {
  await openWith(page, app.address, 'disc.png', await onBusy());
  await page.locator('.sheet').click();
  await page.getByRole('button', { name: 'Make it fit for cloth' }).click();
  await view(page).waitFor();
  await page.getByRole('button', { name: /^Strokes/ }).click();
  const rub = async (points: [number, number][]): Promise<void> => {
    await page.mouse.move(...(await on(page, ...points[0])));
    await page.mouse.down();
    for (const point of points.slice(1)) await page.mouse.move(...(await on(page, ...point)), { steps: 6 });
    await page.mouse.up();
  };
  await rub([
    [0.4, 0.5],
    [0.6, 0.52],
  ]);
  await page.getByRole('button', { name: 'Drop', exact: true }).click();
  await rub([
    [0.05, 0.05],
    [0.95, 0.05],
    [0.95, 0.95],
  ]);
  await worked(page);
  await expect(page.getByText('1 keep, 1 drop')).toBeVisible();
  const isCut = async (): Promise<boolean> =>
    near(await seen(page, 0.15, 0.5), [31, 43, 77]) && near(await seen(page, 0.5, 0.3), [196, 52, 40]);
  await expect.poll(isCut).toBe(true);
  await page.reload();
  await page.locator('.sheet').click();
  await page.getByRole('button', { name: 'Make it fit for cloth' }).click();
  await expect(page.getByText('1 keep, 1 drop')).toBeVisible();
  await worked(page);
  await expect.poll(isCut).toBe(true);
  await page.getByRole('button', { name: 'Leave it as it was' }).click();
  await expect(page.getByRole('button', { name: 'Make it fit for cloth' })).toBeVisible();
});

test('by keyboard alone: a ground taken out, its tolerance changed, a stroke set point by point, kept', async ({
  page,
  app,
}) => {
  await openWith(page, app.address, 'ring.jpg', await logo(400));
  const { press, tabTo } = keyboard(page);
  await page.locator('.sheet').focus();
  await press('Enter');
  await page.getByRole('button', { name: 'Take the ground out', exact: true }).focus();
  await press('Enter');
  await worked(page);
  await tabTo(/^Tolerance/);
  const before = Number(await page.getByRole('slider', { name: 'Tolerance' }).inputValue());
  // At a person's pace.
  for (let n = 0; n < 4; n++) {
    await page.keyboard.press('ArrowRight', { delay: 60 });
    await page.waitForTimeout(110);
  }
  expect(Number(await page.getByRole('slider', { name: 'Tolerance' }).inputValue())).toBe(before + 2);
  await page.getByRole('button', { name: /^Strokes/ }).focus();
  await press('Enter');
  await view(page).focus();
  await press('ArrowUp', 10);
  await press('Enter');
  await expect(page.getByText('1 keep, 0 drop')).toBeVisible();
  await page.getByRole('button', { name: 'Remove Strokes' }).focus();
  await press('Enter');
  await page.getByRole('button', { name: 'Keep it' }).focus();
  await press('Enter');
  await saved(page);
  await expect(page.getByText('colour taken out')).toBeVisible();
});

test('a slow and a failing server keep the work, and say what is so', async ({ page, app }) => {
  await openWith(page, app.address, 'ring.jpg', await logo(400));
  await page.locator('.sheet').click();
  await page.route('**/api/assets/*/working', (route) => route.abort());
  await page.getByRole('button', { name: 'Make it fit for cloth' }).click();
  await expect(page.getByText('could not be loaded')).toBeVisible();
  await page.unroute('**/api/assets/*/working');
  await page.getByRole('button', { name: 'Try again' }).click();
  await worked(page);
  await page.route('**/api/assets/*/treated', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.continue();
  });
  await page.getByRole('button', { name: 'Keep it' }).click();
  // The picture stays on the canvas as it was until the treated one is there.
  await expect(page.locator('.paper')).toBeVisible();
  await saved(page);
  await expect(page.locator('ks-finding-card', { hasText: 'A box of flat colour' })).toHaveCount(0);
});

test('every colour at once, a version for dark cloth proposed, and both files made', async ({ page, demo }) => {
  await openDemo(page, demo, 'Rain Gauge Regulars', 'checks');
  await page.getByRole('button', { name: 'On every colour' }).click();
  const cells = page.locator('ks-colour-wall .wall li');
  await expect(cells.first()).toBeVisible();
  const lost = async (): Promise<number[]> =>
    (await cells.locator('.lost').allTextContents()).map((text) => Number(/(\d+) % lost/.exec(text)?.[1] ?? 0));
  await expect.poll(async () => (await lost())[0]).toBeGreaterThan(0);
  const first = await lost();
  expect(first).toEqual([...first].sort((a, b) => b - a));
  await page
    .getByRole('article', { name: 'The version for dark cloth' })
    .getByRole('button', { name: 'Propose' })
    .click();
  await expect(page.getByRole('article', { name: 'The version for dark cloth' })).toContainText('A version of its own');
  await saved(page);
  await page.getByRole('button', { name: 'Back', exact: true }).click();
  await expect(
    page.getByRole('list', { name: 'Targets' }).getByRole('button', { name: /for dark cloth/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: /Artwork/ }).click();
  const card = page.locator('ks-target-cards li', { hasText: 'for dark cloth' });
  await card.getByRole('button').first().click();
  await expect(card).toHaveClass(/on/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(card).toHaveCount(0);
});

test('small flat art is redrawn as outlines, with a line around it', async ({ page, app }) => {
  await openWith(
    page,
    app.address,
    'tiny.png',
    await sharp(await logo(160))
      .png()
      .toBuffer(),
  );
  await page.locator('.sheet').click();
  await page.getByRole('textbox', { name: 'Width, mm', exact: true }).fill('220');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Redraw it as outlines' }).click();
  await expect(page.getByText(/parts?; .* differs from the picture/)).toBeVisible();
  await page.getByRole('button', { name: 'Use the outlines' }).click();
  await expect(page.locator('.sheet')).toHaveCount(2);
  await expect(page.locator('ks-finding-card', { hasText: 'Soft print' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Put a line around it' }).click();
  await expect(page.getByRole('textbox', { name: 'Gap, mm' })).toBeVisible();
  await saved(page);
});
