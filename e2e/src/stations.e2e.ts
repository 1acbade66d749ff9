import { SELLER } from '@kettle/server';
import { emptyDesign } from '@kettle/core/model';
import { shapeLayer, shapePath, SHAPES } from '@kettle/core/drawing';
import { assetIdsOf } from '@kettle/core/layers';
import { layerToPixels } from '@kettle/core/document';
import { recipeLayers } from '@kettle/core/recipes';
import { DRAFT, areaOf, pictureRecipe, requirementForBlank, textureGrid, viewOf } from '@kettle/core/mockup';
import { drawLayers, drawScene, readyBlank } from '@kettle/server';
import { expect, numberOf, openDemo, openNewDesign, saved, test } from './kettle.js';

test('the job sheet shows every design in its true state', async ({ page, demo }) => {
  await page.goto(demo.address);
  await expect(page.getByRole('button', { name: /Mostly Drizzle for Larkpost Market, Tee, front: ready/ })).toBeVisible(
    { timeout: 60_000 },
  );
  await expect(
    page.getByRole('button', { name: /Cumulus Appreciation for Larkpost Market, Tee, front: needs work, white box/ }),
  ).toBeVisible();
  await expect(
    page.getByRole('button', { name: /Barometer Falling for Larkpost Market, Tote: out of date/ }),
  ).toBeVisible();
  await expect(
    page.getByRole('button', {
      name: /Barometer Falling for Hobnail Direct Print, DTG chest: needs work, vanishes on soot/,
    }),
  ).toBeVisible();
  // Fine lines are no difference: the certificate takes the file of either canvas.
  for (const target of ['Quillmere Shops, Square print', 'Seamwide All-Over, Panel'])
    await expect(
      page.getByRole('button', { name: new RegExp(`^Isobars for ${target}: ready(, live)?$`) }),
    ).toBeVisible();
  // Each cell has the shape of its print file.
  const shape = (await page
    .getByRole('button', { name: /Mostly Drizzle for Larkpost Market, Mug wrap/ })
    .locator('.art')
    .boundingBox())!;
  expect(shape.width / shape.height).toBeCloseTo(210 / 90, 1);
});

test('findings are shown with their fix, and the fix mends them', async ({ page, demo }) => {
  await openDemo(page, demo, 'Rain Gauge Regulars', 'checks');
  const findings = page.getByRole('listbox', { name: /Findings of all targets/ });
  const said = page.getByRole('article');
  const of = (title: string, target: string) =>
    findings.getByRole('option', { name: new RegExp(`${title}.*${target}`) });
  await of('Soft print', 'Tee, front').click();
  await expect(said).toContainText('enlarged to 315 % of its own pixels');
  await said.getByRole('button', { name: 'Shrink to its own pixels' }).click();
  await expect(of('Soft print', 'Tee, front')).toHaveCount(0);
  await of('Vanishes on Soot', 'DTG chest').click();
  await said.getByRole('button', { name: 'See it on Chalk' }).click();
  await expect(of('Vanishes on Soot', 'DTG chest')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(of('Soft print', 'Tee, front')).toBeVisible();
  await saved(page);
});

test('a move on one target leaves the others where they are', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.getByRole('button', { name: 'Add a target' }).click();
  await page.getByRole('searchbox', { name: 'Search requirements' }).fill('mug 2480');
  await page.getByRole('menuitem', { name: /Mug wrap/ }).click();
  await expect(page.locator('ks-target-cards li')).toHaveCount(2);
  await page.keyboard.press('2');
  await page.getByRole('button', { name: 'Full', exact: true }).click();
  // 84 mm of safe height, twice as wide.
  await expect(page.locator('ks-stage .readout')).toContainText('168 × 84 mm');
  await expect(page.locator('ks-target-cards li').nth(1)).toContainText('placed on its own');
  await saved(page);
  const [design] = await app.house.designs.list(SELLER);
  expect(design.document.targets[0].placement).toBeUndefined();
  expect(design.document.layers[0].place.width).toBeGreaterThan(200);
});

