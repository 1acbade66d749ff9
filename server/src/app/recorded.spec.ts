import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { CALL_NAMES, partsOf, type CallName } from '@kettle/contract';
import { unpackDemo } from '../launch/demo-pack.js';
import type { RunningServer } from '../launch/server.js';
import { ROOT } from '../floor/files/shipped.js';
import { caller, emptyDatabase, freshFolder, smallTee, testServer } from '../testing/test-house.js';

/**
 * Calls and their answers on the demo, as outside tools know them. What answers otherwise than it did fails here; with
 * KETTLE_RECORD=1 the answers of today are written down instead.
 */
const RECORDED = join(ROOT, 'server/src/testing/recorded-calls.json');

interface Recorded {
  readonly call: string;
  readonly status: number;
  readonly type: string;
  readonly answer: unknown;
}

/** Items of a list, and letters of a text, that are compared. */
const [MOST_ITEMS, MOST_LETTERS] = [2, 120];

const isId = (text: string): boolean => /^[\w-]{12}$/.test(text) && /[A-Z0-9]/.test(text);
const withoutIds = (text: string): string =>
  text.replace(/(?<=[/=,-])[\w-]{12}(?=$|[/?&,])/g, (part) => (isId(part) ? '(id)' : part));

/** An answer without what is another one each time: ids, times, and what is too long to be read. */
function normal(answer: unknown): unknown {
  const ids = new Map<string, string>();
  const walk = (value: unknown): unknown => {
    if (typeof value === 'string') {
      if (/^\d{4}-\d\d-\d\dT[\d:.]+Z$/.test(value)) return '(time)';
      if (/^[0-9a-f]{64}$/.test(value)) return '(hash)';
      if (isId(value)) {
        if (!ids.has(value)) ids.set(value, `(id ${ids.size + 1})`);
        return ids.get(value);
      }
      const text = withoutIds(value).replace(/[\w-]{22,}/g, (part) => (/[A-Z0-9]/.test(part) ? '(token)' : part));
      return text.length > MOST_LETTERS ? `${text.slice(0, MOST_LETTERS)}… (${value.length})` : text;
    }
    if (Array.isArray(value))
      return [...value.slice(0, MOST_ITEMS).map(walk), ...(value.length > MOST_ITEMS ? [`… (${value.length})`] : [])];
    if (value === null || typeof value !== 'object') return value;
    return Object.fromEntries(
      Object.entries(value)
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([key, one]) => [key, walk(one)]),
    );
  };
  return walk(answer);
}

