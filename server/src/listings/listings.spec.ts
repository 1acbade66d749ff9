import type { ListingAnswer } from '@kettle/contract';
import { emptyListing, type ChannelRules, type ChannelRulesFields, type ListingFields } from '@kettle/core/listing';
import type { RunningServer } from '../launch/server.js';
import { placesFrom } from '../floor/outside/places.js';
import { caller, isOver, smallDesign, smallTee, testServer, until } from '../testing/test-house.js';

describe('listings', () => {
  let server: RunningServer;
  let call: ReturnType<typeof caller>;
  let id = '';
  const listing = async (): Promise<ListingAnswer> =>
    (await call('GET', `/api/designs/${id}/listing`)).body as unknown as ListingAnswer;
  const save = (fields: object, revision: number) =>
    call('PUT', `/api/designs/${id}/listing`, fields, { 'If-Match': `"${revision}"` });
  const GOOD: ListingFields = {
    ...emptyListing('Fog Signal'),
    title: 'Fog Signal for the shore',
    description: 'A lamp that turns in the fog, for those who live where it is heard.',
    tags: ['fog', 'shore', 'lamp'],
  };

  beforeAll(async () => {
    server = await testServer({
      markets: new Map([['one-call', { address: 'http://127.0.0.1:9', token: 't', secret: 's' }]] as const),
    });
    call = caller(server.address);
    const art = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><circle cx="4" cy="4" r="4"/></svg>',
    );
    const asset = (await call('POST', '/api/assets', art, { 'Content-Type': 'image/svg+xml', 'X-Filename': 'a.svg' }))
      .body;
    const requirement = (await call('POST', '/api/requirements', smallTee())).body;
    id = (await call('POST', '/api/designs', smallDesign(asset.id, [requirement.id]))).body.id;
  });
  afterAll(() => server.stop());

  it('begin with the design’s name, are judged by each of its channels, and say what is missing', async () => {
    const { savedRevision, fields, pictures, checks } = await listing();
    expect([savedRevision, fields.title, fields.prices.factor, pictures]).toEqual([0, 'Fog Signal', '2.4', []]);
    expect(checks.map(({ rulesId, connected }) => [rulesId, connected])).toEqual([['larkpost', true]]);
    const [{ broken, missing }] = checks;
    expect(broken.map(({ field }) => field)).toEqual(['description', 'tags', 'pictures']);
    expect(missing).toEqual(['The print file of Small tee is not made, or out of date. Make it first.']);
  });

  it('are saved once for each revision, and nobody is overwritten', async () => {
    expect((await save(GOOD, 0)).status).toBe(200);
    const stale = await save({ ...GOOD, title: 'Another' }, 0);
    expect([stale.status, stale.body.code]).toEqual([412, 'stale-revision']);
    expect((await listing()).fields).toEqual(GOOD);
    expect((await save({ ...GOOD, title: 'Fog Signal, again' }, 1)).body['savedRevision']).toBe(2);
    expect((await save(GOOD, 2)).status).toBe(200);
    expect((await call('GET', '/api/designs/nobody/listing')).status).toBe(404);
  });

  it('are there for others to begin from', async () => {
    const kept = (await call('GET', '/api/listings')).body as unknown as { designId: string; name: string }[];
    expect(kept.map(({ designId, name }) => [designId, name])).toEqual([[id, 'Fog Signal']]);
  });

  it('refuse what is no listing, with a sentence', async () => {
    for (const [wrong, sentence] of [
      [{ ...GOOD, title: 'x'.repeat(400) }, /Title/],
      [{ ...GOOD, tags: 'rain' }, /./],
      [{ ...GOOD, prices: { factor: 'twice', ending: 95 } }, /number from 0 to 100/],
      [{ ...GOOD, prices: { factor: '2', ending: 9.5 } }, /whole number/],
      [{ ...GOOD, products: { a: { price: -1 } } }, /./],
      [{ ...GOOD, products: { a: { price: 19.95 } } }, /./],
      [{ ...GOOD, exceptions: { '../x': {} } }, /./],
      [{ ...GOOD, more: 1 }, /./],
    ] as const) {
      const answer = await save(wrong, 3);
      expect(answer.status).withContext(JSON.stringify(wrong)).toBe(422);
      expect(answer.body.detail as string).toMatch(sentence);
    }
    // Words are words: what looks like a script is kept and answered as it is, as JSON.
    const script = { ...GOOD, description: `<script>alert(1)</script> ${GOOD.description}` };
    expect((await save(script, 3)).status).toBe(200);
    expect((await listing()).fields.description).toBe(script.description);
    expect((await save(GOOD, 4)).status).toBe(200);
  });

  it('take a price rule together, kept under a name, and leave prices that were set by hand', async () => {
    const rules = [{ name: 'Fair', factor: '3', ending: 0 }];
    expect((await call('PUT', '/api/price-rules', { rules })).status).toBe(200);
    expect((await call('GET', '/api/price-rules')).body).toEqual({ rules });
    for (const wrong of [
      { name: '', factor: '3', ending: 0 },
      { name: 'A', factor: 'x', ending: 0 },
    ])
      expect((await call('PUT', '/api/price-rules', { rules: [wrong] })).status).toBe(422);
    const { savedRevision, fields } = await listing();
    const products = { tee: { price: 777 } };
    await save({ ...fields, products }, savedRevision);
    const apply = () => call('POST', '/api/listings/prices', { designIds: [id, id], factor: '3', ending: 0 });
    expect((await apply()).body).toEqual({ changed: 1 });
    expect((await apply()).body).toEqual({ changed: 0 });
    const after = await listing();
    expect([after.fields.prices, after.fields.products]).toEqual([{ factor: '3', ending: 0 }, products]);
    expect((await save(GOOD, after.savedRevision)).status).toBe(200);
  });

  it('fill in the design’s name and its colours where a text says so', async () => {
    const { savedRevision } = await listing();
    await save({ ...GOOD, title: '{name}, in {colours}', description: 'x {name}' }, savedRevision);
    const { checks } = await listing();
    // “x Fog Signal” is what is counted, not “x {name}”.
    expect(checks[0].broken.find(({ field }) => field === 'description')!.sentence).toContain('12 letters');
    expect(checks[0].broken.some(({ field }) => field === 'title')).toBeFalse();
    expect((await save(GOOD, savedRevision + 1)).status).toBe(200);
  });

  it('are not sent while a channel would refuse them, and nothing is noted then', async () => {
    const answer = await call('POST', `/api/designs/${id}/publications`, { channels: ['larkpost'] });
    expect([answer.status, answer.body.code]).toEqual([409, 'not-as-demanded']);
    expect(answer.body.detail as string).toContain('Larkpost Market would refuse this: There is no picture');
    expect((await listing()).checks[0].publication).toBeNull();
    const other = await call('POST', `/api/designs/${id}/publications`, { channels: ['quillmere'] });
    expect([other.status, other.body.code]).toEqual([404, 'no-such-channel']);
  });

  it('to a market that nobody hears of fail in a sentence, and stay as they were', async () => {
    const run = async (path: string, body: object) => {
      const { body: asked } = await call('POST', `/api/designs/${id}/${path}`, body);
      return until(async () => (await call('GET', `/api/jobs/${asked.jobId}`)).body as never, isOver);
    };
    const { targets } = (await call('GET', `/api/designs/${id}`)).body.document;
    await run('print-files', { requirementIds: targets.map((one: { requirementId: string }) => one.requirementId) });
    await run('pictures', {
      blankId: 'tee-front',
      colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
      size: 1200,
      format: 'jpeg',
    });
    const { pictures, checks } = await listing();
    expect(pictures.map(({ width, height, plain }) => [width, height, plain])).toEqual([[1200, 1200, true]]);
    expect([checks[0].broken, checks[0].missing]).toEqual([[], []]);
    const job = (await run('publications', { channels: ['larkpost'] })) as { state: string };
    expect(job.state).toBe('failed');
    const { publication } = (await listing()).checks[0];
    expect(publication!.state).toBe('failed');
    expect(publication!.reasons[0].text).toContain('Larkpost Market did not answer.');
    const { body: calls } = await call('GET', `/api/publications/${publication!.id}/calls`);
    expect((calls as unknown as { status: null }[]).map(({ status }) => status)).toEqual(Array(6).fill(null));
    expect((await call('GET', '/api/publications/nobody/calls')).status).toBe(404);
    // One whose run is cancelled before it began waits for nothing, and can be sent again; so does what is taken down.
    await server.house.workers.stop();
    const state = async () => (await listing()).checks[0].publication!.state;
    for (const [path, body] of [
      [`designs/${id}/publications`, { channels: ['larkpost'] }],
      [`publications/${publication!.id}/take-down`, {}],
    ] as const) {
      const { body: asked } = await call('POST', `/api/${path}`, body);
      expect(['waiting', 'taking-down']).toContain(await state());
      await call('DELETE', `/api/jobs/${asked.jobId}`);
      expect(await state()).toBe('failed');
    }
    server.house.workers.start();
  });

  it('have rules that are data: shipped ones stay, one’s own are added, changed and taken away', async () => {
    const rules = (await call('GET', '/api/channel-rules')).body as unknown as ChannelRules[];
    expect(rules.map(({ id: one, shipped }) => [one, shipped])).toEqual([
      ['larkpost', true],
      ['quillmere', true],
    ]);
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = rules[0];
    const own: ChannelRulesFields = { ...fields, channel: 'Harbour fair', by: null };
    const { status, body: added } = await call('POST', '/api/channel-rules', own);
    expect(status).toBe(201);
    for (const wrong of [
      { ...own, currency: 'XXX' },
      { ...own, title: { least: 9, most: 3 } },
      { ...own, fees: { percent: '120', fixed: 0 } },
      { ...own, pictures: { ...own.pictures, shapes: ['2:1'] } },
    ])
      expect((await call('POST', '/api/channel-rules', wrong)).status).toBe(422);
    const change = (at: number) =>
      call('PUT', `/api/channel-rules/${added.id}`, { ...own, capitals: 1 }, { 'If-Match': `"${at}"` });
    expect([(await change(1)).status, (await change(1)).status]).toEqual([200, 412]);
    expect((await call('DELETE', '/api/channel-rules/larkpost')).status).toBe(404);
    expect((await call('DELETE', `/api/channel-rules/${added.id}`)).status).toBe(204);
  });

  it('find their markets by what is set outside, or say what is wrong with that', () => {
    const good = { 'one-call': { address: 'http://localhost:1', token: 'a', secret: 'b' } };
    expect([...placesFrom(JSON.stringify(good)).keys()]).toEqual(['one-call']);
    for (const [wrong, said] of [
      ['{', 'cannot be read as JSON'],
      [JSON.stringify({ pigeon: good['one-call'] }), 'nobody is spoken with by “pigeon”'],
      [JSON.stringify({ ticket: { ...good['one-call'], address: 'file:///etc' } }), 'is no address'],
      [JSON.stringify({ ticket: { address: 'http://a' } }), 'no token or no secret'],
    ])
      expect(() => placesFrom(wrong)).toThrowError(new RegExp(`KETTLE_MARKETS.*${said}`));
  });
});
