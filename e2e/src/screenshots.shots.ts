import { readFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { artworkPath } from '@kettle/demo';
import type { Blank, PictureLayer } from '@kettle/core/model';
import { viewOf } from '@kettle/core/mockup';
import { BLANKS, packIn, readyBlank, SELLER, type RunningServer } from '@kettle/server';
import sharp from 'sharp';
import { chooseCanvas, expect, openDemo, saved, test } from './kettle.js';

// Takes the pictures of docs/screenshots from the demo data: npm run shots -w @kettle/e2e

const FOLDER = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));

type Shot = (name: string) => Promise<unknown>;

/** Makes a design from nothing, so that the sheet has one: shapes, a graphic, lettering on an arc, guides, a named revision. */
async function makeFogWarden(page: Page, address: string): Promise<void> {
  const rest = (ms: number) => page.waitForTimeout(ms);
  const type = async (label: string, value: string): Promise<void> => {
    await page.getByRole('textbox', { name: label, exact: true }).fill(value);
    await page.keyboard.press('Enter');
  };
  const shape = async (name: string): Promise<void> => {
    await page.getByRole('button', { name: 'Shape', exact: true }).click();
    await page.getByRole('menuitem', { name, exact: true }).click();
  };
  await page.goto(address);
  await page.getByRole('button', { name: 'Start from …' }).click();
  await page.getByRole('menuitem', { name: 'An empty canvas' }).click();
  await chooseCanvas(page);
  await expect(page.locator('.stations h1')).toHaveText('Untitled design');
  await type('Name', 'Fog Warden');
  await shape('Sunburst');
  await type('Width, mm', '250');
  await type('Fill, hex', '#3f5f86');
  await shape('Badge');
  await type('Width, mm', '190');
  await page.getByRole('button', { name: 'Radial', exact: true }).click();
  await type('Stop 1, hex', '#fff3cf');
  await page.getByRole('button', { name: /^Stop 2 at/ }).click();
  await type('Stop 2, hex', '#e2a33a');
  for (const name of ['Sunburst', 'Badge']) {
    await page.locator('.sheet', { hasText: name }).click();
    await page.getByRole('button', { name: 'Centres, left to right' }).click();
    await type('From top, mm', name === 'Badge' ? '75' : '45');
  }
  await page.getByRole('button', { name: 'Graphic', exact: true }).click();
  await page.getByRole('searchbox', { name: 'Search graphics' }).fill('teapot');
  await page.getByRole('dialog').getByRole('button', { name: 'Teapot' }).click();
  await type('Width, mm', '104');
  await type('From top, mm', '122');
  await page.getByRole('button', { name: /^Part 2 of/ }).click();
  await type('Part 2, hex', '#1f2b4d');
  await rest(900);
  await page.getByRole('button', { name: 'Lettering', exact: true }).click();
  await expect(page.getByRole('textbox', { name: /^Words of the lettering/ })).toBeFocused();
  await page.keyboard.type('FOG WARDEN');
  await rest(600);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Arc', exact: true }).click();
  await rest(500);
  await type('Letter size, mm', '38');
  await type('Fill, hex', '#fff3cf');
  await page.getByRole('button', { name: /^Face/ }).click();
  await rest(2500);
  await page.getByRole('searchbox', { name: 'Search faces' }).fill('alfa');
  await page.locator('.face', { hasText: 'Alfa Slab One' }).last().click();
  await rest(800);
  await type('From top, mm', '20');
  await page.locator('ks-stage .table').focus();
  await page.keyboard.press('Enter');
  await rest(600);
  await page.keyboard.press('Escape');
  // Guides, and a layer that has jumped to the middle and to a neighbour.
  const ruler = (await page.locator('ks-ruler').first().boundingBox())!;
  const upright = (await page.locator('ks-ruler').nth(1).boundingBox())!;
  for (const [from, to] of [
    [
      { x: ruler.x + 300, y: ruler.y + 10 },
      { x: ruler.x + 300, y: ruler.y + 400 },
    ],
    [
      { x: upright.x + 10, y: upright.y + 200 },
      { x: upright.x + 262, y: upright.y + 200 },
    ],
  ]) {
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(to.x, to.y, { steps: 5 });
    await page.mouse.up();
  }
  await shape('Star');
  await type('Width, mm', '34');
  await page.keyboard.press('Escape');
  await page.locator('.sheet', { hasText: 'Star' }).click();
  await rest(300);
  const held = JSON.parse((await page.locator('[data-held]').getAttribute('data-held'))!) as { x: number; y: number };
  const surface = (await page.locator('.surface').boundingBox())!;
  await page.mouse.move(surface.x + held.x, surface.y + held.y);
  await page.mouse.down();
  await rest(100);
  await page.mouse.move(surface.x + held.x + 40, surface.y + held.y + 100, { steps: 6 });
  await page.mouse.move(surface.x + held.x + 3, surface.y + held.y + 196, { steps: 6 });
  await rest(300);
  await page.mouse.up();
  await expect(page.locator('.stations small')).toHaveText(/^saved /);
  await page.getByRole('button', { name: 'History' }).click();
  await page
    .getByRole('textbox', { name: /^Name of revision/ })
    .first()
    .fill('For the autumn market');
  await page.keyboard.press('Enter');
  await rest(1800);
  await page.keyboard.press('Escape');
}

