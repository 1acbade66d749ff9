import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import type { ClientPage, PrintRun, ShopOrder } from '@kettle/contract';
import { unzipSync } from 'fflate';
import { ART, expect, tabTo, test } from './kettle.js';
import { expectNoBarriers } from './no-barriers.js';
import { Shop } from './shop.js';

const ALL = ['Larkpost Market', 'Quillmere Shops', 'Hobnail Direct Print'];
const PACE = { delay: 110 };

const desk = async (page: Page, shop: Shop, name: string): Promise<void> => {
  await page.goto(`${shop.app.address}/designs/${shop.designId}/hand-over`);
  await page.getByRole('button', { name, exact: true }).click();
};
const chosen = (page: Page, form: string) => page.getByRole('form', { name: form });

test('a worker that is killed at any call to the print shop leaves one order there, and its answer comes', async ({
  stage,
}) => {
  const shop = await Shop.open(stage, false, ['Hobnail Direct Print']);
  try {
    const orders = () => shop.call<ShopOrder[]>('GET', `/api/designs/${shop.designId}/shop-orders`);
    let sent = 0;
    for (const when of ['came', 'answered'] as const)
      for (let nth = 1, reached = true; reached; nth++) {
        reached = false;
        let count = 0;
        let killed: Promise<void> | null = null;
        shop.hobnail.faults.told = (what) => {
          if (what === when && ++count === nth) {
            reached = true;
            killed = shop.kill();
          }
        };
        await shop.call('POST', `/api/designs/${shop.designId}/shop-orders`, {
          shopId: 'hobnail',
          requirementId: shop.targets[0],
          size: 'M',
          colour: 'Harbour',
          position: 'Chest',
          copies: ++sent,
          note: '',
        });
        await expect.poll(async () => killed !== null || (await orders())[0].state === 'yes').toBe(true);
        shop.hobnail.faults.told = () => undefined;
        if (killed) {
          await (killed as Promise<void>);
          await shop.work();
        }
        await expect.poll(async () => (await orders())[0].state).toBe('yes');
        const there = [...shop.hobnail.orders.values()];
        expect(there.length, `killed when call ${nth} ${when}`).toBe(sent);
        expect(there.at(-1)!.copies).toBe(sent);
      }
    expect(sent).toBeGreaterThan(5);
  } finally {
    await shop.close();
  }
});

