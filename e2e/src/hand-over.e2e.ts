import { SELLER } from '@kettle/server';
import { expect, tabTo, test } from './kettle.js';
import { Shop, TEXT } from './shop.js';

test('a worker that is killed at any call to a market leaves one listing there, never two', async ({ stage }) => {
  const shop = await Shop.open(stage, false);
  try {
    await shop.write();
    const there = {
      larkpost: () => shop.larkpost.counter.listings.size,
      quillmere: () => [...shop.quillmere.listings.values()].filter(({ state }) => state !== 'withdrawn').length,
    };
    for (const [channel, faults] of [
      ['larkpost', shop.larkpost.faults],
      ['quillmere', shop.quillmere.faults],
    ] as const)
      for (const when of ['came', 'answered'] as const)
        for (let nth = 1, reached = true; reached; nth++) {
          reached = false;
          let count = 0;
          let killed: Promise<void> | null = null;
          faults.told = (what) => {
            if (what === when && ++count === nth) {
              reached = true;
              killed = shop.kill();
            }
          };
          await shop.call('POST', `/api/designs/${shop.designId}/publications`, { channels: [channel] });
          await expect.poll(async () => killed !== null || (await shop.stateOn(channel)) === 'live').toBe(true);
          faults.told = () => undefined;
          if (killed) {
            await (killed as Promise<void>);
            await shop.work();
          }
          await expect.poll(() => shop.stateOn(channel)).toBe('live');
          expect(there[channel](), `${channel}, killed when call ${nth} ${when}`).toBe(1);
          const { publication } = (await shop.checks()).find((one) => one.rulesId === channel)!;
          await shop.call('POST', `/api/publications/${publication!.id}/take-down`);
          await expect.poll(() => shop.stateOn(channel)).toBe('down');
          expect(there[channel]()).toBe(0);
          // Every call was written down, those that were never answered too.
          if (killed) {
            const calls = await shop.call<{ status: number | null }[]>(
              'GET',
              `/api/publications/${publication!.id}/calls`,
            );
            expect(calls.length).toBeGreaterThanOrEqual(nth);
          }
        }
  } finally {
    await shop.close();
  }
});

test('markets that are slow, busy or gone do no harm; what changed is seen before it is sent again', async ({
  stage,
}) => {
  const shop = await Shop.open(stage, true);
  try {
    await shop.write();
    const publish = (): Promise<unknown> =>
      shop.call('POST', `/api/designs/${shop.designId}/publications`, { channels: ['larkpost', 'quillmere'] });
    shop.larkpost.faults.next.push('busy', 'silent', 'down');
    shop.quillmere.faults.next.push('deaf', null, 'silent', 'busy');
    await publish();
    for (const channel of ['larkpost', 'quillmere']) await expect.poll(() => shop.stateOn(channel)).toBe('live');
    expect([shop.larkpost.counter.listings.size, shop.quillmere.listings.size]).toEqual([1, 1]);
    // What a lost answer had made was found again, not made twice.
    expect([...shop.larkpost.counter.listings.values()][0].title).toBe('Rain Gauge Regulars');

    const { savedRevision: revision, fields } = await shop.call<{ savedRevision: number; fields: object }>(
      'GET',
      `/api/designs/${shop.designId}/listing`,
    );
    await shop.call(
      'PUT',
      `/api/designs/${shop.designId}/listing`,
      { ...fields, title: 'Regulars of the rain gauge', prices: { factor: '3', ending: 95 } },
      { 'If-Match': `"${revision}"` },
    );
    const [check] = await shop.checks();
    expect(check.changed).toEqual(['another title', 'Small tee for 27.95 instead of 21.95 GBP']);
    await publish();
    for (const channel of ['larkpost', 'quillmere'])
      await expect.poll(async () => (await shop.checks()).find((one) => one.rulesId === channel)!.changed).toEqual([]);
    const [listing] = shop.larkpost.counter.listings.values();
    expect([listing.title, listing.items[0].price, listing.changes]).toEqual(['Regulars of the rain gauge', 2795, 1]);
    await expect
      .poll(() => [...shop.quillmere.listings.values()].map(({ state, changes }) => [state, changes]))
      .toEqual([['live', 1]]);

    // A market that is away for long: told, what it has stays, and it is sent again by one press.
    shop.larkpost.faults.next.push(...Array.from({ length: 6 }, () => 'down' as const));
    await shop.call(
      'PUT',
      `/api/designs/${shop.designId}/listing`,
      { ...fields, title: 'The regulars' },
      { 'If-Match': `"${revision + 1}"` },
    );
    await shop.call('POST', `/api/designs/${shop.designId}/publications`, { channels: ['larkpost'] });
    await expect.poll(() => shop.stateOn('larkpost')).toBe('failed');
    const failed = (await shop.checks()).find((one) => one.rulesId === 'larkpost')!;
    expect(failed.publication!.reasons[0].text).toContain('too busy to take this (it answered 503, 6 times)');
    expect([...shop.larkpost.counter.listings.values()][0].title).toBe('Regulars of the rain gauge');
    await shop.call('POST', `/api/designs/${shop.designId}/publications`, { channels: ['larkpost'] });
    await expect.poll(() => shop.stateOn('larkpost')).toBe('live');
    expect([...shop.larkpost.counter.listings.values()].map(({ title }) => title)).toEqual(['The regulars']);

    // An answer that is not the market's changes nothing, nor does an old one that is sent again.
    const before = await shop.stateOn('quillmere');
    const forged = await fetch(`${shop.app.address}/answers/ticket`, {
      method: 'POST',
      headers: {
        'X-Answer-Time': new Date().toISOString(),
        'X-Answer-Number': 'forged-1',
        'X-Answer-Signature': '0'.repeat(64),
      },
      body: JSON.stringify({ listing: 'Q-1', state: 'withdrawn' }),
    });
    expect(forged.status).toBe(401);
    const time = new Date().toISOString();
    const what = { listing: 'Q-1', state: 'refused', reasons: [{ field: 'title', text: 'Not a card we would hang.' }] };
    expect(await shop.quillmere.answer(what, time, 'number-12')).toBe(204);
    expect(await shop.quillmere.answer(what, time, 'number-12')).toBe(409);
    expect([before, await shop.stateOn('quillmere')]).toEqual(['live', 'refused']);
    const late = new Date(Date.parse(time) - 60_000).toISOString();
    expect(await shop.quillmere.answer({ listing: 'Q-1', state: 'live' }, late, 'number-13')).toBe(204);
    expect(await shop.stateOn('quillmere')).toBe('refused');
  } finally {
    await shop.close();
  }
});