/** The wall of colours, and a version for dark cloth beside the one for light cloth. */
async function onEveryColour(page: Page, demo: RunningServer, shot: (name: string) => Promise<unknown>): Promise<void> {
  await openDemo(page, demo, 'Barometer Falling', 'checks');
  await page.getByRole('button', { name: 'On every colour' }).click();
  await expect(page.locator('.wall .lost').first()).toHaveText(/ lost/);
  await page.waitForTimeout(1500);
  await shot('every-colour');
  const dark = page.getByRole('article', { name: 'The version for dark cloth' });
  await dark.getByRole('button', { name: 'Propose' }).click();
  await expect(dark).toContainText('A version of its own');
  await expect(page.locator('ks-colour-wall header p')).not.toContainText('Working');
  await expect(page.locator('.wall .lost').first()).toHaveText(/ lost/);
  await page.waitForTimeout(5000);
  await page.mouse.move(640, 20);
  await shot('versions');
  await dark.getByRole('button', { name: 'Take it away' }).click();
  await page.getByRole('button', { name: 'Back', exact: true }).click();
  await expect(page.locator('.stations small')).toHaveText(/^saved /);
}

/** A lighthouse on a restless ground, taken off it by three strokes. */
async function fitForCloth(page: Page, demo: RunningServer, shot: (name: string) => Promise<unknown>): Promise<void> {
  const side = 1000;
  const ground = Buffer.alloc(side * side * 3);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const wave = 34 * Math.sin(x / 31 + 2 * Math.sin(y / 57)) + 22 * Math.sin(y / 13 + x / 90);
      ground.set([138 + wave, 158 + wave, 128 + wave], (y * side + x) * 3);
    }
  const art = await sharp(artworkPath('fog-signal.png')).resize(820, 820, { fit: 'inside' }).toBuffer();
  const buffer = await sharp(ground, { raw: { width: side, height: side, channels: 3 } })
    .composite([{ input: art, gravity: 'centre' }])
    .jpeg({ quality: 88 })
    .toBuffer();
  await page.goto(demo.address);
  await page
    .locator('ks-sheet-page input[aria-label="Artwork files"]')
    .setInputFiles({ name: 'lighthouse-postcard.jpg', mimeType: 'image/jpeg', buffer });
  await expect(page.locator('.paper')).toBeVisible();
  await page.locator('.sheet').click();
  await page.getByRole('button', { name: 'Make it fit for cloth' }).click();
  await page.locator('ks-picture-view canvas').waitFor();
  await page.getByRole('button', { name: /^Strokes/ }).click();
  const box = (await page.locator('ks-picture-view canvas').boundingBox())!;
  const size = Math.min(box.width, box.height) - 36;
  const rub = async (points: readonly (readonly [number, number])[]): Promise<void> => {
    for (const [n, [x, y]] of points.entries()) {
      await page.mouse.move(box.x + (box.width - size) / 2 + x * size, box.y + (box.height - size) / 2 + y * size, {
        steps: 8,
      });
      if (n === 0) await page.mouse.down();
    }
    await page.mouse.up();
  };
  await rub([
    [0.3, 0.42],
    [0.5, 0.3],
    [0.7, 0.45],
    [0.55, 0.6],
    [0.4, 0.62],
  ]);
  await page.getByRole('button', { name: 'Drop', exact: true }).click();
  await rub([
    [0.05, 0.06],
    [0.94, 0.06],
    [0.94, 0.94],
    [0.06, 0.94],
  ]);
  await expect(page.locator('ks-cut-out header small')).not.toContainText('working');
  await page.waitForTimeout(1500);
  await shot('fit-for-cloth');
  await page.getByRole('button', { name: 'Leave it as it was' }).click();
}

