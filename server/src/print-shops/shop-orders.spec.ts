import type { ShopOrder } from '@kettle/contract';
import type { Finding } from '@kettle/core/checks';
import type { PrintShopWay } from '@kettle/core/orders';
import { Faults, HOBNAIL, PrintShop, SEAMWIDE, type Trade } from '@kettle/stand-ins';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { DUTIES } from '../keeper/duties.js';
import type { RunningServer } from '../launch/server.js';
import { caller, finishedDesign, made, testServer, until } from '../testing/test-house.js';

describe('orders at a print shop', () => {
  let server: RunningServer;
  const shops: Server[] = [];
  let hobnail: PrintShop;
  let seamwide: PrintShop;
  let call: ReturnType<typeof caller>;
  let id = '';
  let requirementId = '';
  const orders = async (): Promise<ShopOrder[]> =>
    (await call('GET', `/api/designs/${id}/shop-orders`)).body as ShopOrder[];
  const sheet = (change: object = {}) => ({
    shopId: 'hobnail',
    requirementId,
    size: 'M',
    colour: 'Chalk',
    position: 'Chest',
    copies: 12,
    note: 'With care',
    ...change,
  });
  const answered = (state: string): Promise<ShopOrder[]> => until(orders, ([newest]) => newest?.state === state);

  beforeAll(async () => {
    let address = '';
    const [token, secret] = ['t', 's'];
    const shopOf = (trade: Trade, way: PrintShopWay): PrintShop =>
      new PrintShop(trade, {
        token,
        secret,
        answersTo: () => `${address}/answers/${way}`,
        looksFor: 5,
        faults: new Faults(),
      });
    hobnail = shopOf(HOBNAIL, 'print-shop');
    seamwide = shopOf(SEAMWIDE, 'transfer-shop');
    const at = async (one: PrintShop) => {
      const shop = one.app().listen(0, '127.0.0.1');
      await new Promise((resolve) => shop.once('listening', resolve));
      shops.push(shop);
      return { address: `http://127.0.0.1:${(shop.address() as AddressInfo).port}`, token, secret };
    };
    server = await testServer({
      markets: new Map([
        ['print-shop', await at(hobnail)],
        ['transfer-shop', await at(seamwide)],
      ] as const),
    });
    ({ address } = server);
    call = caller(address);
    ({ id, requirementId } = await finishedDesign(call, { channel: 'Hobnail Direct Print', dpi: 200 }));
  });
  afterAll(async () => {
    await server.stop();
    for (const shop of shops) {
      shop.closeAllConnections();
      shop.close();
    }
  });

  it('are refused with a sentence where the sheet asks for what the shop does not have', async () => {
    for (const [change, sentence] of [
      [{ size: 'XXXL' }, /no size “XXXL”/],
      [{ colour: 'Pink' }, /no colour “Pink”/],
      [{ position: 'Hem' }, /no position “Hem”/],
      [{ copies: 0 }, /at least 1/],
      [{ copies: 1.5 }, /whole number/],
    ] as const) {
      const { status, body } = await call('POST', `/api/designs/${id}/shop-orders`, sheet(change));
      expect([status, body.detail]).toEqual([422, jasmine.stringMatching(sentence)]);
    }
    expect(await orders()).toEqual([]);
  });

  it('are refused for a file that the shop does not print from, before anything is sent', async () => {
    const inks = await finishedDesign(call, {
      channel: 'Hobnail Direct Print',
      dpi: 100,
      mode: 'cmyk',
      transparency: 'allowed',
      fileTypes: ['tiff'],
    });
    const asked = { ...sheet(), requirementId: inks.requirementId };
    const { status, body } = await call('POST', `/api/designs/${inks.id}/shop-orders`, asked);
    expect([status, body.detail]).toEqual([
      422,
      jasmine.stringMatching(/^Hobnail Direct Print prints from PNG\. The file of .+ is TIFF: choose another/),
    ]);
    expect(hobnail.orders.size).toBe(0);
  });

  it('are looked at with the shop’s own reader and answered with its price', async () => {
    await made(call, `/api/designs/${id}/shop-orders`, sheet());
    const [order] = await answered('yes');
    const [{ file, answer }] = order.rounds;
    expect(answer!.price).toEqual({ each: 1150, setUp: 1500, total: 12 * 1150 + 1500, currency: 'GBP' });
    expect([order.sheet.colour, order.changedSince]).toEqual([{ name: 'Chalk', hex: '#F5F3EE' }, false]);
    // What lies at the shop is the very file that is kept here.
    const [there] = [...hobnail.orders.values()];
    expect([there.file, there.copies]).toEqual([file.sha256, 12]);
    const content = await fetch(`${server.address}/api/shop-orders/${order.id}/files/${file.sha256}`);
    expect((await content.arrayBuffer()).byteLength).toBe(file.bytes);
    expect(content.headers.get('Content-Disposition')).toContain(file.filename);
    const calls = (await call('GET', `/api/shop-orders/${order.id}/calls`)).body as { about: string; status: number }[];
    expect(calls.map(({ about }) => about.slice(0, 8))).toContain('hands in');
    expect(calls.every(({ status }) => status < 300)).toBeTrue();
  });

  it('go to the printer that takes them: a transfer in four inks ends with a yes, half-clear ink does not', async () => {
    const transfer = {
      channel: 'Seamwide Transfers',
      dpi: 300,
      mode: 'cmyk',
      transparency: 'allowed',
      fileTypes: ['tiff'],
      mirrored: true,
      conversion: { profile: null, intent: 'relative', blackPoint: true },
    } as const;
    const inks = await finishedDesign(call, transfer);
    const asked = { shopId: 'seamwide', size: 'A4', position: 'Front', ...{ requirementId: inks.requirementId } };
    const of = async () => (await call('GET', `/api/designs/${inks.id}/shop-orders`)).body as ShopOrder[];
    await made(call, `/api/designs/${inks.id}/shop-orders`, sheet(asked));
    const [order] = await until(of, ([newest]) => newest?.state === 'yes');
    expect(order.rounds[0].answer!.price).toEqual({ each: 460, setUp: 900, total: 12 * 460 + 900, currency: 'GBP' });
    expect([
      seamwide.orders.size,
      [...hobnail.orders.values()].some(({ reference }) => reference === order.id),
    ]).toEqual([1, false]);
    // Half-clear ink takes no glue.
    const { body } = await call('GET', `/api/designs/${inks.id}`);
    const layers = [{ ...body.document.layers[0], opacity: 0.5 }];
    const saved = await call(
      'PUT',
      `/api/designs/${inks.id}`,
      { ...body.document, layers },
      {
        'If-Match': `"${body.revision}"`,
      },
    );
    expect(saved.status).toBe(200);
    await made(call, `/api/designs/${inks.id}/print-files`, { requirementIds: [inks.requirementId] });
    await made(call, `/api/shop-orders/${order.id}/send`);
    const [mend] = await until(of, ([newest]) => newest.rounds[1]?.answer !== null && newest.rounds.length === 2);
    expect(mend.rounds[1].answer!.remarks.map(({ text }) => text)).toEqual([
      jasmine.stringMatching(/^\d+ % of the ink is half clear, and the glue does not hold there/),
    ]);
  });

  it('say what to mend where it is, as findings from outside, until a mended file was sent', async () => {
    // A line that no head holds: one pixel, 0.13 mm.
    const { body: saved } = await call('GET', `/api/designs/${id}`);
    const thin = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><rect x="10" y="50" width="80" height=".5" fill="#f2bd4b"/></svg>',
    );
    const asset = (
      await call('POST', '/api/assets', thin, { 'Content-Type': 'image/svg+xml', 'X-Filename': 'line.svg' })
    ).body;
    const put = (document: object, revision: number) =>
      call('PUT', `/api/designs/${id}`, document, { 'If-Match': `"${revision}"` });
    const layers = [{ ...saved.document.layers[0], assetId: asset.id }];
    const thinned = await put({ ...saved.document, layers }, saved.revision);
    expect(thinned.status).toBe(200);
    await made(call, `/api/designs/${id}/print-files`, { requirementIds: [requirementId] });
    await made(call, `/api/designs/${id}/shop-orders`, sheet({ copies: 1 }));
    const [order] = await answered('mend');
    const remark = order.rounds[0].answer!.remarks.find(({ text }) => text.includes('thinner'))!;
    expect(remark.where).not.toBeNull();
    const picture = await fetch(`${server.address}/api/shop-orders/${order.id}/files/${remark.picture}`);
    expect([picture.status, picture.headers.get('Content-Type')]).toEqual([200, 'image/png']);

    const findings = async (): Promise<Finding[]> =>
      (
        (await call('GET', `/api/designs/${id}/findings?requirement=${requirementId}`)).body as unknown as Finding[]
      ).filter(({ code }) => code === 'from-outside');
    const found = (await findings()).find(({ sentence }) => sentence.includes('thinner'))!;
    // The line lies 25.4 mm below the top: 12.7 mm and half of the layer.
    expect(found.where!.y).toBeLessThan(25.4);
    expect(found.where!.y + found.where!.height).toBeGreaterThan(25.4);

    // Nothing new is not sent again; what is mended is, in the next round of the same order.
    expect((await call('POST', `/api/shop-orders/${order.id}/send`)).body.code).toBe('nothing-new');
    await put(saved.document as object, thinned.body.revision as number);
    await made(call, `/api/designs/${id}/print-files`, { requirementIds: [requirementId] });
    expect((await orders())[0].changedSince).toBeTrue();
    expect((await findings())[0].sentence).toContain('moved on');
    await made(call, `/api/shop-orders/${order.id}/send`);
    const [mended] = await answered('yes');
    expect([mended.id, mended.rounds.length, hobnail.orders.size]).toEqual([order.id, 2, 2]);
    expect(mended.rounds[0].answer!.state).toBe('mend');
    expect(await findings()).toEqual([]);
  });

  it('stand on the job sheet, and in what became of the design', async () => {
    const { rows } = (await call('GET', '/api/sheet')).body as { rows: { cells: { listing?: string }[] }[] };
    expect(rows[0].cells[0].listing).toBe('accepted');
    const { events } = (await call('GET', `/api/became?design=${id}`)).body as {
      events: { kind: string; whom: string }[];
    };
    const kinds = events.filter(({ whom }) => whom === 'Hobnail Direct Print').map(({ kind }) => kind);
    expect([...kinds].sort()).toEqual(['shop-mend', 'shop-sent', 'shop-sent', 'shop-sent', 'shop-yes', 'shop-yes']);
  });

  it('survive a shop that is busy, deaf or silent, and make one order there', async () => {
    const before = hobnail.orders.size;
    hobnail.faults.next.push('busy', 'silent', 'deaf', null, 'silent', 'down');
    await made(call, `/api/designs/${id}/shop-orders`, sheet({ size: 'L' }));
    await answered('yes');
    expect(hobnail.orders.size).toBe(before + 1);
  });

  it('say so when the shop is not there, and can be sent again', async () => {
    // The shop told of its last answer as well: what it is asked for that is over.
    await until(
      () => server.house.jobs.counts(),
      (counts) => counts.every(({ state }) => !['queued', 'running'].includes(state)),
    );
    hobnail.faults.next.splice(0, Infinity, ...Array<'down'>(6).fill('down'));
    const { body } = await call('POST', `/api/designs/${id}/shop-orders`, sheet({ size: 'S' }));
    expect(body.jobId).toBeDefined();
    const [failed] = await until(orders, ([newest]) => newest.state === 'failed');
    expect(failed.trouble).toContain('too busy to take this');
    await made(call, `/api/shop-orders/${failed.id}/send`);
    await answered('yes');
  });

  it('are answered still when a step that was killed is done again after the answer came', async () => {
    const [order] = await orders();
    await server.house.database.change("UPDATE shop_order SET state = 'looking' WHERE id = ?", [order.id]);
    const before = (await call('GET', `/api/became?design=${id}`)).body.events.length as number;
    await made(call, `/api/shop-orders/${order.id}/ask`);
    expect((await orders())[0].state).toBe('yes');
    // It happened once.
    expect((await call('GET', `/api/became?design=${id}`)).body.events.length).toBe(before);
  });

  it('are not there without the step that sends them, and can be sent again when their run is over', async () => {
    const { house } = server;
    const before = (await orders()).length;
    // A process that ends in between: nothing of what it began is kept.
    spyOn(house.jobs, 'addBatch').and.callFake(async (_owner, _batch, steps) =>
      house.database.transaction(async (within) => {
        if (typeof steps === 'function') await steps(within);
        throw new Error('ended');
      }),
    );
    expect((await call('POST', `/api/designs/${id}/shop-orders`, sheet())).status).toBe(500);
    expect((await orders()).length).toBe(before);
    (house.jobs.addBatch as jasmine.Spy).and.callThrough();
    // Workers that are busy elsewhere: the run is cancelled before it was begun.
    await house.workers.stop();
    const { body } = await call('POST', `/api/designs/${id}/shop-orders`, sheet());
    expect((await orders())[0].state).toBe('waiting');
    await call('DELETE', `/api/jobs/${body.jobId}`);
    const [cancelled] = await orders();
    expect([cancelled.state, cancelled.trouble]).toEqual(['failed', jasmine.stringMatching(/Send it again\.$/)]);
    // What an earlier version left waiting is found by the keeper.
    await house.database.change("UPDATE shop_order SET state = 'sending', trouble = '' WHERE id = ?", [cancelled.id]);
    // What it does may be another round's turn: the duty itself.
    await DUTIES.find(({ name }) => name === 'what waits for nothing')!.run(house.database);
    expect((await orders())[0].state).toBe('failed');
    house.workers.start();
    await made(call, `/api/shop-orders/${cancelled.id}/send`);
    await answered('yes');
  });

  it('keep files to their own thread', async () => {
    const [order] = await orders();
    for (const file of ['0'.repeat(64), '..%2f..%2fetc', 'a'])
      expect((await fetch(`${server.address}/api/shop-orders/${order.id}/files/${file}`)).status).toBe(404);
    expect((await call('POST', '/api/shop-orders/nobody/ask')).status).toBe(404);
  });
});