describe('recorded calls', () => {
  let server: RunningServer;
  const found: Recorded[] = [];

  beforeAll(async () => {
    const [databaseUrl, cache] = [await emptyDatabase(), await freshFolder()];
    await unpackDemo(databaseUrl, cache);
    server = await testServer({ databaseUrl, cache, work: false });
    const call = caller(server.address);
    // eslint-disable-next-line @typescript-eslint/no-explicit-any
    const ask = async (name: string, body?: unknown, headers?: Record<string, string>): Promise<any> => {
      const [method, path] = name.split(' ');
      const { status, headers: got, body: answer } = await call(method.toUpperCase(), path, body, headers);
      const type = (got.get('Content-Type') ?? '').split(';')[0];
      const said = withoutIds(name).replace(/[0-9a-f]{64}/g, '(hash)');
      // What was made on one day is told in one event: where a day ends depends on when the pack was read in.
      if (Array.isArray(answer?.events))
        answer.events = answer.events.filter(({ kind }: { kind: string }) => kind !== 'made');
      found.push({ call: said, status, type, answer: /json/.test(type) ? normal(answer) : null });
      return answer;
    };
    const at = (revision: number) => ({ 'If-Match': `"${revision}"` });
    const raw = (name: string) => ({ 'Content-Type': 'application/octet-stream', 'X-Filename': name });

    // What there is.
    const session = await ask('get /api/session');
    for (const path of ['live', 'health', 'keeper', 'naming', 'packages', 'picture-sets', 'music', 'clip-requirements'])
      await ask(`get /api/${path}`);
    for (const path of ['channel-rules', 'listings', 'price-rules', 'rates', 'print-shops', 'became', 'fonts'])
      await ask(`get /api/${path}`);
    for (const path of ['profiles', 'graphics', 'blanks', 'sheet?from=0&count=2', 'sheet', 'requirements'])
      await ask(`get /api/${path}`);
    await ask('get /api/requirements/export?as=json');
    await ask('get /api/requirements/export?as=csv&channel=Larkpost%20Market');
    const designs: { id: string; revision: number; document: { targets: { requirementId: string }[] } }[] =
      await ask('get /api/designs');
    await ask(`get /api/sheet?designs=${designs[0].id},${designs[1].id}`);
    await ask(`get /api/became?design=${session.heard?.designId ?? designs[0].id}`);
    const requirementId = designs[0].document.targets[0].requirementId;
    await ask(`get /api/requirements/${requirementId}`);
    for (const { id, document } of designs) {
      await ask(`get /api/designs/${id}`);
      await ask(`get /api/designs/${id}/revisions`);
      await ask(`get /api/designs/${id}/revisions/1`);
      await ask(`get /api/designs/${id}/findings?requirement=${document.targets[0].requirementId}`);
      await ask(`get /api/designs/${id}/findings?requirement=${document.targets[0].requirementId}&version=dark`);
      for (const part of ['failures', 'print-files', 'pictures', 'clips', 'listing', 'shop-orders', 'client-pages'])
        await ask(`get /api/designs/${id}/${part}`);
      for (const run of await ask(`get /api/designs/${id}/print-runs`)) {
        await ask(`put /api/print-runs/${run.id}`, { name: 'x' }, at(run.savedRevision));
        await ask(`post /api/print-runs/${run.id}/interests`, {
          form: 'recorded-1',
          source: 'typed',
          interests: [
            { name: 'Ada', contact: '', size: run.sizes[0], colour: run.colours[0].name, copies: 1, deposit: 0 },
          ],
        });
        await ask(`post /api/print-runs/${run.id}/interests/table`, Buffer.from('name,copies\nBo,2\nCy,none\n'), {
          'Content-Type': 'text/csv',
        });
        await ask(`put /api/print-runs/${run.id}/interests/${run.interests[0]?.id ?? 'none'}`, { deposit: 100 });
        await ask(`post /api/print-runs/${run.id}/link`);
        await ask(`delete /api/print-runs/${run.id}/link`);
        await ask(`post /api/print-runs/${run.id}/state`, { state: 'nonsense' });
      }
    }
    const withListing = designs[0];
    const listing = await ask(`get /api/designs/${withListing.id}/listing`);
    await ask(`put /api/designs/${withListing.id}/listing`, listing.fields, at(listing.savedRevision));
    await ask(`put /api/designs/${withListing.id}/listing`, listing.fields, at(listing.savedRevision + 7));
    await ask(`put /api/designs/${withListing.id}/listing`, { ...listing.fields, tags: [''], extra: 1 }, at(1));
    for (const { publication } of listing.checks)
      if (publication) {
        await ask(`get /api/publications/${publication.id}/calls`);
        await ask(`post /api/publications/${publication.id}/take-down`);
      }
    await ask(`post /api/designs/${withListing.id}/publications`, { channels: [listing.checks[0]?.rulesId ?? 'none'] });
    await ask('post /api/listings/prices', { designIds: [withListing.id], factor: '2.5', ending: null });
    for (const { id } of designs) {
      for (const order of await ask(`get /api/designs/${id}/shop-orders`)) {
        await ask(`get /api/shop-orders/${order.id}/calls`);
        await ask(`post /api/shop-orders/${order.id}/send`);
        await ask(`post /api/shop-orders/${order.id}/ask`);
        await ask(`get /api/shop-orders/${order.id}/files/${order.rounds[0]?.file.sha256}`);
      }
      for (const page of await ask(`get /api/designs/${id}/client-pages`)) {
        await ask(`post /api/client-pages/${page.id}/answers`, { text: 'Thank you.', form: 'recorded-2' });
        await ask(`post /api/client-pages/${page.id}/seen`);
        await ask(`post /api/client-pages/${page.id}/rounds`, {
          note: '',
          alternatives: [{ designId: id, pictures: [], clip: null }],
        });
        await ask(`post /api/client-pages/${page.id}/withdraw`);
      }
      for (const file of await ask(`get /api/designs/${id}/print-files`)) {
        await ask(`get /api/print-files/${file.id}`);
        await ask(`get /api/print-files/${file.id}/content`);
        await ask(`get /api/outputs/${file.id}`);
      }
      for (const picture of (await ask(`get /api/designs/${id}/pictures`)).slice(0, 2)) {
        await ask(`get /api/pictures/${picture.id}`);
        await ask(`get /api/pictures/${picture.id}/small`);
        await ask(`get /api/pictures/${picture.id}/content?view`);
      }
      for (const clip of await ask(`get /api/designs/${id}/clips`)) {
        await ask(`get /api/clips/${clip.id}/content`);
        await ask(`get /api/clips/${clip.id}/cover`);
      }
    }

    // What is kept.
    const tee = await ask('post /api/requirements', smallTee());
    await ask(`put /api/requirements/${tee.id}`, smallTee({ note: 'Changed' }), at(1));
    await ask(`put /api/requirements/${tee.id}`, smallTee({ note: 'Late' }), at(1));
    await ask('post /api/requirements', { ...smallTee(), width: -1, unknown: 1 });
    await ask(`delete /api/requirements/${requirementId}`);
    await ask('post /api/requirements/import', { text: 'Channel,Name\nLarkpost Market,Odd\n', apply: false });
    const art =
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9" fill="#b51"/></svg>';
    const asset = await ask('post /api/assets', Buffer.from(art), raw('red square.svg'));
    await ask('post /api/assets', Buffer.from('no picture'), raw('x.png'));
    await ask(`get /api/assets/${asset.id}`);
    await ask(`get /api/assets/${asset.id}/content`);
    await ask(`get /api/assets/${asset.id}/rendition?size=256&light`);
    await ask(`get /api/assets/${asset.id}/rendition?size=none&treated=nonsense`);
    await ask(`post /api/assets/${asset.id}/face`, { family: 'No such family' });
    await ask(`post /api/assets/${asset.id}/treated`, { treatments: [{ id: 'c', kind: 'colour' }] });
    await ask(`post /api/assets/${asset.id}/treated`, {
      treatments: [{ id: 'c', kind: 'crop', box: { x: 0, y: 0, width: 0.5, height: 0.5 } }],
    });
    await ask(`post /api/assets/${asset.id}/trace`, { treatments: [], colours: 2 });
    const design = {
      version: 1,
      name: 'Recorded',
      field: { width: 50.8, height: 60.96 },
      layers: [
        {
          kind: 'picture',
          id: 'one',
          name: 'Square',
          assetId: asset.id,
          opacity: 1,
          hidden: false,
          place: { x: 25, y: 25, width: 20, height: 20, turn: 0, flipX: false, flipY: false },
        },
      ],
      targets: [{ requirementId: tee.id }],
    };
    const saved = await ask('post /api/designs', design);
    const of = `/api/designs/${saved.id}`;
    await ask(`put ${of}`, { ...design, name: 'Recorded anew' }, at(1));
    await ask(`put ${of}`, design, at(1));
    await ask(`put ${of}`, design);
    await ask(`put ${of}`, { ...design, layers: [{ kind: 'cube' }, { kind: 'text', id: 'x' }, 7], extra: true }, at(2));
    await ask(`put ${of}/revisions/1/name`, { name: 'First' });
    await ask(`get ${of}/measure?requirement=${tee.id}`);
    await ask(`get ${of}/measure`);
    await ask(`get ${of}/findings`);
    await ask(`get ${of}/findings?requirement=not/an/id`);
    await ask(`get ${of}/miniature?requirement=${tee.id}&size=200`);
    await ask(`get ${of}/strip`);
    await ask(`get ${of}/revisions/2/miniature`);
    for (const as of ['kettle', 'ora', 'mockup-pdf', 'png&layers=one', 'svg&layers=one'])
      await ask(`get ${of}/file?as=${as}`);
    await ask('post /api/design-files', Buffer.from('nothing'), raw('x.kettle.zip'));
    await ask(`post ${of}/print-files`, { requirementIds: [tee.id], revision: 1 });
    await ask(`post ${of}/print-files`, { requirementIds: [] });
    const queued = await ask(`post ${of}/print-files`, { requirementIds: [tee.id] });
    await ask(`get /api/jobs/${queued.jobId}`);
    await ask(`get /api/jobs/${queued.jobId}/steps`);
    await ask(`post /api/jobs/${queued.jobId}/pause`);
    await ask(`post /api/jobs/${queued.jobId}/resume`);
    await ask(`delete /api/jobs/${queued.jobId}`);
    await ask(`post ${of}/proof-sheets`, { requirementId: tee.id });
    const shown = {
      blankId: 'tee-front',
      colourways: [{ name: 'Harbour', hex: '#1F2B4D' }],
      size: 600,
      format: 'jpeg',
    };
    await ask(`post ${of}/pictures`, shown);
    await ask(`post ${of}/pictures`, { ...shown, size: 601, crop: { of: 'box' }, behind: { kind: 'gradient' } });
    await ask('post /api/runs', { targets: [{ designId: saved.id, requirementIds: [] }] });
    await ask('post /api/picture-runs', { of: 'scenes', designs: [{ designId: saved.id }] });
    await ask('post /api/packages', {
      name: 'All',
      folders: 'design',
      changedOnly: false,
      targets: designs.map(({ id }) => ({ designId: id, requirementIds: [] })),
    });
    const [pack] = await ask('get /api/packages');
    await ask(`get /api/packages/${pack?.id}`);
    await ask(`get /api/packages/${pack?.id}/content`);
    await ask(`delete /api/packages/${pack?.id}`);
    await ask('put /api/naming', { pattern: '{nonsense}' });
    for (const kind of ['picture-sets', 'clip-requirements', 'channel-rules', 'print-shops']) {
      const [first] = await ask(`get /api/${kind}`);
      const { id: _id, revision: _revision, shipped: _shipped, ...fields } = first;
      const own = await ask(`post /api/${kind}`, fields);
      await ask(`put /api/${kind}/${own.id}`, fields, at(own.revision));
      await ask(`put /api/${kind}/${own.id}`, fields, at(own.revision));
      await ask(`put /api/${kind}/${own.id}`, fields);
      await ask(`put /api/${kind}/${first.id}`, fields, at(1));
      await ask(`delete /api/${kind}/${own.id}`);
      await ask(`delete /api/${kind}/${first.id}`);
    }
    await ask('post /api/picture-sets/use', { designIds: [saved.id], setId: null });
    await ask('put /api/rates', { home: 'EUR', rates: { USD: '0.9', GBP: 'x' } });
    await ask('put /api/rates', { home: 'EUR', rates: { USD: '0.9' } });
    await ask('put /api/price-rules', { rules: [{ name: 'Usual', factor: '2.4', ending: 95 }] });
    await ask('post /api/sales/ask');
    await ask('post /api/lettering', {
      text: 'Ahoy',
      fontId: 'anton-400',
      settings: { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 },
    });
    const [family] = await ask('get /api/fonts');
    await ask('post /api/lettering', {
      text: 'Ahoy ∰',
      fontId: family.start,
      settings: { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 },
    });
    await ask(`get /api/fonts/${family.start}/files/0`);
    await ask('get /api/proof?intent=perceptual&blackPoint=false&paper=true');
    const blanks: { id: string; own?: true; areas: { id: string }[] }[] = await ask('get /api/blanks');
    const own = blanks.find((one) => one.own);
    for (const id of [blanks[0].id, ...(own ? [own.id] : [])]) {
      for (const part of ['source', 'pack', 'frames', 'files/photo.webp', 'thumbnail', 'preview?size=200&alone'])
        await ask(`get /api/blanks/${id}/${part}`);
      await ask(`get /api/blanks/${id}/preview?crop=1,2,3,4`);
      await ask(`get /api/blanks/${id}/areas/${blanks.find((one) => one.id === id)!.areas[0].id}/grid`);
      await ask(`delete /api/blanks/${id}`);
      await ask(`post /api/blanks/${id}/restore`);
    }
    const [track] = await ask('get /api/music');
    await ask(`get /api/music/${track.id}`);
    await ask(`get /api/music/${track.id}/content`);
    await ask(`put /api/music/${track.id}`, { title: 'Other', bpm: null, firstBeat: null });
    await ask('get /api/clip-makers');
    await ask('post /api/clip-runs', { clips: [{ designId: saved.id, clipId: 'none' }], side: 720, file: 'webp' });
    await ask('post /api/clip-runs', { clips: [], side: 1, file: 'gif' });
    await ask(`delete ${of}`);
    await ask(`get ${of}`);
    await ask(`post ${of}/restore`);

    // What is not there, and what is not as demanded.
    const wrong = (name: CallName) => {
      const { method, path } = partsOf(name);
      return [method, path.replace(/\{\w+\}/g, 'nothing')] as const;
    };
    for (const name of CALL_NAMES.toSorted()) {
      const [method, path] = wrong(name);
      if (path === '/api/events' || path === '/api/openapi.json') continue;
      await ask(`${method} ${path}`, method === 'post' || method === 'put' ? {} : undefined, at(1));
      if (path.includes('nothing')) await ask(`${method} ${path.replace('nothing', 'a%2Fb')}`);
    }
    if (process.env['KETTLE_RECORD'] === '1')
      await writeFile(RECORDED, `[\n${found.map((one) => JSON.stringify(one)).join(',\n')}\n]\n`);
  });
  afterAll(() => server.stop());

  it('are answered as they were', async () => {
    const before = JSON.parse(await readFile(RECORDED, 'utf8')) as Recorded[];
    expect(found.map(({ call, status }) => `${call} ${status}`)).toEqual(
      before.map(({ call, status }) => `${call} ${status}`),
    );
    for (const [i, one] of before.entries())
      expect(JSON.parse(JSON.stringify(found[i])))
        .withContext(one.call)
        .toEqual(one);
  });
});