/** A clip of three scenes with music: a shirt that turns, its colours, and a tote. */
async function clips(page: Page, demo: RunningServer, shot: Shot) {
  await openDemo(page, demo, 'Mostly Drizzle', 'clips');
  await page.getByRole('button', { name: /^Turns to you/ }).click();
  const stage = page.locator('ks-clip-stage canvas');
  await page.getByRole('list', { name: 'Scenes in a row' }).locator('.scene').last().click();
  await page.getByRole('button', { name: 'Duplicate scene' }).click();
  await page.getByRole('combobox', { name: 'Product' }).selectOption('tote');
  await page.getByRole('combobox', { name: 'Movement' }).selectOption('pull');
  await expect(stage).toHaveAttribute('data-ready', 'true');
  await page.getByRole('slider', { name: 'Frame' }).fill('110');
  await page.getByRole('button', { name: 'The whole clip' }).click();
  await page.waitForTimeout(1500);
  await shot('clips');
}

/** A listing that one market has, and what the other would refuse of it. */
async function handOver(page: Page, demo: RunningServer, shot: Shot) {
  const id = await openDemo(page, demo, 'Mostly Drizzle', 'hand-over');
  const send = page.getByRole('button', { name: 'Send to Larkpost Market' });
  await expect(send).toBeEnabled();
  await send.click();
  await expect(page.getByRole('button', { name: /^Larkpost Market live/ })).toBeVisible();
  await page.mouse.move(640, 790);
  await page.waitForTimeout(800);
  await shot('hand-over');
  const publication = (await demo.house.listings.get(SELLER, id)).checks.find(
    ({ publication: one }) => one,
  )!.publication!;
  await demo.house.listings.takeDown(SELLER, publication.id);
}

/** A shirt printed all over: the front with its cut line beside the picture that shows it sewn. */
async function allOver(page: Page, demo: RunningServer) {
  const id = await openDemo(page, demo, 'Isobars', 'mockups');
  await page.getByRole('searchbox', { name: 'Search blanks' }).fill('cotton tee, front');
  await page.locator('ks-blank-list .blank').first().click();
  await expect(page.locator('ks-scene-view img.early')).toHaveCount(0);
  await page.getByRole('button', { name: 'All over', exact: true }).click();
  await expect(page.getByText('getting it ready')).toHaveCount(0);
  await saved(page);
  await page.getByRole('button', { name: 'Carry it over the seams' }).click();
  await saved(page);
  // The picture of every layer comes when it is there.
  await page.waitForTimeout(14_000);
  const sewn = await page.locator('ks-scene-view .frame').screenshot();
  const target = (await demo.house.designs.get(SELLER, id)).document.scene!.requirementId;
  await page.goto(`${demo.address}/designs/${id}/artwork?target=${target}`);
  await expect(page.locator('ks-stage')).toBeVisible();
  await page.waitForTimeout(2500);
  const panel = await page.locator('ks-stage').screenshot();
  const height = 600;
  const beside = await Promise.all(
    [panel, sewn].map((picture) => sharp(picture).resize({ width: 636, height, fit: 'cover' }).png().toBuffer()),
  );
  await sharp({ create: { width: 1280, height, channels: 3, background: '#efece4' } })
    .composite(beside.map((input, n) => ({ input, left: n * 644, top: 0 })))
    .png()
    .toFile(`${FOLDER}all-over.png`);
}

