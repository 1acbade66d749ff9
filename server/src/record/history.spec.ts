import type { Became } from '@kettle/contract';
import type { RunningServer } from '../launch/server.js';
import { signed } from '../listings/market-answers.js';
import type { WantedListing } from '../listings/markets/market.js';
import { SELLER } from '../floor/basics/caller.js';
import { caller, smallDesign, smallTee, testServer } from '../testing/test-house.js';

describe('what became of designs', () => {
  let server: RunningServer;
  let call: ReturnType<typeof caller>;
  let id = '';
  let reference = '';
  let publicationId = '';
  let count = 0;
  const became = async (query = ''): Promise<Became> => (await call('GET', `/api/became${query}`)).body as Became;
  const tell = async (what: object): Promise<number> => {
    const body = Buffer.from(JSON.stringify(what));
    const [time, nonce] = [new Date().toISOString(), `number-${++count}`];
    const answer = await fetch(`${server.address}/answers/ticket`, {
      method: 'POST',
      headers: {
        'X-Answer-Time': time,
        'X-Answer-Number': nonce,
        'X-Answer-Signature': signed('between us', time, nonce, body),
      },
      body,
    });
    return answer.status;
  };
  const sale = (change: object = {}) => ({
    sale: 'S-1',
    reference,
    product: 'Small tee',
    colour: 'Chalk',
    copies: 2,
    price: 2195,
    currency: 'EUR',
    soldAt: '2026-11-20T10:00:00.000Z',
    ...change,
  });

  beforeAll(async () => {
    const place = { address: 'http://127.0.0.1:9', token: 't', secret: 'between us' };
    server = await testServer({ markets: new Map([['ticket', place]] as const), work: false });
    call = caller(server.address);
    const requirement = (await call('POST', '/api/requirements', smallTee({ channel: 'Quillmere Shops' }))).body;
    const art = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><circle cx="4" cy="4" r="4"/></svg>',
    );
    const asset = (await call('POST', '/api/assets', art, { 'X-Filename': 'a.svg' })).body;
    id = (await call('POST', '/api/designs', smallDesign(asset.id, [requirement.id]))).body.id as string;
    const { fields } = (await call('GET', `/api/designs/${id}/listing`)).body;
    const products = { [requirement.id]: { cost: 1000 } };
    await call('PUT', `/api/designs/${id}/listing`, { ...fields, products }, { 'If-Match': '"0"' });
    publicationId = await server.house.publications.want(
      server.house.database,
      SELLER.owner,
      { designId: id, rulesId: 'quillmere', channel: 'Quillmere Shops' },
      { title: 'Fog Signal', products: [] } as unknown as WantedListing,
    );
    reference = `${publicationId}-1`;
  });
  afterAll(() => server.stop());

  it('is what was recorded, and nothing else', async () => {
    expect(await became()).toEqual({ events: [], sales: [], more: false, rates: { home: 'GBP', rates: {} } });
  });

  it('has a sale once, with what was earned by it as the listing says what it costs', async () => {
    expect(await tell(sale())).toBe(204);
    // The market may tell it again, in another signed call.
    expect(await tell(sale())).toBe(204);
    const { sales } = await became();
    // 21.95 less 10.00 and 12 % for Quillmere.
    expect(sales.map(({ design, copies, price, earned, at }) => [design, copies, price, earned, at])).toEqual([
      ['Fog Signal', 2, 2195, 932, '2026-11-20T10:00:00.000Z'],
    ]);
    expect((await became(`?design=${id}`)).sales.length).toBe(1);
    expect((await became('?design=another')).sales.length).toBe(0);
  });

  it('believes no nonsense', async () => {
    for (const change of [
      { sale: '' },
      { sale: 'x'.repeat(90) },
      { sale: 'S-2', copies: 0 },
      { sale: 'S-3', copies: 1.5 },
      { sale: 'S-4', price: -1 },
      { sale: 'S-5', currency: 'POUNDS' },
      { sale: 'S-6', soldAt: 'yesterday' },
      { sale: 'S-7', product: null },
    ])
      await tell(sale(change));
    expect((await became()).sales.length).toBe(1);
    // Of a listing that is not here.
    expect(await tell(sale({ sale: 'S-8', reference: 'nobody-1' }))).toBe(404);
    // In another currency nobody knows what it cost; a sale of tomorrow is one of a clock that is wrong.
    await tell(sale({ sale: 'S-9', currency: 'GBP', soldAt: '2999-01-01T00:00:00.000Z' }));
    const [latest] = (await became()).sales;
    expect([latest.earned, new Date(latest.at).getTime() <= Date.now()]).toEqual([null, true]);
  });

  it('notes what happens to a listing once, when it does', async () => {
    await server.house.publications.become(publicationId, { state: 'sending' });
    await tell({ reference, state: 'live', listing: 'Q-7' });
    await tell({ reference, state: 'live', listing: 'Q-8' });
    // The name that the market gave it first stays: by that it is taken down.
    expect((await server.house.publications.get(SELLER.owner, publicationId))!.remoteId).toBe('Q-7');
    await tell({ reference, state: 'refused', reasons: [{ field: 'title', text: 'Not a card.' }] });
    await tell({ reference, state: 'sold-out' });
    const { events } = await became();
    expect(events.map(({ kind, whom, said }) => [kind, whom, said])).toEqual([
      ['sold-out', 'Quillmere Shops', ''],
      ['refused', 'Quillmere Shops', 'Not a card.'],
      ['live', 'Quillmere Shops', ''],
    ]);
  });

  it('is summed by rates that the seller enters', async () => {
    const put = (rates: object) => call('PUT', '/api/rates', { home: 'GBP', rates });
    expect((await put({ EUR: '0,85', JPY: '0.0053' })).body).toEqual({
      home: 'GBP',
      rates: { EUR: '0,85', JPY: '0.0053', GBP: '1' },
    });
    for (const rates of [{ EUR: 'much' }, { XXX: '1' }, { EUR: -1 }]) expect((await put(rates)).status).toBe(422);
    expect((await became()).rates.rates['EUR']).toBe('0,85');
  });

  it('orders tags of earlier listings by what was sold with them', async () => {
    const design = async (name: string, tags: string[]): Promise<string> => {
      const { body } = await call('POST', '/api/designs', { ...smallDesign('none', []), layers: [], name });
      const { fields } = (await call('GET', `/api/designs/${body.id}/listing`)).body;
      await call('PUT', `/api/designs/${body.id}/listing`, { ...fields, tags }, { 'If-Match': '"0"' });
      return body.id as string;
    };
    await design('One', ['often', 'rare', 'sells']);
    await design('Two', ['often']);
    await design('Three', ['often']);
    const { savedRevision, fields } = (await call('GET', `/api/designs/${id}/listing`)).body;
    await call(
      'PUT',
      `/api/designs/${id}/listing`,
      { ...fields, tags: ['sells'] },
      { 'If-Match': `"${savedRevision}"` },
    );
    const last = await design('Last', []);
    expect((await call('GET', `/api/designs/${last}/listing`)).body.earlierTags).toEqual(['sells', 'often']);
    const rare = await design('Rare birds', []);
    expect((await call('GET', `/api/designs/${rare}/listing`)).body.earlierTags).toEqual(['sells', 'often', 'rare']);
  });
});