test('a shape is put behind the art, coloured and numbered, by keyboard', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.getByRole('button', { name: 'Shape', exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('menuitem', { name: 'Badge' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-layer]')).toHaveCount(2);
  await page.getByRole('textbox', { name: 'Scallops' }).fill('14');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Fill, hex' }).fill('#1f7f7a');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Width, mm', exact: true }).fill('200');
  await page.keyboard.press('Enter');
  await page.locator('[data-layer]').nth(1).focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page.locator('[data-layer]').first()).toContainText('Badge');
  await saved(page);
  const [{ document }] = await app.house.designs.list(SELLER);
  expect(document.layers[0]).toMatchObject({
    kind: 'shape',
    shape: 'badge',
    fill: '#1f7f7a',
    parameters: { count: 14 },
  });
  expect(document.layers[0].place.width).toBeCloseTo(200, 6);
  await page.getByRole('textbox', { name: 'Fill, hex' }).fill('greenish');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Write a colour like #1f2b4d.')).toBeVisible();
});

test('a canvas that is not as demanded is found and mended', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.keyboard.press('2');
  const dpi = page.getByRole('textbox', { name: 'Both axes, DPI' });
  await dpi.fill('72');
  await dpi.press('Enter');
  await expect(page.getByText('The canvas says 72 DPI')).toBeVisible();
  await page.getByRole('button', { name: 'Set 300 DPI' }).click();
  await expect(page.getByText('The canvas says 72 DPI')).toHaveCount(0);
  await page.getByRole('textbox', { name: 'Width, px' }).fill('nonsense');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Width must be a number.')).toBeVisible();
  expect(await numberOf(page, 'Width, px')).toBe(4200);
});

test('a requirement of one’s own is made, used and changed, and its files become out of date', async ({
  page,
  app,
}) => {
  await page.goto(`${app.address}/requirements`);
  await page.getByRole('button', { name: 'New requirement' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Square patch');
  await page.getByLabel('Width', { exact: true }).fill('-4');
  await expect(page.getByRole('alert')).toContainText('Width must be at least');
  await page.getByLabel('Width', { exact: true }).fill('3');
  await page.getByLabel('Height', { exact: true }).fill('3');
  await expect(page.locator('.preview')).toContainText('900 × 900 px');
  await page.getByRole('button', { name: 'Add to the library' }).click();
  await expect(page.getByText('“Square patch” is in the library.')).toBeVisible();

  await openNewDesign(page, app.address);
  await page.getByRole('button', { name: 'Add a target' }).click();
  await page.getByRole('menuitem', { name: /Square patch/ }).click();
  await page.getByRole('button', { name: 'Full', exact: true }).click();
  await saved(page);
  await page.getByRole('button', { name: 'Files' }).click();
  await page.getByRole('button', { name: 'Make this print file' }).click();
  await expect(page.getByRole('heading', { name: 'As Larkpost Market demands' })).toBeVisible();

  await page.goto(`${app.address}/requirements`);
  await page.getByRole('button', { name: /Square patch/ }).click();
  await page.getByLabel('Safe inset').fill('2');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('are out of date now')).toBeVisible();
  await page.goto(app.address);
  await expect(page.getByRole('button', { name: /for Larkpost Market, Square patch: out of date/ })).toBeVisible();
});

test('art is dragged on the shirt, and the same placement moves on the canvas', async ({ page, app }) => {
  await openNewDesign(page, app.address);
  await page.getByRole('button', { name: 'Mockups' }).click();
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const readout = page.locator('ks-scene-view .readout');
  const below = async () => Number(/(-?[\d.]+) mm below/.exec((await readout.textContent())!)![1]);
  const before = await below();
  const frame = (await page.locator('ks-scene-view .frame').boundingBox())!;
  const art = (await page.locator('ks-scene-view path.art').boundingBox())!;
  const middle = { x: art.x + art.width / 2, y: art.y + art.height / 2 };
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x, middle.y + 25, { steps: 5 });
  await page.mouse.move(middle.x, middle.y + 50, { steps: 5 });
  await page.mouse.up();
  const after = await below();
  // The shirt's print area is seen at about 1.19 px a mm at 1000 px; cloth is not flat, so a quarter may be off.
  const expected = 50 / ((frame.width / 1000) * 1.19);
  expect(Math.abs(after - before - expected)).toBeLessThan(expected / 4);
  await saved(page);
  const [design] = await app.house.designs.list(SELLER);
  const { y, height } = design.document.layers[0].place;
  expect(y - height / 2).toBeCloseTo(after, 0);

  // From a corner, smaller, the top edge kept.
  const handle = (await page.locator('ks-scene-view circle.handle').nth(3).boundingBox())!;
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
  await page.mouse.down();
  await page.mouse.move(handle.x - 40, handle.y - 20, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  const [smaller] = await app.house.designs.list(SELLER);
  expect(smaller.document.layers[0].place.width).toBeLessThan(design.document.layers[0].place.width - 20);
  expect(smaller.document.layers[0].place.y - smaller.document.layers[0].place.height / 2).toBeCloseTo(after, 0);
});

test('what the browser shows is what the server makes', async ({ page, demo }) => {
  const id = await openDemo(page, demo, 'Fog Signal', 'mockups');
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const { house } = demo;
  const design = await house.designs.get(SELLER, id);
  const scene = design.document.scene!;
  const blank = await house.blanks.get(SELLER, scene.blankId);
  const area = areaOf(blank, scene.areaId);
  const kernel = await readyBlank(
    (await house.blanks.pack(SELLER, blank.id)).files,
    blank,
    [{ areaId: area.id }],
    viewOf(blank, null, 1000),
  );
  const facts = await Promise.all(assetIdsOf(design.document.layers).map((asset) => house.assets.get(SELLER, asset)));
  const files = Object.fromEntries(
    await Promise.all(facts.map(async (asset) => [asset.sha256, await house.blobs.localPath(asset.sha256)] as const)),
  );
  const requirement = requirementForBlank(
    design.document,
    blank,
    await house.requirements.list(SELLER.owner),
    scene.requirementId,
  );
  const recipe = pictureRecipe(
    design.document,
    scene,
    { blank, pack: 'any' },
    [
      {
        areaId: area.id,
        requirement,
        grid: textureGrid(area, kernel.areaMaps(area.id).pixelsPerMm, DRAFT),
        part: { x: 0, y: 0, width: 1, height: 1 },
      },
    ],
    { size: 1000, format: 'png' },
    (asset) => facts.find((one) => one.id === asset)!.sha256,
  );
  const made = await drawScene(kernel, recipe, files);
  /**
   * Mean difference per channel over the print area's part of the picture, where all the difference there may be is.
   */
  const difference = () =>
    page.evaluate(async (expected) => {
      const canvas = document.querySelector('ks-scene-view canvas') as HTMLCanvasElement;
      const shown = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height).data;
      const wanted = Uint8Array.from(atob(expected), (c) => c.charCodeAt(0));
      if (shown.length !== wanted.length) return 255;
      let [sum, count] = [0, 0];
      for (let y = 180; y < 680; y++)
        for (let x = 330; x < 690; x++)
          for (let c = 0; c < 3; c++) {
            const i = (y * canvas.width + x) * 4 + c;
            sum += Math.abs(shown[i] - wanted[i]);
            count++;
          }
      return sum / count;
    }, Buffer.from(made.data).toString('base64'));
  await expect.poll(difference).toBeLessThan(1);
});

