import { SELLER } from '@kettle/server';
import type { Page } from '@playwright/test';
import { chooseCanvas, ART_FILE, expect, openDemo, openNewDesign, saved, test } from './kettle.js';

/** Holds back every answer to some calls for a while, as a slow server or a long way does. */
async function slow(page: Page, what: RegExp, milliseconds: () => number): Promise<void> {
  await page.route(what, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, milliseconds()));
    await route.continue().catch(() => undefined);
  });
}

test('words typed at a person’s pace all arrive while the server is slow, in the box and on the stage, and nothing typed elsewhere is lost', async ({
  page,
  app,
}) => {
  await openNewDesign(page, app.address);
  let [count, put] = [0, 0];
  await slow(page, /\/api\/lettering$/, () => [420, 90, 260, 610][count++ % 4]);
  await slow(page, /\/api\/designs\/[^/]+$/, () => [300, 900, 150][put++ % 3]);
  const sentence = 'The quick brown fox jumps over it';
  await page.getByRole('button', { name: 'Lettering' }).click();
  const onStage = page.getByRole('textbox', { name: /Words of the lettering/ });
  await expect(onStage).toBeFocused();
  for (const [i, letter] of [...sentence].entries()) await page.keyboard.type(letter, { delay: 110 + ((i * 23) % 60) });
  await expect(onStage).toHaveValue(sentence);
  await page.keyboard.press('Escape');
  const box = page.getByRole('textbox', { name: 'Words', exact: true });
  await expect(box).toHaveValue(sentence);
  // And once more in the box beside the stage, from its end.
  await box.click();
  await page.keyboard.press('Control+End');
  for (const [i, letter] of [...' again'].entries()) await page.keyboard.type(letter, { delay: 120 + ((i * 31) % 50) });
  await expect(box).toHaveValue(`${sentence} again`);
  // A name, while the answers of all that are still on their way.
  const name = page.getByRole('textbox', { name: 'Name', exact: true });
  await name.click();
  await page.keyboard.press('Control+A');
  for (const letter of 'Fox, quick') await page.keyboard.type(letter, { delay: 130 });
  await expect(name).toHaveValue('Fox, quick');
  await page.keyboard.press('Tab');
  await saved(page);
  const [design] = await app.house.designs.list(SELLER);
  const layer = design.document.layers.find((one) => one.kind === 'text')!;
  expect([layer.kind === 'text' && layer.text, layer.name]).toEqual([`${sentence} again`, 'Fox, quick']);
  await page.reload();
  await expect(page.locator('[data-layer]')).toHaveCount(2);
});

test('what is typed into a field goes to the layer it was typed for, though another is pressed at once', async ({
  page,
  app,
}) => {
  await openNewDesign(page, app.address);
  await page.getByRole('button', { name: 'Shape', exact: true }).click();
  await page.getByRole('menuitem', { name: /Rectangle/i }).click();
  await expect(page.locator('[data-layer]')).toHaveCount(2);
  const widths = async () =>
    (await app.house.designs.list(SELLER))[0].document.layers.map((layer) => Math.round(layer.place.width * 10) / 10);
  await saved(page);
  const [picture] = await widths();
  await page.getByRole('textbox', { name: /^Width/ }).click();
  await page.keyboard.type('123');
  await page.locator('[data-layer]').first().click();
  await saved(page);
  await expect.poll(widths).toEqual([picture, 123]);
});

test('two designs opened one after the other share nothing, however late the first one’s answers are', async ({
  page,
  app,
}) => {
  await openNewDesign(page, app.address);
  const first = (await app.house.designs.list(SELLER))[0].id;
  await page.goto(app.address);
  await page
    .locator('ks-sheet-page input[aria-label="Artwork files"]')
    .setInputFiles({ ...ART_FILE, name: 'isobars.svg' });
  await expect(page.locator('.stations h1')).toHaveText('Isobars');
  await saved(page);
  await page.goto(`${app.address}/designs/${first}/artwork`);
  await expect(page.locator('.stations h1')).toHaveText('Fog signal');
  await page.locator('[data-layer]').first().click();
  // The first one's last change is still on its way when the second is opened by the finder, within the quiet time of
  // saving.
  await slow(page, new RegExp(`/api/designs/${first}$`), () => 1200);
  const name = page.getByRole('textbox', { name: 'Name', exact: true });
  await name.fill('Changed at the last moment');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  await page.getByRole('combobox', { name: 'Find a design or requirement' }).click();
  await page.keyboard.type('isob', { delay: 120 });
  await page.getByRole('option', { name: /Isobars/ }).click();
  await expect(page.locator('.stations h1')).toHaveText('Isobars');
  // Nothing of the first is selected here, and the number keys are stations again at once.
  await expect(page.getByRole('heading', { name: 'Design', exact: true })).toBeVisible();
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Print files' })).toBeVisible();
  await expect
    .poll(async () => (await app.house.designs.get(SELLER, first)).document.layers[0].name)
    .toBe('Changed at the last moment');
  const second = (await app.house.designs.list(SELLER)).find((one) => one.id !== first)!;
  expect([second.revision, second.document.name, second.document.layers[0].name]).toEqual([1, 'Isobars', 'Isobars']);
});