test('from a finished design to two live listings by keyboard alone, at a person’s pace', async ({ page, stage }) => {
  const shop = await Shop.open(stage, true);
  try {
    await page.goto(`${shop.app.address}/designs/${shop.designId}/artwork`);
    await expect(page.locator('.stations h1')).toHaveText('Rain Gauge Regulars');
    await page.keyboard.press('7');
    await expect(page.getByLabel('Description')).toBeVisible();
    await expect(page.getByText('Larkpost Market: The description is missing')).toBeVisible();
    await tabTo(page, /^Description/);
    await page.keyboard.type(TEXT, { delay: 100 });
    await expect(page.getByText('The description is missing')).toHaveCount(0);
    await tabTo(page, /^Tags/);
    for (const tag of ['rain', 'gauge']) {
      await page.keyboard.type(tag, { delay: 100 });
      await page.keyboard.press('Enter');
    }
    await expect(page.getByText('Larkpost Market: There are 2 tags; at least 3 are needed.')).toBeVisible();
    await page.keyboard.type('garden', { delay: 100 });
    await page.keyboard.press('Enter');

    // Quillmere has no cost for shirts: it is said, and typed.
    await page.getByRole('button', { name: /^Quillmere Shops \d thing/ }).focus();
    await page.keyboard.press('Enter');
    await tabTo(page, /^Cost of Small tee/);
    await page.keyboard.type('10,90', { delay: 100 });
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Price of Small tee')).toHaveValue('26.95');
    await expect(page.getByLabel('What you earn of Small tee')).toContainText('12.82');
    await page.getByRole('button', { name: 'Send to 2 channels' }).focus();
    await page.keyboard.press('Enter');
    for (const channel of ['Larkpost Market', 'Quillmere Shops'])
      await expect(page.getByRole('button', { name: new RegExp(`^${channel} live`) })).toBeVisible();
    expect([shop.larkpost.counter.listings.size, shop.quillmere.listings.size]).toEqual([1, 1]);
    const { fields } = await shop.call<{ fields: { description: string; tags: string[] } }>(
      'GET',
      `/api/designs/${shop.designId}/listing`,
    );
    expect([fields.description, fields.tags]).toEqual([TEXT, ['rain', 'gauge', 'garden']]);
  } finally {
    await shop.close();
  }
});