test('blanks are found by what is wanted of them, and each shows this design', async ({ page, demo }) => {
  await openDemo(page, demo, 'Mostly Drizzle', 'mockups');
  const list = page.locator('ks-blank-list');
  const tally = list.locator('.tally');
  await expect(tally).toContainText('26 of 26');
  // Kinds and choices narrow each other; what would leave nothing cannot be chosen.
  await list.getByRole('button', { name: 'Drinkware 6' }).click();
  await expect(tally).toContainText('6 of 26');
  await list.getByText('Narrow down').click();
  await expect(list.getByLabel('Product').getByRole('option', { name: 'T-shirt · 0', exact: true })).toBeDisabled();
  await list.getByLabel('View').selectOption({ label: 'right · 2' });
  await expect(list.locator('.blank')).toHaveText(['Mug on a desk', 'Mug, handle right']);
  await expect(list.getByLabel('Comes in').getByRole('option', { name: 'blue · 2' })).toBeEnabled();
  await list.getByRole('searchbox').pressSequentially('daylight', { delay: 120 });
  await expect(list.locator('.blank')).toHaveText(['Mug on a desk']);
  await list.getByRole('button', { name: 'Favourite: Mug on a desk' }).click();
  await list.getByRole('searchbox').fill('nothing like it');
  await expect(list.getByText('No blank is all of this.')).toBeVisible();
  await list.getByRole('button', { name: 'Show all' }).click();
  await expect(tally).toContainText('26 of 26');

  // A small picture is the large one made small: the design is on it, in the same colour and place.
  const tee = list.locator('.blank', { hasText: 'Cotton tee, front' });
  await expect(tee).toHaveAttribute('data-drawn', 'true');
  const difference = (name: string) =>
    page.evaluate(async (label) => {
      const small = [...document.querySelectorAll('ks-blank-list .blank')]
        .find((one) => one.textContent?.includes(label))!
        .querySelector('img')!;
      await small.decode().catch(() => undefined);
      const pixels = (source: CanvasImageSource): Uint8ClampedArray => {
        const context = new OffscreenCanvas(50, 50).getContext('2d')!;
        context.imageSmoothingQuality = 'high';
        context.drawImage(source, 0, 0, 50, 50);
        return context.getImageData(0, 0, 50, 50).data;
      };
      const [one, other] = [pixels(small), pixels(document.querySelector('ks-scene-view canvas') as HTMLCanvasElement)];
      let sum = 0;
      for (let i = 0; i < one.length; i++) sum += Math.abs(one[i] - other[i]);
      return sum / one.length;
    }, name);
  // Of 255, at a quarter of its size: rounding of two filters. The bare product in this colour is 9 away.
  await expect.poll(() => difference('Cotton tee, front')).toBeLessThan(3);
  const before = await tee.locator('img').getAttribute('src');
  await page.getByRole('group', { name: 'Product colour' }).getByRole('button', { name: 'Brick', exact: true }).click();
  await expect(tee.locator('img')).not.toHaveAttribute('src', before!);
  await expect.poll(() => difference('Cotton tee, front')).toBeLessThan(3);

  // While the large maps are on their way, the small picture with the design stands there.
  let release: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route('**/api/blanks/sticker/preview?*size=1000', async (route) => {
    await held;
    await route.continue();
  });
  const sticker = list.locator('.blank', { hasText: 'Round sticker' });
  await sticker.scrollIntoViewIfNeeded();
  await expect(sticker).toHaveAttribute('data-drawn', 'true');
  await sticker.click();
  await expect(page.locator('ks-scene-view img.early')).toHaveAttribute('src', /^blob:/);
  release();
  await expect(page.locator('ks-scene-view img.early')).toHaveCount(0);

  // What was marked and used is still known the next day.
  await saved(page);
  await page.reload();
  await list.getByRole('button', { name: 'Favourites 1' }).click();
  await expect(list.locator('.blank')).toHaveText(['Mug on a desk']);
  await list.getByRole('button', { name: 'Used last 1' }).click();
  await expect(list.locator('.blank')).toHaveCount(1);
});