test('the print shop says what to mend where it is; mended and sent again, it says yes', async ({ page, stage }) => {
  const shop = await Shop.open(stage, true, ALL);
  try {
    // A line of one pixel, which no head holds.
    const { revision, document } = await shop.call<{
      revision: number;
      document: { layers: { assetId: string; place: object }[] };
    }>('GET', `/api/designs/${shop.designId}`);
    const thin = await shop.call<{ id: string }>(
      'POST',
      '/api/assets',
      Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><rect x="10" y="50" width="80" height=".5" fill="#f2bd4b"/></svg>',
      ),
      { 'Content-Type': 'image/svg+xml', 'X-Filename': 'line.svg' },
    );
    const place = { x: 25.4, y: 25.4, width: 25.4, height: 25.4, turn: 0, flipX: false, flipY: false };
    const lined = await shop.call<{ revision: number }>(
      'PUT',
      `/api/designs/${shop.designId}`,
      { ...document, layers: [{ ...document.layers[0], assetId: thin.id, place }] },
      { 'If-Match': `"${revision}"` },
    );
    await shop.make(shop.designId);

    await desk(page, shop, 'Print shop');
    const sheet = chosen(page, 'Order sheet');
    await sheet.getByLabel('Copies').fill('dozens');
    await expect(sheet.getByRole('alert')).toHaveText('“dozens” is not a number of copies.');
    await expect(sheet.getByRole('button', { name: 'Send to Hobnail Direct Print' })).toBeDisabled();
    await sheet.getByLabel('Copies').fill('');
    await sheet.getByLabel('Copies').pressSequentially('12', PACE);
    await expect(sheet.getByText('11.50 GBP each and 15.00 GBP to set up: 153.00 GBP.')).toBeVisible();
    await sheet.getByLabel('Note to them').pressSequentially('For the regulars', PACE);
    await sheet.getByRole('button', { name: 'Send to Hobnail Direct Print' }).click();
    await expect(page.getByText('this has to be mended first.')).toBeVisible();
    const said = page.getByRole('list', { name: 'What Hobnail Direct Print says' });
    await expect(said).toContainText('thinner than the 0.28 mm that our heads hold');
    // Their picture of the place came along and can be seen.
    const picture = said.getByRole('img', { name: /drawn by them/ }).first();
    await expect(picture).toBeVisible();
    await expect.poll(() => picture.evaluate((one: HTMLImageElement) => one.naturalWidth)).toBeGreaterThan(20);
    await expect(page.getByRole('button', { name: 'Send the file as it is now' })).toBeDisabled();

    // It stands among the findings of the target.
    await page.getByRole('button', { name: /Checks/ }).click();
    await page
      .getByRole('option', { name: /Hobnail Direct Print wants this mended/ })
      .first()
      .click();
    await expect(page.getByRole('article')).toContainText('thinner than the 0.28 mm');

    await shop.call(
      'PUT',
      `/api/designs/${shop.designId}`,
      { ...document, layers: [{ ...document.layers[0], place }] },
      { 'If-Match': `"${lined.revision}"` },
    );
    await shop.make(shop.designId);
    await desk(page, shop, 'Print shop');
    await page.getByRole('button', { name: 'Send the file as it is now' }).click();
    await expect(page.getByText('yes, this can be printed.')).toBeVisible();
    // Both rounds are kept, each with its file and what was said of it.
    await expect(page.getByRole('region', { name: /^Round/ })).toHaveCount(2);
    await expect(page.getByText('SHA-256')).toHaveCount(2);
    expect(shop.hobnail.orders.size).toBe(1);

    await page.goto(shop.app.address);
    await expect(
      page.getByRole('button', { name: /for Hobnail Direct Print, Small tee: ready.*, accepted/ }),
    ).toBeVisible();
  } finally {
    await shop.close();
  }
});