/** A photo of a shirt in brick on a wall, on its way to become a blank. */
async function ownBlank(page: Page, demo: RunningServer, shot: Shot) {
  const blank = JSON.parse(await readFile(`${BLANKS}/tee-hanger/blank.json`, 'utf8')) as Blank;
  const kernel = await readyBlank(packIn(`${BLANKS}/tee-hanger`, blank), blank, [], viewOf(blank, null, 1400));
  const { data, width, height } = kernel.render(
    { garment: '#A5442F', backdrop: '#DDE6E3', inkOpacity: 1, shadow: blank.shadowStrength },
    [],
  );
  const photo = await sharp(Buffer.from(data), { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg()
    .toBuffer();
  await page.goto(`${demo.address}/blanks/new`);
  await page
    .getByLabel('Photo', { exact: true })
    .setInputFiles({ name: 'Shirt at the door.jpg', mimeType: 'image/jpeg', buffer: photo });
  await expect(page.locator('ks-picture-view canvas')).toBeVisible();
  await page.getByRole('button', { name: /2 Where it is printed/ }).click();
  await page.getByRole('button', { name: 'Bends', exact: true }).click();
  await page.waitForTimeout(1500);
  await shot('own-blank');
}

/** Two designs with a set of pictures. */
async function setOnSheet(page: Page, demo: RunningServer, shot: Shot) {
  await page.goto(demo.address);
  await expect(page.locator('ks-sheet-cell').first()).toBeVisible();
  const { house } = demo;
  const ids = (await house.sheet.sheet(SELLER)).rows.slice(0, 4).map((row) => row.designId);
  await house.pictureSets.use(SELLER, ids, 'tees');
  await house.pictureOutputs.runPictures(SELLER, {
    of: 'set',
    designs: ids.slice(0, 3).map((designId) => ({ designId })),
  });
  await page.reload();
  for (const name of ['Mostly Drizzle', 'Cumulus Appreciation'])
    await expect(page.getByRole('button', { name: new RegExp(`^Listing pictures of ${name}`) })).toContainText(
      '9 of 9',
    );
  await expect(page.getByText('Making')).toHaveCount(0);
  await page.waitForTimeout(1500);
  await shot('picture-sets');
}

/** The sheet, a run of two designs that are selected, and what it makes in a package. */
async function sheetAndPackage(page: Page, demo: RunningServer, shot: Shot) {
  await page.goto(demo.address);
  await expect(page.getByText('Making')).toHaveCount(0);
  await still(page);
  await shot('job-sheet');
  const designs = page.locator('.row:not(.titles) .design');
  await designs.nth(4).click({ modifiers: ['Control'] });
  await designs.nth(0).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: /^Make the selected/ }).click();
  const run = page.getByRole('region', { name: 'The run' });
  await expect(run).toContainText('Put away');
  await run.getByRole('button', { name: 'Put away' }).click();
  await page.getByRole('button', { name: 'Package …' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Pack what is made' }).click();
  await expect(page.getByRole('list', { name: 'Files in the package' })).toBeVisible();
  await page.waitForTimeout(700);
  await shot('package');
}

async function bench(page: Page, demo: RunningServer, shot: Shot) {
  await openDemo(page, demo, 'Mostly Drizzle', 'artwork');
  await page.locator('[data-layer]').nth(2).click();
  await page.waitForTimeout(800);
  await shot('bench');
  await makeFogWarden(page, demo.address);
}

async function fitAndChecks(page: Page, demo: RunningServer, shot: Shot) {
  await openDemo(page, demo, 'Barometer Falling', 'fit');
  await page.getByRole('button', { name: /^Mug wrap/ }).click();
  await page.waitForTimeout(800);
  await shot('fit');
  await openDemo(page, demo, 'Barometer Falling', 'checks');
  await page.locator('#finding-0').click();
  await page.waitForTimeout(1200);
  await shot('checks');
  await openDemo(page, demo, 'Cumulus Appreciation', 'checks');
  await page.getByRole('button', { name: 'Side by side' }).click();
  await page.getByRole('button', { name: 'Whole' }).click();
  await expect(page.getByText('Working …')).toHaveCount(0);
  await page.waitForTimeout(800);
  await page.mouse.move(1060, 400);
  await page.mouse.move(1062, 402);
  await page.waitForTimeout(400);
}

async function filesAndMockups(page: Page, demo: RunningServer, shot: Shot) {
  await openDemo(page, demo, 'Fog Signal', 'files');
  await page.locator('tbody tr').filter({ hasText: 'DPI' }).getByRole('button', { name: 'why?' }).click();
  await page.waitForTimeout(500);
  await shot('certificate');
  await openDemo(page, demo, 'Mostly Drizzle', 'mockups');
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const set = page.getByRole('group', { name: 'Colours of the set' });
  for (const colour of ['Soot', 'Teal', 'Brick']) await set.getByRole('button', { name: colour }).click();
  await page.getByRole('button', { name: 'Make 3 pictures' }).click();
  await expect(page.locator('a.picture')).toHaveCount(6);
  await still(page);
  await page.mouse.move(640, 300);
  await page.waitForTimeout(1200);
  await shot('mockup');
}

/** A print shop's answer, a client's page on a phone, and orders in hand. */
async function answers(page: Page, demo: RunningServer, shot: Shot) {
  // A frame of hairlines around the badge, as people draw them.
  const { house } = demo;
  const frame = Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 200"><rect x="4" y="4" width="192" height="192" fill="none" stroke="#f2bd4b" stroke-width=".12"/></svg>',
  );
  const asset = await house.assets.takeIn(SELLER, Readable.from([frame]), 'frame.svg');
  const badge = (await house.designs.list(SELLER)).find((one) => one.document.name === 'Rain Gauge Regulars')!;
  const { document } = await house.designs.get(SELLER, badge.id);
  const [art] = document.layers as PictureLayer[];
  const place = { ...art.place, width: art.place.width + 30, height: art.place.width + 30, turn: 0 };
  const { id } = await house.designs.add(SELLER, {
    ...document,
    name: 'Rain Gauge, framed',
    layers: [...document.layers, { ...art, id: 'frame', name: 'Frame', assetId: asset.id, place }],
  });
  await page.goto(`${demo.address}/designs/${id}/hand-over`);
  await house.outputs.askForPrintFiles(SELLER, id, ['hobnail-chest']);
  await expect
    .poll(async () =>
      (await demo.house.outputs.printFilesOf(SELLER, id)).some(
        ({ requirementId, outOfDate }) => requirementId === 'hobnail-chest' && !outOfDate,
      ),
    )
    .toBe(true);
  await page.getByRole('button', { name: 'Print shop', exact: true }).click();
  await page.getByLabel('Copies').fill('12');
  await page.getByRole('button', { name: /^Send to Hobnail/ }).click();
  await expect(page.getByText(/this can be printed|has to be mended/)).toBeVisible();
  await expect(page.getByText('Making')).toHaveCount(0);
  await still(page);
  await page.waitForTimeout(800);
  await shot('print-shop');
  await house.designs.remove(SELLER, id);

  await openDemo(page, demo, 'Mostly Drizzle', 'hand-over');
  await page.getByRole('button', { name: 'Client’s yes', exact: true }).click();
  await page.getByLabel('In whose name').fill('Tarn End Weather Club');
  await page.getByLabel('For whom').fill('The gauge committee');
  await page.getByLabel('What you say to them').fill('The shirt for the autumn meeting, as we spoke of it.');
  await page.getByRole('button', { name: 'Make the page' }).click();
  const link = await page.getByLabel('Link of the page').inputValue();
  const phone = await page
    .context()
    .browser()!
    .newContext({ viewport: { width: 390, height: 844 } });
  const client = await phone.newPage();
  await client.goto(link);
  await client
    .locator('.board')
    .nth(1)
    .click({ position: { x: 180, y: 130 } });
  await client.getByText(/^About the place/).waitFor();
  await client.locator('.board').nth(1).scrollIntoViewIfNeeded();
  await client.evaluate(() => window.scrollTo(0, 0));
  await still(client);
  await client.waitForTimeout(500);
  await client.screenshot({ path: `${FOLDER}client-page.png` });
  await phone.close();

  await openDemo(page, demo, 'Rain Gauge Regulars', 'hand-over');
  await page.getByRole('button', { name: 'Orders in hand', exact: true }).click();
  await expect(page.getByRole('row', { name: /The tea tent/ })).toBeAttached();
  await page.waitForTimeout(1500);
  await shot('orders');
}

const still = (page: Page) => page.waitForFunction(() => [...document.images].every((image) => image.complete));

/** Each by itself, so that one that fails leaves the others as they are. */
const VIEWS: Readonly<Record<string, (page: Page, demo: RunningServer, shot: Shot) => Promise<unknown>>> = {
  'the job sheet and a package': sheetAndPackage,
  'the bench': bench,
  'fit, checks and proof': fitAndChecks,
  'every colour and versions': onEveryColour,
  'fit for cloth': fitForCloth,
  'files and mockups': filesAndMockups,
  'picture sets': setOnSheet,
  'all-over cloth': allOver,
  'an own blank': ownBlank,
  clips,
  listings: handOver,
  'print shop, client and orders': answers,
  requirements: async (page, demo, shot) => {
    await page.goto(`${demo.address}/requirements`);
    await expect(page.locator('.preview')).toBeVisible();
    await page.waitForTimeout(500);
    await shot('requirements');
  },
};
for (const [name, take] of Object.entries(VIEWS))
  test(`pictures of ${name}`, async ({ page, demo }) => {
    test.setTimeout(400_000);
    // No picture is taken while pictures of art are on their way.
    const coming = new Set<unknown>();
    page.on('request', (one) => {
      if (/\/(rendition|miniature|strip|thumbnail)\b/.test(one.url())) coming.add(one);
    });
    for (const over of ['requestfinished', 'requestfailed'] as const)
      page.on(over as 'requestfinished', (one) => coming.delete(one));
    await take(page, demo, async (view) => {
      await expect.poll(() => coming.size).toBe(0);
      await page.waitForTimeout(600);
      await page.screenshot({ path: `${FOLDER}${view}.png` });
    });
  });