test('what is typed is not lost: not with a server that is away, not when the station is left, not when two type', async ({
  page,
  stage,
}) => {
  const shop = await Shop.open(stage, true);
  try {
    const { address, house } = shop.app;
    const kept = async () => (await house.listings.get(SELLER, shop.designId)).fields;
    await page.goto(`${address}/designs/${shop.designId}/hand-over`);
    const title = page.getByLabel(/^Title/);
    await title.fill('');
    await title.pressSequentially('Regulars of the rain gauge', { delay: 110 });
    await expect.poll(async () => (await kept()).title).toBe('Regulars of the rain gauge');

    await page.route('**/api/designs/*/listing', (route) =>
      route.request().method() === 'PUT' ? route.abort() : route.continue(),
    );
    await title.pressSequentially(', again', { delay: 110 });
    await expect(page.getByRole('alert').getByText('The server does not answer.')).toBeVisible();
    await title.pressSequentially(' and again', { delay: 110 });
    await page.unroute('**/api/designs/*/listing');
    await expect.poll(async () => (await kept()).title).toBe('Regulars of the rain gauge, again and again');
    await expect(title).toHaveValue('Regulars of the rain gauge, again and again');

    // Left in the middle of a word.
    await page.getByLabel('Description').pressSequentially('Half a sen', { delay: 110 });
    await page.getByRole('button', { name: /Artwork/ }).click();
    await expect.poll(async () => (await kept()).description).toBe('Half a sen');

    // Somebody else changes it meanwhile: neither is overwritten unasked.
    await page.getByRole('button', { name: /Hand-over/ }).click();
    await expect(title).toHaveValue('Regulars of the rain gauge, again and again');
    const { savedRevision: revision, fields } = await house.listings.get(SELLER, shop.designId);
    await house.listings.save(SELLER, shop.designId, revision, { ...fields, title: 'Theirs, and good' });
    await title.fill('Mine, and better');
    await expect(page.getByText('Changed elsewhere.')).toBeVisible();
    expect((await kept()).title).toBe('Theirs, and good');
    await page.getByRole('button', { name: 'Keep mine' }).click();
    await expect.poll(async () => (await kept()).title).toBe('Mine, and better');
    await expect(title).toHaveValue('Mine, and better');

    // An exception for one channel leaves the others alone; a wrong price is told and the old one stays.
    await page
      .getByRole('group', { name: 'Whose text this is' })
      .getByRole('button', { name: 'Quillmere Shops' })
      .click();
    await title.fill('Mine, for Quillmere');
    await expect.poll(async () => (await kept()).exceptions['quillmere']?.title).toBe('Mine, for Quillmere');
    expect((await kept()).title).toBe('Mine, and better');
    await page.getByLabel('Cost of Small tee').fill('ten');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('alert').getByText('“ten” is not an amount in EUR such as 19.95.')).toBeVisible();
  } finally {
    await shop.close();
  }
});

test('a second design begins as the listing of the first, and both are sent from the sheet', async ({
  page,
  stage,
}) => {
  const shop = await Shop.open(stage, true);
  try {
    await shop.write();
    const second = await shop.design('Fog Signal');
    await page.goto(`${shop.app.address}/designs/${second}/hand-over`);
    await page.getByLabel(/^Begin from the listing of/).selectOption('Rain Gauge Regulars');
    await expect(page.getByLabel(/^Title/)).toHaveValue('Fog Signal');
    await expect(page.getByLabel(/^Description/)).toHaveValue(TEXT);
    await expect(page.getByText('Listing saved')).toBeVisible();

    await page.goto(shop.app.address);
    for (const name of ['Rain Gauge Regulars', 'Fog Signal'])
      await page.getByLabel(`Select all of ${name}`, { exact: true }).click({ force: true });
    await page.getByRole('button', { name: 'Hand over …' }).click();
    const dialog = page.getByRole('dialog');
    // The second has no cost at Quillmere, so three of four can be sent; one channel is left out by its box.
    await expect(dialog.getByRole('button', { name: 'Send 3 listings' })).toBeEnabled();
    await dialog.getByRole('checkbox', { name: 'Quillmere Shops' }).uncheck();
    await dialog.getByRole('button', { name: 'Send 2 listings' }).click();
    await expect(dialog.getByText('live', { exact: true })).toHaveCount(2);
    expect([...shop.larkpost.counter.listings.values()].map(({ title }) => title).sort()).toEqual([
      'Fog Signal',
      'Rain Gauge Regulars',
    ]);
    expect(shop.quillmere.listings.size).toBe(0);
    await expect(dialog.getByRole('button', { name: 'Send 0 listings' })).toBeDisabled();
    await dialog.getByRole('button', { name: 'Close', exact: true }).click();
    // The sheet says so too, on the cells of that channel alone.
    await expect(
      page.getByRole('button', { name: /^Fog Signal for Larkpost Market, Small tee: ready.*, live$/ }),
    ).toBeVisible();
    await expect(page.getByRole('button', { name: /^Fog Signal for Quillmere Shops, Small tee: .*live/ })).toHaveCount(
      0,
    );
    await page.getByRole('button', { name: 'Hand over …' }).click();
    await dialog.getByRole('button', { name: 'Fog Signal' }).click();
    await expect(page).toHaveURL(new RegExp(`${second}/hand-over$`));
  } finally {
    await shop.close();
  }
});