test('from a finished design to the client’s yes by keyboard alone, on a phone’s page', async ({
  page,
  stage,
  browser,
}) => {
  const shop = await Shop.open(stage, true);
  try {
    await page.goto(`${shop.app.address}/designs/${shop.designId}/artwork`);
    await expect(page.locator('.stations h1')).toHaveText('Rain Gauge Regulars');
    await page.keyboard.press('7');
    await tabTo(page, /^Client’s yes/);
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('In whose name')).toBeVisible();
    await tabTo(page, /^In whose name/);
    await page.keyboard.type('Tarn End Weather Club', PACE);
    await tabTo(page, /^For whom/);
    await page.keyboard.type('Fell Rescue', PACE);
    await tabTo(page, /^Pass phrase/);
    await page.keyboard.type('seven gauges', PACE);
    await tabTo(page, /^Make the page/);
    await page.keyboard.press('Enter');
    const link = await page.getByLabel('Link of the page').inputValue();

    const phone = await browser.newContext({ viewport: { width: 390, height: 844 } });
    const client = await phone.newPage();
    const errors: string[] = [];
    // What the page itself refuses and what it cannot load; pages that are not open yet say so by their status.
    client.on('console', (message) => {
      if (message.type() === 'error' && !message.text().startsWith('Failed to load')) errors.push(message.text());
    });
    client.on('response', (answer) => {
      if (answer.status() >= 400 && !answer.request().isNavigationRequest())
        errors.push(`${answer.status()} ${answer.url()}`);
    });
    await client.goto(link);
    await expectNoBarriers(client, 'pass phrase');
    await tabTo(client, /^Pass phrase/);
    await client.keyboard.type('six gauges', PACE);
    await client.keyboard.press('Enter');
    await expect(client.getByRole('alert')).toHaveText('That was not the pass phrase.');
    await tabTo(client, /^Pass phrase/);
    await client.keyboard.type('seven gauges', PACE);
    await client.keyboard.press('Enter');
    await expect(client.getByRole('heading', { name: 'Rain Gauge Regulars' }).first()).toBeVisible();
    await expectNoBarriers(client, 'client’s page');
    // Nothing of it is wider than the phone.
    expect(await client.evaluate(() => window.document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

    // A place is marked by keys, and something is said of it.
    await tabTo(client, /^Picture 2/);
    await client.keyboard.press('Enter');
    for (let i = 0; i < 5; i++) await client.keyboard.press('ArrowUp');
    await expect(client.getByText('About the place you marked on picture 2 of Rain Gauge Regulars')).toBeVisible();
    await tabTo(client, /^Your name/);
    await client.keyboard.type('Ada', PACE);
    await tabTo(client, /^What you would like to say/);
    await client.keyboard.type('A little higher?', PACE);
    await tabTo(client, /^Send this comment/);
    await client.keyboard.press('Enter');
    await expect(client.getByText('Thank you, that was sent.')).toBeVisible();
    // The seller sees it without doing anything, and answers.
    await expect(page.getByText('A little higher?')).toBeVisible();
    const pages = () => shop.call<ClientPage[]>('GET', `/api/designs/${shop.designId}/client-pages`);
    const [{ words }] = await pages();
    expect(words[0].pin!.picture).toBe(1);
    expect(words[0].pin!.y).toBeCloseTo(0.4, 3);
    await page.getByLabel('Your answer').focus();
    await page.keyboard.type('It would meet the collar.', PACE);
    await tabTo(page, /^Send the answer/);
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Your answer')).toHaveValue('');
    await client.reload();
    await expect(client.getByText('It would meet the collar.')).toBeVisible();
    await tabTo(client, /^Yes, print it like this/);
    await client.keyboard.press('Enter');
    await expect(client.getByText('Your yes is written down.')).toBeVisible();
    await expect(page.getByText('Ada said yes to Rain Gauge Regulars, revision 1')).toBeVisible();
    expect(errors).toEqual([]);

    // What is changed after it is no longer what was approved: both see it.
    const { revision, document } = await shop.call<{ revision: number; document: { layers: { place: object }[] } }>(
      'GET',
      `/api/designs/${shop.designId}`,
    );
    const [layer] = document.layers;
    await shop.call(
      'PUT',
      `/api/designs/${shop.designId}`,
      { ...document, layers: [{ ...layer, place: { ...layer.place, y: 30 } }] },
      { 'If-Match': `"${revision}"` },
    );
    await expect(page.getByText('it is no longer what was approved')).toBeVisible();
    await client.reload();
    await expect(client.getByText('It has changed since')).toBeVisible();

    // Closed, it is gone, kindly; the record is there to be read.
    const record = page.waitForEvent('download');
    await page.getByRole('link', { name: /Record as PDF/ }).click();
    expect((await readFile(await (await record).path())).subarray(0, 5).toString()).toBe('%PDF-');
    await page.getByRole('button', { name: 'Close the page' }).click();
    await expect(page.getByText('This page is closed')).toBeVisible();
    expect((await client.reload())!.status()).toBe(410);
    await expect(client.getByText('Tarn End Weather Club has closed it.')).toBeVisible();
    await expectNoBarriers(client, 'closed page');
    await phone.close();
  } finally {
    await shop.close();
  }
});

test('samples of the designs that are selected are ordered in one press; what cannot be is told', async ({
  page,
  stage,
}) => {
  const shop = await Shop.open(stage, true, ALL);
  try {
    // The second has no print file for the print shop.
    const { document } = await shop.call<{ document: object }>('GET', `/api/designs/${shop.designId}`);
    await shop.call('POST', '/api/designs', { ...document, name: 'Fog Signal' });
    await page.goto(shop.app.address);
    for (const name of ['Rain Gauge Regulars', 'Fog Signal'])
      await page.getByLabel(`Select all of ${name}`, { exact: true }).click({ force: true });
    await page.getByRole('button', { name: 'Hand over …' }).click();
    const samples = page.getByRole('group', { name: 'A printed sample of each' });
    await samples.getByLabel('size').selectOption('L');
    await samples.getByRole('button', { name: 'Order 2 samples' }).click();
    await expect(samples.getByRole('status')).toHaveText(/^1 of 2 ordered/);
    await expect(page.getByRole('row', { name: /^Fog Signal/ }).getByRole('alert')).toContainText('is not made');
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    await expect(
      page.getByRole('button', { name: /Rain Gauge Regulars for Hobnail Direct Print.*, accepted/ }),
    ).toBeVisible();
    expect([...shop.hobnail.orders.values()].map(({ copies }) => copies)).toEqual([1]);
  } finally {
    await shop.close();
  }
});

test('designs that are selected on the sheet are shown to a client together, who picks one', async ({
  page,
  stage,
  browser,
}) => {
  const shop = await Shop.open(stage, true);
  try {
    const second = await shop.design('Fog Signal');
    await page.goto(shop.app.address);
    for (const name of ['Rain Gauge Regulars', 'Fog Signal'])
      await page.getByLabel(`Select all of ${name}`, { exact: true }).click({ force: true });
    await page.getByRole('button', { name: 'Hand over …' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Show them to a client …' }).click();
    await expect(page.getByRole('group', { name: /^Shown beside it/ })).toContainText(/Fog Signal|Rain Gauge Regulars/);
    await page.getByLabel('In whose name').pressSequentially('The club', PACE);
    await page.getByLabel('For whom').pressSequentially('Fell Rescue', PACE);
    await page.getByRole('button', { name: 'Make the page' }).click();
    const link = await page.getByLabel('Link of the page').inputValue();
    const phone = await browser.newContext({ viewport: { width: 390, height: 844 } });
    const client = await phone.newPage();
    await client.goto(link);
    await expect(client.getByRole('heading', { name: 'Which one shall it be?' })).toBeVisible();
    await expectNoBarriers(client, 'alternatives');
    await client.getByLabel('Your name').fill('Ada');
    await client.getByRole('button', { name: 'Yes, print it like this' }).click();
    await expect(client.getByText('Pick one of the alternatives first.')).toBeVisible();
    await client.goBack();
    await client.getByRole('radio', { name: 'Fog Signal' }).check();
    await client.getByLabel('Your name').fill('Ada');
    await client.getByRole('button', { name: 'Yes, print it like this' }).click();
    await expect(client.getByText('Your yes is written down.')).toBeVisible();
    await expect(page.getByText('Ada said yes to Fog Signal, revision 1')).toBeVisible();
    const owner = new URL(page.url()).pathname.split('/')[2];
    const [{ approval }] = await shop.call<ClientPage[]>('GET', `/api/designs/${owner}/client-pages`);
    expect(approval!.approved!.designId).toBe(second);
    await phone.close();
  } finally {
    await shop.close();
  }
});

test('orders are gathered by hand, from a table and on a public page, until they are ordered with their files', async ({
  page,
  stage,
  browser,
}) => {
  const shop = await Shop.open(stage, true, ALL);
  try {
    await desk(page, shop, 'Orders in hand');
    const form = chosen(page, 'What can be ordered');
    await form.getByLabel('Name').fill('Autumn print');
    await form.getByLabel(/^Price of one/).pressSequentially('eighteen', PACE);
    await expect(form.getByRole('alert')).toContainText('“eighteen” is not an amount in GBP');
    await form.getByLabel(/^Price of one/).fill('');
    await form.getByLabel(/^Price of one/).pressSequentially('18.00', PACE);
    await form.getByRole('button', { name: 'Begin to gather' }).click();
    await expect(page.getByText('12 are missing until it is worth printing.')).toBeVisible();

    const one = chosen(page, 'One person');
    await one.getByLabel('Name').pressSequentially('Ada Fell', PACE);
    await one.getByLabel('Copies').fill('2');
    await one.getByLabel('Name').press('Enter');
    await expect(page.getByRole('row', { name: /Ada Fell/ })).toContainText('2');
    await expect(one.getByLabel('Name')).toHaveValue('');
    await expect(one.getByLabel('Name')).toBeFocused();

    await page.getByText('From a table').click();
    await page.getByLabel(/^Cells of a spreadsheet/).fill('Name\tSize\tCopies\nBen\tM\t3\nCleo\tXXXL\t1\n');
    await page.getByRole('button', { name: 'Look at it' }).click();
    await expect(page.getByText('1 person can be added; 1 row cannot.')).toBeVisible();
    await expect(page.getByText('Row 3: “XXXL” is not one of the sizes')).toBeVisible();
    await page.getByRole('button', { name: 'Add 1', exact: true }).click();
    await expect(page.getByRole('row', { name: /Ben/ })).toBeVisible();
    await page
      .getByLabel('CSV file')
      .setInputFiles({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from([0x89, 0x50, 0, 1]) });
    await expect(page.getByText('This is not a table of text.')).toBeVisible();

    await page.getByRole('button', { name: 'Open a page' }).click();
    const link = await page.getByLabel('Link of the public page').inputValue();
    const phone = await browser.newContext({ viewport: { width: 390, height: 844 } });
    const guest = await phone.newPage();
    await guest.goto(link);
    await expectNoBarriers(guest, 'public page');
    await expect(guest.getByText('7 are missing')).toBeVisible();
    await guest.getByLabel('Your name').pressSequentially('Dan', PACE);
    await guest.getByLabel('How many').fill('7');
    await guest.getByRole('button', { name: /Count me in/ }).click();
    await expect(guest.getByText('you are counted in')).toBeVisible();
    await expect(page.getByRole('row', { name: /Dan/ })).toBeVisible();
    await expect(page.getByText('Enough are wanted: it is worth printing.')).toBeVisible();
    await expect(page.getByRole('img', { name: /12 copies wanted of 12/ }).locator('svg')).toBeVisible();
    await phone.close();

    await page.getByLabel('Deposit of Ada Fell').fill('5.00');
    await page.getByLabel('Deposit of Ada Fell').press('Enter');
    await page.getByRole('button', { name: 'Take out Ben' }).click();
    await expect(page.getByRole('row', { name: /Ben/ })).toHaveCount(0);
    await page.locator('mat-snack-bar-container').getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByRole('row', { name: /Ben/ })).toBeVisible();

    await page.getByRole('button', { name: 'Close it' }).click();
    await page.getByRole('button', { name: 'It is ordered' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: /Order sheet and print files/ }).click();
    const zip = unzipSync(new Uint8Array(await readFile(await (await download).path())));
    expect(Object.keys(zip).some((name) => name.endsWith('.png'))).toBe(true);
    expect(new TextDecoder().decode(zip['order-sheet.csv'])).toMatch(/M,Harbour,#1F2B4D,3,/);
    await page.getByRole('button', { name: 'All are handed over' }).click();
    await page.getByRole('button', { name: 'Erase all names and contacts' }).click();
    await expect(page.getByRole('row', { name: /Ada Fell|Dan/ })).toHaveCount(0);
    const [run] = await shop.call<PrintRun[]>('GET', `/api/designs/${shop.designId}/print-runs`);
    expect([run.state, run.interests.length, run.interests.every(({ erased }) => erased)]).toEqual([
      'delivered',
      3,
      true,
    ]);
  } finally {
    await shop.close();
  }
});

test('a listing begins as a draft, sells, sells out, and what it earned is read on one page', async ({
  page,
  stage,
}) => {
  const shop = await Shop.open(stage, true);
  try {
    await shop.write();
    await page.goto(`${shop.app.address}/designs/${shop.designId}/hand-over`);
    await page.getByRole('button', { name: 'As a draft' }).click();
    await expect(page.getByRole('button', { name: /^Larkpost Market a draft there/ })).toBeVisible();
    const listed = () => [...shop.larkpost.counter.listings.values()];
    expect(listed().map(({ hidden }) => hidden)).toEqual([true]);
    await page.getByRole('button', { name: 'Put it live' }).click();
    await expect(page.getByRole('button', { name: /^Larkpost Market live/ })).toBeVisible();
    expect(listed().map(({ hidden }) => hidden)).toEqual([false]);
    await shop.call('POST', `/api/designs/${shop.designId}/publications`, { channels: ['quillmere'] });
    await expect.poll(() => shop.stateOn('quillmere')).toBe('live');

    shop.larkpost.counter.buy(listed()[0].id, { name: 'Small tee', colour: 'Harbour', copies: 2 });
    const [card] = shop.quillmere.listings.values();
    expect(await shop.quillmere.buy(card.id, { product: 'T-shirt', colour: 'Harbour', copies: 3 })).toBe(204);
    expect(await shop.quillmere.sellOut(card.id)).toBe(204);

    await page.getByRole('button', { name: 'What became of it' }).click();
    const sums = page.getByRole('region', { name: 'What was earned' });
    await expect(sums.getByRole('row', { name: /Larkpost Market 2 / })).toBeVisible();
    await expect(sums.getByRole('alert')).toContainText('Sales in EUR are in no sum of money');
    await sums.getByLabel('One EUR in GBP').pressSequentially('0.85', PACE);
    await sums.getByLabel('One EUR in GBP').press('Enter');
    await expect(sums.getByRole('alert')).toHaveCount(0);
    // Each sold for 21.95 at a cost of 9.00: 6.5 % and 0.20 are the fees there.
    await expect(sums.getByRole('row', { name: /Larkpost Market 2 43\.90/ })).toBeVisible();
    await expect(sums.locator('svg').first()).toBeVisible();
    const events = page.getByRole('region', { name: 'What has happened' });
    for (const words of [
      'live on Larkpost Market',
      'sent to Quillmere Shops',
      'sold out on Quillmere Shops',
      'print file',
    ])
      await expect(events).toContainText(words);
    // The same sale told twice is one sale.
    await page.reload();
    await expect(sums.getByRole('row', { name: /Larkpost Market 2 / })).toBeVisible();

    await page.goto(`${shop.app.address}/became`);
    await expect(page.getByRole('link', { name: 'Rain Gauge Regulars' }).first()).toBeVisible();
    await page.goto(shop.app.address);
    await expect(page.getByRole('button', { name: /for Quillmere Shops, Small tee: ready.*, sold out/ })).toBeVisible();
  } finally {
    await shop.close();
  }
});

test('channels are copied, changed, given as a file and taken in again; a bad file is told', async ({ page, app }) => {
  await page.goto(`${app.address}/channels`);
  await page.getByRole('button', { name: 'Copy' }).click();
  const name = page.getByLabel('Channel, as its requirements name it');
  await expect(name).toHaveValue('Larkpost Market, mine');
  await name.fill('Fell Fair');
  await page.getByLabel('Words that may stand nowhere').click();
  await expect(page.getByRole('button', { name: /^Fell Fair/ })).toBeVisible();
  await page.getByLabel(/^What products cost you/).fill('T-shirt = 9.505');
  await page.getByLabel('Fee, percent of the price').click();
  await expect(page.getByText('is not a line such as')).toBeVisible();
  await page.getByLabel('Words that may stand nowhere').fill('bargain, steal');
  await page.getByLabel('Fee, percent of the price').click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'As a file' }).click();
  const file = JSON.parse(await readFile(await (await download).path(), 'utf8')) as {
    channel: string;
    forbidden: string[];
  };
  expect([file.channel, file.forbidden]).toEqual(['Fell Fair', ['bargain', 'steal']]);
  const take = (content: string | Buffer, filename = 'channel.json') =>
    page
      .getByLabel('File of a channel or a print shop')
      .setInputFiles({ name: filename, mimeType: 'application/json', buffer: Buffer.from(content) });
  await take(ART, 'art.svg');
  await expect(page.getByText('art.svg is not JSON.')).toBeVisible();
  await take(JSON.stringify({ ...file, capitals: 7 }));
  await expect(page.getByText('channel.json cannot be taken in.')).toBeVisible();
  await take(JSON.stringify({ ...file, channel: 'Fell Fair, again' }));
  await expect(page.getByRole('button', { name: /^Fell Fair, again/ })).toBeVisible();
});