test('scenes are kept with the design, follow it, and are made together', async ({ page, demo }) => {
  const id = await openDemo(page, demo, 'Fog Signal', 'mockups');
  const list = page.locator('ks-scene-list');
  const kept = list.locator('.scene');
  const before = (await demo.house.designs.get(SELLER, id)).document.scenes!;
  await expect(kept).toHaveText(before.map(({ name }) => name));
  // What is only looked at is kept by one press, and changes along from then on.
  await page.locator('ks-blank-list').getByRole('searchbox').fill('mug on a desk');
  await page.locator('ks-blank-list .blank').click();
  await expect(list.locator('[aria-pressed="true"]')).toHaveCount(0);
  await list.getByRole('button', { name: 'Keep this scene' }).click();
  await page.getByRole('group', { name: 'Product colour' }).getByRole('button', { name: 'Straw', exact: true }).click();
  await expect(kept).toHaveCount(before.length + 1);
  await kept.last().dblclick();
  await list.getByLabel('Name of the scene').fill('');
  await list.getByLabel('Name of the scene').pressSequentially('Desk, yellow', { delay: 110 });
  await page.keyboard.press('Enter');
  await expect(kept.last()).toHaveText('Desk, yellow');
  await saved(page);
  const scenes = async () => (await demo.house.designs.get(SELLER, id)).document.scenes!;
  expect((await scenes()).at(-1)).toEqual(
    expect.objectContaining({ blankId: 'mug-desk', garment: '#D9A93B', name: 'Desk, yellow' }),
  );
  // By keyboard: to the front, a copy, and the copy taken away again and brought back by undo.
  const more = list.getByRole('button', { name: 'Scene Desk, yellow: more' });
  for (let n = 0; n < before.length; n++) {
    await more.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('menuitem', { name: 'Move up' }).focus();
    await page.keyboard.press('Enter');
    await expect(kept.nth(before.length - 1 - n)).toHaveText('Desk, yellow');
  }
  await more.click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(kept.nth(1)).toHaveText('Desk, yellow 2');
  await list.getByRole('button', { name: 'Scene Desk, yellow 2: more' }).click();
  await page.getByRole('menuitem', { name: 'Take it away' }).click();
  await expect(kept).toHaveCount(before.length + 1);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(kept).toHaveCount(before.length + 2);
  await saved(page);
  // Another scene is one press away, and one press makes a picture of each.
  await kept.last().click();
  await expect(kept.last()).toHaveAttribute('aria-pressed', 'true');
  await saved(page);
  const pictures = async () => (await demo.house.pictureOutputs.picturesOf(SELLER, id)).filter((one) => !one.outOfDate);
  await list.getByRole('button', { name: `Make all ${before.length + 2}` }).click();
  await expect
    .poll(async () => (await pictures()).filter((one) => one.blankId === 'mug-desk').map((one) => one.garment))
    .toEqual(['#D9A93B']);
});