test('a design left at the worst moment is printed as it was left', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  const { id } = (await app.house.designs.list(SELLER))[0];
  await slow(page, new RegExp(`/api/designs/${id}$`), () => 800);
  await page.locator('[data-layer]').first().click();
  await page.getByRole('textbox', { name: /^From top/ }).fill('77');
  await page.keyboard.press('Enter');
  // Back to the sheet before the quiet time of saving is over, and the button at once.
  await page.getByRole('link', { name: 'Job sheet' }).first().click();
  await page.getByRole('button', { name: /Make what is missing/ }).click();
  await expect(page.locator('ks-sheet-cell').first()).toContainText('ready');
  const design = await app.house.designs.get(SELLER, id);
  const [file] = await app.house.outputs.printFilesOf(SELLER, id);
  expect([design.revision, file.outOfDate]).toEqual([2, false]);
  const [made] = await app.house.outputStore.ofDesign('print-file', id);
  expect(made.revision).toBe(2);
});

test('a page that is closed on a large change loses nothing', async ({ page, app, context }) => {
  await openNewDesign(page, app.address);
  const { id } = (await app.house.designs.list(SELLER))[0];
  // The server is away, the page is closed on it, and no later page opens the design.
  await page.route(/\/api\/designs\//, (route) => route.abort());
  await page.locator('[data-layer]').first().click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Kept by the browser');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  await expect(page.locator('.stations small')).toHaveText('not saved yet');
  await page.close({ runBeforeUnload: false });
  const next = await context.newPage();
  await next.goto(app.address);
  await expect
    .poll(async () => (await app.house.designs.get(SELLER, id)).document.layers[0].name)
    .toBe('Kept by the browser');
});

test('a drawing whose lengths are points and millimetres is the same on the server at every size as in a browser', async ({
  page,
  app,
}) => {
  const art =
    '<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100"><rect width="100%" height="100%" fill="#f4efe3"/><path d="M10 20H90" stroke="#1f2b4d" stroke-width="3pt"/><circle cx="30" cy="60" r="4mm" fill="#b4532a" stroke="#11564f" stroke-width=".5mm"/>' +
    '<defs><pattern id="p" width="2mm" height="2mm" patternUnits="userSpaceOnUse"><rect width="1mm" height="1mm" fill="#6a3b5b"/></pattern><filter id="f" x="-20%" y="-20%" width="140%" height="140%"><feGaussianBlur stdDeviation="1.5"/></filter></defs>' +
    '<rect x="50" y="45" width=".4in" height="8mm" fill="url(#p)"/><path d="M10 88H90" stroke="#39566e" stroke-width="1pc" stroke-dasharray="2mm 1mm"/><circle cx="80" cy="32" r="6" fill="#f2bd4b" filter="url(#f)"/></svg>';
  const asset = (await (
    await fetch(`${app.address}/api/assets`, { method: 'POST', body: art, headers: { 'X-Filename': 'lengths.svg' } })
  ).json()) as { id: string };
  await page.goto(app.address);
  for (const size of [256, 512, 1024, 2048]) {
    const off = await page.evaluate(
      async ({ text, url, size: side }) => {
        const pixels = async (source: string) => {
          const image = new Image();
          image.src = source;
          await image.decode();
          const context = new OffscreenCanvas(side, side).getContext('2d')!;
          context.drawImage(image, 0, 0, side, side);
          return context.getImageData(0, 0, side, side).data;
        };
        const [ours, theirs] = [await pixels(url), await pixels(`data:image/svg+xml,${encodeURIComponent(text)}`)];
        let count = 0;
        for (let i = 0; i < ours.length; i += 4)
          if (Math.max(...[0, 1, 2, 3].map((c) => Math.abs(ours[i + c] - theirs[i + c]))) > 24) count++;
        return count / (side * side);
      },
      { text: art, url: `/api/assets/${asset.id}/rendition?size=${size}`, size },
    );
    // Edges may fall one pixel differently; a length in the wrong unit shifts whole areas.
    expect(off, `at ${size} px`).toBeLessThan(0.02);
  }
});

test('an empty canvas invites legibly on any cloth', async ({ page, app }) => {
  await page.goto(app.address);
  await page.getByRole('button', { name: 'or start with an empty canvas' }).click();
  await chooseCanvas(page);
  const hint = page.locator('ks-stage .hint p');
  await expect(hint).toHaveText('Drop a picture here, or press Picture, Lettering or Shape below.');
  expect((await hint.boundingBox())!.height).toBeLessThan(90);
  await expect(page.locator('ks-target-cards')).toContainText('not begun');
});

test('the demo’s designs have their pictures, and a design that would be cut off on a product is shown whole and said so', async ({
  page,
  demo,
}) => {
  await expect
    .poll(async () =>
      (await demo.house.sheet.sheet(SELLER)).rows.map((row) => row.pictures).every((count) => count > 0),
    )
    .toBe(true);
  await openDemo(page, demo, 'Fog Signal', 'mockups');
  await expect(page.locator('ks-scene-view .readout')).toContainText('cuts nothing off');
  await page.getByRole('button', { name: 'Show its true size' }).click();
  await expect(page.locator('ks-scene-view .readout')).toContainText('leaves the print area');
  await page.getByRole('button', { name: 'Show it smaller' }).click();
  await expect(page.locator('ks-scene-view .readout')).toContainText('cuts nothing off');
});
