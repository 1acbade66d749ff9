import type { ClientPage, PrintRun } from '@kettle/contract';
import { getDocument, VerbosityLevel } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { unzipSync } from 'fflate';
import { SELLER } from '../floor/basics/caller.js';
import type { RunningServer } from '../launch/server.js';
import { caller, finishedDesign, made, testServer } from '../testing/test-house.js';

/** Somebody with a browser and no session: keeps cookies, follows nothing. */
function guest(address: string) {
  let cookie = '';
  return async (method: string, path: string, form?: Readonly<Record<string, string>>, headers: object = {}) => {
    const response = await fetch(address + path, {
      method,
      redirect: 'manual',
      headers: { ...(cookie ? { Cookie: cookie } : {}), ...headers },
      body: form && new URLSearchParams(form),
    });
    cookie = response.headers.get('Set-Cookie')?.split(';')[0] ?? cookie;
    return { status: response.status, headers: response.headers, text: await response.text() };
  };
}
const formIn = (html: string): string => /name="form" value="([^"]+)"/.exec(html)![1];

describe('pages for guests, while the seller’s side demands a password', () => {
  let server: RunningServer;
  let seller: ReturnType<typeof caller>;
  let id = '';
  let requirementId = '';
  const PASSWORD = 'rain on the gauge';
  const page = async (): Promise<ClientPage> =>
    ((await seller('GET', `/api/designs/${id}/client-pages`)).body as ClientPage[])[0];

  beforeAll(async () => {
    server = await testServer({ password: PASSWORD, guestLimits: { calls: 2000, wrong: 12, said: 200 } });
    const signedIn = await fetch(`${server.address}/sign-in`, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ password: PASSWORD }),
    });
    const cookie = signedIn.headers.get('Set-Cookie')!.split(';')[0];
    const plain = caller(server.address);
    seller = (method, path, body, headers = {}) => plain(method, path, body, { ...headers, Cookie: cookie });
    ({ id, requirementId } = await finishedDesign(seller));
  });
  afterAll(() => server.stop());

  const wish = (change: object = {}) => ({
    seller: 'Tarn End Weather Club',
    client: 'Fell Rescue',
    note: 'As we spoke of.',
    days: 30,
    passPhrase: '',
    alternatives: [{ designId: id, pictures: [], clip: null }],
    ...change,
  });
  const newPage = async (change: object = {}): Promise<ClientPage> => {
    const { status, body } = await seller('POST', `/api/designs/${id}/client-pages`, wish(change));
    expect(status).toBe(201);
    return body as ClientPage;
  };

  describe('the client’s page', () => {
    it('shows pictures and true sizes in the seller’s name, and nothing else can be asked with its link', async () => {
      const { path } = await newPage();
      expect(path).toMatch(/^\/c\/[\w-]{22}$/);
      const ask = guest(server.address);
      const { status, text, headers } = await ask('GET', path);
      expect(status).toBe(200);
      expect(text).toContain('Tarn End Weather Club shows this to Fell Rescue');
      // A picture of 25.4 mm, measured on the print file.
      expect(text).toMatch(/<b>2\.[56] × 2\.[56] cm<\/b>/);
      expect(headers.get('Content-Security-Policy')).toContain("default-src 'none'");
      expect(headers.get('Content-Security-Policy')).not.toContain('unsafe-inline');
      expect(headers.get('X-Robots-Tag')).toContain('noindex');
      expect(headers.get('Set-Cookie')).toBeNull();
      const [picture] = text.match(/\/c\/[\w-]{22}\/files\/[0-9a-f]{64}/)!;
      const file = await ask('GET', picture);
      expect([file.status, file.headers.get('Content-Type')]).toEqual([200, 'image/jpeg']);
      // Its print file is named on the page and not given out; neither is anything of the seller's.
      const { rounds } = await page();
      const [{ files }] = rounds[0].alternatives;
      expect((await ask('GET', `${path}/files/${files[0].sha256}`)).status).toBe(404);
      for (const other of [
        '/api/designs',
        `/api/designs/${id}`,
        `/api/designs/${id}/client-pages`,
        `/api/print-files/x`,
        `${path}/../../api/designs`,
        `${path}/files/..%2f..%2fapi`,
        '/',
      ])
        expect((await ask('GET', other)).status)
          .withContext(other)
          .toBeGreaterThanOrEqual(400);
    });

    it('takes comments with a place, once each, and shows what looks like markup as it was written', async () => {
      const { path } = await newPage();
      const ask = guest(server.address);
      const form = formIn((await ask('GET', path)).text);
      const word = {
        form,
        round: '1',
        kind: 'comment',
        name: '<b>Ada</b>',
        text: '<script>alert(1)</script>\nA little higher?',
        alternative: '',
        picture: '0',
        x: '0.25',
        y: '0.5',
      };
      expect((await ask('POST', `${path}/words`, word)).status).toBe(303);
      // The same form again, as by a second press, is the same comment.
      expect((await ask('POST', `${path}/words`, word)).status).toBe(303);
      const { words, approval } = await page();
      const heard = async (): Promise<unknown> => (await seller('GET', '/api/session')).body.heard;
      expect(await heard()).toEqual({ count: 1, designId: id });
      expect(words.length).toBe(1);
      expect([words[0].pin, words[0].seen, approval]).toEqual([{ picture: 0, x: 0.25, y: 0.5 }, false, null]);
      const { text } = await ask('GET', path);
      expect(text).not.toContain('<script>alert');
      expect(text).toContain('&lt;script&gt;alert(1)&lt;/script&gt;');
      expect(text).toContain('&lt;b&gt;Ada&lt;/b&gt;');
      expect(text).toContain('<circle cx="25" cy="50"');
      // The seller answers, and it is read.
      const seen = (await seller('POST', `/api/client-pages/${(await page()).id}/seen`)).body as ClientPage;
      expect(seen.words[0].seen).toBeTrue();
      expect(await heard()).toBeNull();
      await seller('POST', `/api/client-pages/${seen.id}/answers`, { text: 'Gladly.', form: 'answer-1' });
      expect((await ask('GET', path)).text).toContain('Gladly.');
    });

    it('refuses what is no answer with a sentence, and keeps what was written', async () => {
      const { path } = await newPage();
      const ask = guest(server.address);
      const form = formIn((await ask('GET', path)).text);
      const word = { form, round: '1', kind: 'comment', name: 'Ada', text: 'Hello' };
      for (const [change, sentence] of [
        [{ text: '' }, 'Write what you would like to say'],
        [{ name: ' ' }, 'Say who you are'],
        [{ kind: 'delete' }, 'does not know what was meant'],
        [{ text: 'x'.repeat(2001) }, 'longer than 2000 letters'],
      ] as const) {
        const answer = await ask('POST', `${path}/words`, { ...word, ...change });
        expect([answer.status, answer.text.includes(sentence)])
          .withContext(sentence)
          .toEqual([422, true]);
      }
      expect((await ask('POST', `${path}/words`, { ...word, name: '', text: 'Long and dear' })).text).toContain(
        'Long and dear',
      );
      // Ten megabytes are not read to their end.
      const huge = await ask('POST', `${path}/words`, { ...word, text: 'x'.repeat(10_000_000) });
      expect([huge.status, huge.text.includes('fewer words')]).toEqual([413, true]);
      expect((await page()).words).toEqual([]);
    });

    it('writes down a yes to exactly what is shown, and says when that is no longer what it is', async () => {
      const { path } = await newPage({ client: 'Beacon Walkers' });
      const ask = guest(server.address);
      const form = formIn((await ask('GET', path)).text);
      await ask('POST', `${path}/words`, { form, round: '1', kind: 'approval', name: 'Ben', text: '' });
      const approved = await page();
      const { revision, document } = (await seller('GET', `/api/designs/${id}`)).body;
      const files = approved.rounds[0].alternatives[0].files;
      expect(approved.approval!.approved).toEqual(
        jasmine.objectContaining({ designId: id, revision, print: jasmine.stringMatching(/^[0-9a-f]{64}$/) }),
      );
      expect(approved.approval!.approved!.files).toContain(files[0]);
      expect(approved.changedSince).toBeFalse();
      expect((await ask('GET', path)).text).toContain('You said yes to Fog Signal');

      // Another name changes nothing that is printed; another place does.
      const put = async (change: object): Promise<void> => {
        const now = (await seller('GET', `/api/designs/${id}`)).body.revision as number;
        await seller('PUT', `/api/designs/${id}`, { ...document, ...change }, { 'If-Match': `"${now}"` });
      };
      await put({ name: 'Fog Signal, renamed' });
      expect((await page()).changedSince).toBeFalse();
      const [layer] = document.layers;
      await put({ layers: [{ ...layer, place: { ...layer.place, y: 30 } }] });
      expect((await page()).changedSince).toBeTrue();
      expect((await ask('GET', path)).text).toContain('It has changed since');

      // The record is a paper that another reader reads.
      const record = await fetch(`${server.address}/api/client-pages/${approved.id}/record`, {
        headers: { Cookie: await sessionOf(server.address, PASSWORD) },
      });
      const pdf = await getDocument({
        data: new Uint8Array(await record.arrayBuffer()),
        verbosity: VerbosityLevel.ERRORS,
      }).promise;
      const text = (await (await pdf.getPage(1)).getTextContent()).items
        .map((one) => ('str' in one ? one.str : ''))
        .join(' ');
      expect(text).toContain('Ben said yes to Fog Signal');
      expect(text).toContain('no longer what was approved');
      expect(text.replaceAll(' ', '')).toContain(files[0].sha256);
      await pdf.destroy();

      // What it is now is shown in the next round; a yes to the round before is none to this.
      await put({});
      await made(seller, `/api/designs/${id}/print-files`, { requirementIds: [requirementId] });
      const next = await seller('POST', `/api/client-pages/${approved.id}/rounds`, {
        note: 'Higher now',
        alternatives: wish().alternatives,
      });
      expect(next.status).toBe(200);
      expect((next.body as ClientPage).approval).toBeNull();
      const late = await ask('POST', `${path}/words`, {
        form: 'a-late-form',
        round: '1',
        kind: 'approval',
        name: 'Ben',
        text: '',
      });
      expect([late.status, late.text.includes('something newer')]).toEqual([409, true]);
    });

    it('lets a client pick among alternatives, and wants one picked before a yes', async () => {
      const alternatives = [id, id].map((designId) => ({ designId, pictures: [], clip: null }));
      const { path } = await newPage({ alternatives });
      const ask = guest(server.address);
      const html = (await ask('GET', path)).text;
      expect(html).toContain('Which one shall it be?');
      const word = { form: formIn(html), round: '1', kind: 'approval', name: 'Ben', text: '' };
      expect((await ask('POST', `${path}/words`, word)).status).toBe(422);
      await ask('POST', `${path}/words`, { ...word, alternative: '1' });
      expect((await page()).approval!.alternative).toBe(1);
    });

    it('shows a clip that goes with it, which can be wound', async () => {
      const [shown] = (await page()).rounds[0].alternatives[0].pictures;
      // Any bytes will do for a clip here: they are handed out as they are.
      const { house } = server;
      const clip = await house.outputStore.add({
        owner: SELLER.owner,
        kind: 'clip',
        designId: id,
        revision: 1,
        about: 'c',
        recipe: 'ab'.repeat(32),
        sha256: shown.sha256,
        bytes: shown.bytes,
        filename: 'fog.webm',
        mediaType: 'video/webm',
        accepted: true,
        record: {},
      });
      const { path } = await newPage({ alternatives: [{ designId: id, pictures: [], clip: clip.id }] });
      const ask = guest(server.address);
      const [, src] = /<video[^>]* src="([^"]+)"/.exec((await ask('GET', path)).text)!;
      const part = await ask('GET', src, undefined, { Range: 'bytes=0-9' });
      expect([part.status, part.text.length > 0]).toEqual([206, true]);
    });

    it('opens by its pass phrase alone where it has one', async () => {
      const { path } = await newPage({ passPhrase: 'seven gauges' });
      const ask = guest(server.address);
      const closed = await ask('GET', path);
      expect([closed.status, closed.text.includes('Pass phrase'), closed.text.includes('/files/')]).toEqual([
        401,
        true,
        false,
      ]);
      expect((await ask('POST', `${path}/words`, { kind: 'comment' })).status).toBe(401);
      const { rounds } = await page();
      const file = `${path}/files/${rounds[0].alternatives[0].pictures[0].sha256}`;
      expect((await ask('GET', file)).status).toBe(401);
      expect((await ask('POST', `${path}/open`, { words: 'six gauges' })).status).toBe(403);
      expect((await ask('POST', `${path}/open`, { words: 'seven gauges' })).status).toBe(303);
      expect((await ask('GET', path)).status).toBe(200);
      expect((await ask('GET', file)).status).toBe(200);
      // What was let in here opens no other page.
      const other = await newPage({ passPhrase: 'seven gauges' });
      expect((await ask('GET', other.path)).status).toBe(401);
    });

    it('is gone, kindly, once it is withdrawn or over', async () => {
      const { path, id: pageId } = await newPage();
      const ask = guest(server.address);
      const { rounds } = await page();
      await seller('POST', `/api/client-pages/${pageId}/withdraw`);
      const answer = await ask('GET', path);
      expect([answer.status, answer.text.includes('This page is closed')]).toEqual([410, true]);
      expect((await ask('GET', `${path}/files/${rounds[0].alternatives[0].pictures[0].sha256}`)).status).toBe(410);
      expect((await ask('POST', `${path}/words`, { kind: 'comment' })).status).toBe(410);
      expect(
        (await seller('POST', `/api/client-pages/${pageId}/rounds`, { note: '', alternatives: wish().alternatives }))
          .status,
      ).toBe(409);
      const short = await newPage({ days: 1 });
      await server.house.database.change('UPDATE client_page SET expires_at = ? WHERE id = ?', [
        new Date(Date.now() - 1000),
        short.id,
      ]);
      expect((await ask('GET', short.path)).status).toBe(410);
    });

    it('ends with its design, and comes back with it', async () => {
      const { path } = await newPage();
      const ask = guest(server.address);
      const { rounds } = await page();
      const file = `${path}/files/${rounds[0].alternatives[0].pictures[0].sha256}`;
      const statuses = async () => [(await ask('GET', path)).status, (await ask('GET', file)).status];
      expect(await statuses()).toEqual([200, 200]);
      expect((await seller('DELETE', `/api/designs/${id}`)).status).toBe(204);
      expect(await statuses()).toEqual([404, 404]);
      expect((await ask('POST', `${path}/words`, { kind: 'comment' })).status).toBe(404);
      await seller('POST', `/api/designs/${id}/restore`);
      expect(await statuses()).toEqual([200, 200]);
    });

    it('says so while the records are away, and what was written is sent by a press, once', async () => {
      const { path } = await newPage();
      const ask = guest(server.address);
      const form = formIn((await ask('GET', path)).text);
      const word = { form, round: '1', kind: 'comment', name: 'Ada', text: 'A little "higher"?', alternative: '' };
      const { database } = server.house;
      const away = spyOn(database, 'rows').and.rejectWith(Object.assign(new Error('gone'), { code: 'ECONNREFUSED' }));
      const unforeseen = spyOn(server.house.log, 'error').and.callThrough();
      const { status, text } = await ask('POST', `${path}/words`, word);
      expect([status, (await ask('GET', path)).status]).toEqual([503, 503]);
      expect(unforeseen.calls.allArgs().flat()).not.toContain('unforeseen on a page for guests');
      expect(text).toContain('cannot write anything down just now');
      away.and.callThrough();
      // As a browser does: the fields of the form that was answered, sent where it says.
      const fields = [...text.matchAll(/<input type='hidden' name='([^']*)' value='([^']*)'>/g)];
      const given = Object.fromEntries(fields.map(([, name, value]) => [name, value.replaceAll('&quot;', '"')]));
      expect(given).toEqual(word);
      const action = /action='([^']*)'/.exec(text)![1];
      for (let i = 0; i < 2; i++) expect((await ask('POST', action, given)).status).toBe(303);
      expect((await page()).words.map((one) => one.text)).toEqual(['A little "higher"?']);
    });

    it('refuses wishes that make no page', async () => {
      for (const [change, sentence] of [
        [{ client: '' }, /whom it is for/],
        [{ days: 0 }, /one day/],
        [{ passPhrase: 'abc' }, /at least 6/],
        [{ alternatives: [] }, /what is shown/],
      ] as const) {
        const { status, body } = await seller('POST', `/api/designs/${id}/client-pages`, wish(change));
        expect([status, body.detail]).toEqual([422, jasmine.stringMatching(sentence)]);
      }
    });
  });

  describe('orders in hand', () => {
    let run: PrintRun;
    const now = async (): Promise<PrintRun> =>
      ((await seller('GET', `/api/designs/${id}/print-runs`)).body as PrintRun[])[0];
    const fields = (change: object = {}) => ({
      name: 'Autumn print',
      requirementId,
      shopId: 'hobnail',
      position: 'Chest',
      currency: 'GBP',
      price: 1800,
      worthFrom: 12,
      sizes: ['S', 'M'],
      colours: [{ name: 'Chalk', hex: '#F5F3EE' }],
      note: 'Handed out at the tarn.',
      ...change,
    });
    const wants = { name: 'Ada', contact: '', size: 'M', colour: 'Chalk', copies: 2, deposit: 500 };

    it('are gathered by typing and from tables, once for each form', async () => {
      const { status, body } = await seller('POST', `/api/designs/${id}/print-runs`, fields());
      expect(status).toBe(201);
      run = body as PrintRun;
      const add = (form: string, interests: object[], source = 'typed') =>
        seller('POST', `/api/print-runs/${run.id}/interests`, { form, source, interests });
      await add('form-1', [wants]);
      await add('form-1', [wants]);
      expect((await now()).interests.length).toBe(1);
      expect((await add('form-2', [{ ...wants, size: 'XL' }])).body.detail).toContain('no size “XL”');
      const read = await seller(
        'POST',
        `/api/print-runs/${run.id}/interests/table`,
        Buffer.from('name;size;how many\nBen;S;3\nCleo;XL;1\n'),
        { 'Content-Type': 'text/csv' },
      );
      expect([read.body.interests.length, read.body.wrong.length]).toEqual([1, 1]);
      await add('form-3', read.body.interests as object[], 'table');
      expect((await now()).interests.map(({ name, copies, source }) => [name, copies, source])).toEqual([
        ['Ada', 2, 'typed'],
        ['Ben', 3, 'table'],
      ]);
    });

    it('take no picture for a table', async () => {
      const table = (bytes: Buffer) =>
        seller('POST', `/api/print-runs/${run.id}/interests/table`, bytes, { 'Content-Type': 'text/csv' });
      expect((await table(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 1, 2]))).body.detail).toContain(
        'not a table of text',
      );
      expect((await table(Buffer.from('name\n"Ada'))).body.detail).toContain('quotation mark is open');
      expect((await table(Buffer.alloc(2_100_000, 'a'))).status).toBe(413);
    });

    it('have a public page, on which people enter and take it back', async () => {
      expect((await guest(server.address)('GET', `/i/${'a'.repeat(22)}`)).status).toBe(404);
      const { path } = (await seller('POST', `/api/print-runs/${run.id}/link`)).body as PrintRun;
      const ask = guest(server.address);
      const { text, headers, status } = await ask('GET', path!);
      expect([status, text.includes('7 are missing')]).toEqual([200, true]);
      expect(headers.get('Content-Security-Policy')).toContain("default-src 'none'");
      // Others who want one are not named.
      expect(text).not.toContain('Ada');
      const [picture] = text.match(/\/i\/[\w-]{22}\/pictures\/[\w-]+/)!;
      expect((await ask('GET', picture)).headers.get('Content-Type')).toBe('image/jpeg');
      const entry = {
        form: formIn(text),
        size: 'S',
        colour: 'Chalk',
        copies: '1',
        name: '<i>Dan</i>',
        contact: 'dan@example.org',
      };
      for (const [change, sentence] of [
        [{ copies: '0' }, 'at least 1'],
        [{ copies: 'many' }, 'must be a number'],
        [{ name: '' }, 'Say who it is for'],
        [{ size: 'XXL' }, 'no size'],
      ] as const) {
        const answer = await ask('POST', path!, { ...entry, ...change });
        expect([answer.status, answer.text.includes(sentence)])
          .withContext(sentence)
          .toEqual([422, true]);
      }
      // A machine that fills in every field is thanked, and nothing is noted.
      expect((await ask('POST', path!, { ...entry, website: 'spam' })).status).toBe(303);
      const sent = await ask('POST', path!, entry);
      await ask('POST', path!, entry);
      expect((await now()).interests.length).toBe(3);
      const back = new URL(sent.headers.get('Location')!, server.address).searchParams.get('back')!;
      expect((await ask('GET', `${path}/back/${back}`)).text).toContain('Take it back?');
      expect((await now()).interests.length).toBe(3);
      expect((await ask('POST', `${path}/back/${back}`)).headers.get('Location')).toContain('gone');
      expect((await now()).interests.length).toBe(2);
      expect((await ask('POST', `${path}/back/${back}`)).status).toBe(404);
      await ask('POST', path!, { ...entry, form: 'another-form-1' });
    });

    it('are closed, ordered with the files they need, delivered and erased', async () => {
      const become = (state: string) => seller('POST', `/api/print-runs/${run.id}/state`, { state });
      expect((await become('delivered')).body.code).toBe('not-now');
      await become('closed');
      const ask = guest(server.address);
      const { path } = await now();
      expect((await ask('GET', path!)).text).toContain('This print is closed');
      expect(
        (await ask('POST', path!, { form: 'form-after', size: 'S', colour: 'Chalk', copies: '1', name: 'Eve' })).status,
      ).toBe(422);
      // Pressed twice at the same time, it is ordered once.
      await Promise.all([become('ordered'), become('ordered'), become('ordered')]);
      const { events } = (await seller('GET', `/api/became?design=${id}`)).body as { events: { kind: string }[] };
      expect(events.filter(({ kind }) => kind === 'run-ordered').length).toBe(1);
      const ordered = await now();
      expect(ordered.ordered!.lines.map(({ size, copies }) => [size, copies])).toEqual([
        ['S', 4],
        ['M', 2],
      ]);
      expect(ordered.ordered!.price).toEqual({ each: 1450, setUp: 1500, total: 6 * 1450 + 1500 });
      const sheet = await fetch(`${server.address}/api/print-runs/${run.id}/order-sheet`, {
        headers: { Cookie: await sessionOf(server.address, PASSWORD) },
      });
      const zip = unzipSync(new Uint8Array(await sheet.arrayBuffer()));
      const names = Object.keys(zip);
      expect(names).toContain('order-sheet.pdf');
      const csv = new TextDecoder().decode(zip['order-sheet.csv']);
      const file = names.find((one) => one.endsWith('.png'))!;
      expect(csv).toContain(`S,Chalk,#F5F3EE,4,Chest,${file}`);
      expect(zip[file].length).toBeGreaterThan(500);
      // What was ordered stays true when a person is erased.
      const [first] = ordered.interests;
      const erased = (await seller('DELETE', `/api/print-runs/${run.id}/interests/${first.id}`)).body as PrintRun;
      expect(erased.interests[0]).toEqual(jasmine.objectContaining({ name: '', contact: '', copies: 2, erased: true }));
      await become('delivered');
      const all = (await seller('POST', `/api/print-runs/${run.id}/erase`)).body as PrintRun;
      expect(all.interests.every((one) => one.erased && one.name === '' && one.deliveredAt !== null)).toBeTrue();
      const [rows] = [
        await server.house.database.rows<{ n: number }>(
          "SELECT COUNT(*) AS n FROM interest WHERE run_id = ? AND (name <> '' OR contact <> '' OR back_hash IS NOT NULL)",
          [run.id],
        ),
      ];
      expect(Number(rows[0].n)).toBe(0);
      expect((await seller('DELETE', `/api/print-runs/${run.id}/link`)).body.path).toBeNull();
      expect((await ask('GET', path!)).status).toBe(404);
    });

    it('are changed by one at a time, and not once they are ordered', async () => {
      const other = (await seller('POST', `/api/designs/${id}/print-runs`, fields({ name: 'Second' })))
        .body as PrintRun;
      const put = (revision: number, change: object = {}) =>
        seller('PUT', `/api/print-runs/${other.id}`, fields(change), { 'If-Match': `"${revision}"` });
      expect((await put(1, { price: 2000 })).status).toBe(200);
      expect((await put(1)).status).toBe(412);
      expect((await put(2, { price: 19.5 })).status).toBe(422);
      expect((await seller('DELETE', `/api/print-runs/${other.id}`)).status).toBe(204);
    });
  });

  it('guess no links: too many wrong ones are told to wait, asked for, said something to, or told a pass phrase', async () => {
    for (const way of [
      (ask: ReturnType<typeof guest>, link: string) => ask('GET', link),
      (ask: ReturnType<typeof guest>, link: string) => ask('POST', `${link}/open`, { words: 'guess' }),
      (ask: ReturnType<typeof guest>, link: string) => ask('POST', `${link}/words`, { kind: 'comment' }),
    ]) {
      const other = await testServer({ work: false, guestLimits: { calls: 2000, wrong: 3, said: 200 } });
      try {
        const ask = guest(other.address);
        const statuses: number[] = [];
        for (let n = 0; n < 4; n++) statuses.push((await way(ask, `/c/${String(n).padStart(22, 'x')}`)).status);
        expect(statuses).withContext(String(way)).toEqual([404, 404, 404, 429]);
      } finally {
        await other.stop();
      }
    }
  });
});

/** A session's cookie, for calls whose answer is bytes. */
async function sessionOf(address: string, password: string): Promise<string> {
  const answer = await fetch(`${address}/sign-in`, {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams({ password }),
  });
  return answer.headers.get('Set-Cookie')!.split(';')[0];
}