test('every shape is printed as the browser draws it', async ({ page, app }) => {
  const field = { width: 100, height: 120 };
  const grid = { width: 500, height: 600 };
  await page.goto(app.address);
  for (const { kind } of SHAPES) {
    const shape = {
      ...shapeLayer('s', kind, field, '#a5442f'),
      outline: { hex: '#1f2b4d', width: 2.4, dash: kind === 'ring' ? ('dashed' as const) : ('solid' as const) },
      place: {
        x: 50.3,
        y: 60.7,
        width: 80,
        height: 61,
        turn: kind === 'arrow' ? 21 : 0,
        flipX: false,
        flipY: kind === 'drop',
      },
    };
    const made = await drawLayers(
      grid,
      recipeLayers({ ...emptyDesign('x', field), layers: [shape] }, [1, 0, 0, 1, 0, 0], 127, String),
      {},
      { subpixel: true },
    );
    const difference = await page.evaluate(
      ({ path, map, shape, size, expected }) => {
        const context = new OffscreenCanvas(size.width, size.height).getContext('2d')!;
        context.setTransform(...(map as [number, number, number, number, number, number]));
        context.scale(1 / shape.place.width, 1 / shape.place.height);
        context.fillStyle = shape.fill;
        context.strokeStyle = shape.outline.hex;
        context.lineWidth = shape.outline.width;
        context.lineJoin = context.lineCap = 'round';
        context.setLineDash(shape.outline.dash === 'dashed' ? [shape.outline.width * 3, shape.outline.width * 2] : []);
        const outline = new Path2D(path);
        context.fill(outline);
        context.stroke(outline);
        const drawn = context.getImageData(0, 0, size.width, size.height).data;
        const wanted = Uint8Array.from(atob(expected), (c) => c.charCodeAt(0));
        let [inside, edge] = [0, 0];
        for (let i = 0; i < drawn.length; i += 4) {
          const off = Math.max(
            Math.abs(drawn[i + 3] - wanted[i + 3]),
            ...[0, 1, 2].map((c) => (Math.abs(drawn[i + c] - wanted[i + c]) * wanted[i + 3]) / 255),
          );
          if (off > 64) edge++;
          if (off > 128) inside++;
        }
        return { inside, edge };
      },
      {
        path: shapePath(shape, 80, 61),
        map: layerToPixels(shape, [1, 0, 0, 1, 0, 0], 127),
        shape: { ...shape, fill: '#a5442f' },
        size: grid,
        expected: Buffer.from(made.data).toString('base64'),
      },
    );
    // Two renderers smooth edges differently: a pixel of an edge may be a quarter off here and there, but none may be
    // half wrong for lack of a line or a shift.
    expect(difference.inside, kind).toBeLessThan(40);
    expect(difference.edge, kind).toBeLessThan(400);
  }
});

test('bad files are told in a sentence and leave the sheet as it is', async ({ page, app }) => {
  await page.goto(app.address);
  const input = page.locator('ks-sheet-page input[aria-label="Artwork files"]');
  for (const [name, buffer, sentence] of [
    ['notes.png', Buffer.from('just words'), 'not a picture'],
    ['empty.png', Buffer.alloc(0), '0 bytes'],
    [
      'bomb.svg',
      Buffer.from('<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]><svg viewBox="0 0 1 1">&b;</svg>'),
      'entities',
    ],
    ['nosize.svg', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0"/></svg>'), 'viewBox'],
  ] as const) {
    await input.setInputFiles({ name, mimeType: 'image/png', buffer });
    const bar = page.locator('mat-snack-bar-container');
    await expect(bar).toContainText(`“${name}”`);
    await expect(bar).toContainText(sentence);
    await bar.getByRole('button', { name: 'Close' }).click();
    await expect(bar).toHaveCount(0);
  }
  await expect(page.getByRole('heading', { name: 'Drop your artwork here' })).toBeVisible();
});
