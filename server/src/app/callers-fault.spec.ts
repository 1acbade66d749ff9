import { SELLER } from '../floor/basics/caller.js';
import { zipSync, strToU8 } from 'fflate';
import type { DesignDocument } from '@kettle/core/model';
import { freehandLayer } from '@kettle/core/drawing';
import mysql from 'mysql2/promise';
import {
  caller,
  freshDatabase,
  isOver,
  smallDesign,
  smallTee,
  testServer,
  until,
  serverForAll,
  DISC,
} from '../testing/test-house.js';

describe('a caller’s fault', () => {
  const { server, call } = serverForAll();
  const post = (path: string, body: string | Buffer, type = 'application/json', headers: Record<string, string> = {}) =>
    fetch(server.address + path, {
      method: 'POST',
      body: typeof body === 'string' ? body : new Uint8Array(body),
      headers: { 'Content-Type': type, ...headers },
    });
  const told = async (answer: Response) => ({
    status: answer.status,
    ...(JSON.parse(await answer.text()) as { code: string; detail: string }),
  });
  const picture = async () => (await call('POST', '/api/assets', DISC, { 'X-Filename': 'disc.svg' })).body.id as string;

  it('in a file name is none: percent signs and letters of any kind stay in it, on all three ways in', async () => {
    for (const [given, kept] of [
      ['50% off.png', '50% off.png'],
      ['50%25%20off.svg', '50% off.svg'],
      ['100%-sale_%E2%98%81.svg', '100%-sale_☁.svg'],
      ['%ff%zz.svg', '%ff%zz.svg'],
    ]) {
      const { status, body } = await call('POST', '/api/assets', DISC, { 'X-Filename': given });
      expect(status).withContext(given).toBe(201);
      expect(body.filename).withContext(given).toBe(kept);
      expect((await call('POST', '/api/fonts', Buffer.from('no font at all'), { 'X-Filename': given })).status)
        .withContext(given)
        .toBe(415);
      expect((await call('POST', '/api/design-files', Buffer.from('no archive'), { 'X-Filename': given })).status)
        .withContext(given)
        .toBe(422);
    }
    // Sent as UTF-8 bytes without any encoding, as some callers do.
    const raw = await call('POST', '/api/assets', DISC, {
      'X-Filename': Buffer.from('Nebel ☁.svg').toString('latin1'),
    });
    expect(raw.body.filename).toBe('Nebel ☁.svg');
  });

  it('gets a sentence and never a 500', async () => {
    const asset = await picture();
    const document = smallDesign(asset, []);
    const deep = `{"a":${'['.repeat(20_000)}${']'.repeat(20_000)}}`;
    const cases: [string, Promise<Response>, number][] = [
      ['text instead of JSON', post('/api/designs', 'hello', 'text/plain'), 415],
      ['nothing at all', post('/api/requirements', ''), 422],
      ['deep arrays', post('/api/designs', deep), 422],
      ['half a letter', post('/api/designs', JSON.stringify(document).replace('Fog Signal', 'Fog \\ud83c')), 422],
      ['the other half', post('/api/designs', JSON.stringify(document).replace('Fog Signal', 'Fog \\uDF82')), 422],
      ['the letter NUL', post('/api/designs', JSON.stringify(document).replace('Fog Signal', 'Fog\\u0000')), 422],
      ['a text in a list’s place', post('/api/designs', JSON.stringify({ ...document, layers: 'none' })), 422],
      ['null in a list', post('/api/designs', JSON.stringify({ ...document, layers: [null] })), 422],
      ['an id with letters of its own', fetch(`${server.address}/api/designs/${encodeURIComponent('wölkchen')}`), 404],
      ['an id like a path', fetch(`${server.address}/api/assets/..%2f..%2fetc`), 404],
      ['a broken percent sign in the address', fetch(`${server.address}/api/designs/%zz`), 400],
      [
        'a requirement with letters of its own',
        fetch(
          `${server.address}/api/designs/${(await call('POST', '/api/designs', document)).body.id}/findings?requirement=${encodeURIComponent('größe')}`,
        ),
        404,
      ],
      ['an unknown picture', fetch(`${server.address}/api/pictures/nowhere`), 404],
      ['an unknown job', fetch(`${server.address}/api/jobs/nowhere`), 404],
    ];
    for (const [what, asked, status] of cases) {
      const answer = await told(await asked);
      expect(answer.status).withContext(what).toBe(status);
      expect(answer.detail.length).withContext(what).toBeGreaterThan(10);
      expect(answer.code).withContext(what).not.toBe('unexpected');
    }
    // It is the nesting that is told, before anything of it is read.
    for (const levels of [33, 20_000])
      expect((await told(await post('/api/designs', '['.repeat(levels) + ']'.repeat(levels)))).code)
        .withContext(`${levels} levels`)
        .toBe('too-deep');
    expect((await told(await post('/api/designs', `${'['.repeat(32)}${']'.repeat(32)}`))).code).not.toBe('too-deep');
    // A backslash before what looks like half a letter is no half letter, and a whole one is none either.
    for (const name of ['\\\\ud83c is four letters', '\\\\u0000 too', '\\ud83c\\udf82']) {
      expect((await post('/api/designs', JSON.stringify(document).replace('Fog Signal', name))).status)
        .withContext(name)
        .toBe(201);
    }
  });

  it('in a design file is told, whatever stands where requirements, pictures or fonts should', async () => {
    const manifest = (change: object) =>
      zipSync({
        'design.json': strToU8(
          JSON.stringify({
            format: 'kettle-sheet-design',
            version: 1,
            document: smallDesign('gone', ['tee']),
            requirements: [],
            assets: {},
            fonts: {},
            ...change,
          }),
        ),
      });
    for (const change of [
      { requirements: 'all' },
      { requirements: 7 },
      { requirements: [null] },
      { requirements: [{ id: 5 }] },
      { assets: null },
      { assets: 'x' },
      { assets: { gone: 5 } },
      { assets: { gone: { file: 7 } } },
      { fonts: [] },
      { assets: ['constructor'] },
    ]) {
      const { status } = await call('POST', '/api/design-files', Buffer.from(manifest(change)));
      expect(status).withContext(JSON.stringify(change)).toBe(201);
    }
  });

  it('in a design file that names a deleted requirement brings it back', async () => {
    const { id } = (await call('POST', '/api/requirements', smallTee({ name: 'Gone and back' }))).body;
    const design = (await call('POST', '/api/designs', smallDesign(await picture(), [id]))).body.id;
    const file = Buffer.from(await (await fetch(`${server.address}/api/designs/${design}/file`)).arrayBuffer());
    const { document } = (await call('GET', `/api/designs/${design}`)).body;
    await call('PUT', `/api/designs/${design}`, { ...document, targets: [] }, { 'If-Match': '"1"' });
    expect((await call('DELETE', `/api/requirements/${id}`)).status).toBe(204);
    const taken = await call('POST', '/api/design-files', file);
    expect(taken.status).toBe(201);
    expect(taken.body.design.document.targets).toEqual([{ requirementId: id }]);
    expect((await call('GET', `/api/requirements/${id}`)).body).toEqual(
      jasmine.objectContaining({ name: 'Gone and back', revision: 2 }),
    );
  });

  it('in names with blanks at their ends is none', async () => {
    const document = smallDesign(await picture(), []);
    const spaced = {
      ...document,
      name: 'Fog ',
      layers: [{ ...document.layers[0], name: ' Layer 1 ' }],
      groups: { g: 'Group ' },
    };
    expect((await call('POST', '/api/designs', spaced)).status).toBe(201);
    const stack = '<image w="20" h="20"><stack><layer name="Layer 1 " src="data/a.png"/></stack></image>';
    const sharp = (await import('sharp')).default;
    const png = await sharp({ create: { width: 20, height: 20, channels: 4, background: '#f00' } })
      .png()
      .toBuffer();
    const ora = await call(
      'POST',
      '/api/design-files',
      Buffer.from(zipSync({ 'stack.xml': strToU8(stack), 'data/a.png': png })),
      { 'X-Filename': 'a.ora' },
    );
    expect(ora.status).toBe(201);
    expect(ora.body.design.document.layers[0].name).toBe('Layer 1');
  });

  it('in layers of enormous size costs nobody anything', async () => {
    const requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
    for (const turn of [0, 33]) {
      const { id } = (
        await call(
          'POST',
          '/api/designs',
          smallDesign(await picture(), [requirement], { width: 100_000, height: 100_000, turn }),
        )
      ).body;
      expect((await fetch(`${server.address}/api/designs/${id}/miniature?requirement=${requirement}`)).status).toBe(
        200,
      );
      const { jobId } = (await call('POST', `/api/designs/${id}/print-files`, { requirementIds: [requirement] })).body;
      expect((await until(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver)).state).toBe('done');
    }
  });

  it('in one document never reaches the others', async () => {
    const requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
    const healthy = (await call('POST', '/api/designs', smallDesign(await picture(), [requirement]))).body.id;
    for (const assetId of ['constructor', '__proto__', 'toString', 'hasOwnProperty']) {
      const text = JSON.stringify(smallDesign('poison', [requirement])).replace('"poison"', JSON.stringify(assetId));
      expect((await post('/api/designs', text)).status)
        .withContext(assetId)
        .toBe(422);
      // One that is in the database already, from an older day, shows as what it is in its own row.
      const { id } = await server.house.designs.add(SELLER, JSON.parse(text) as DesignDocument);
      const sheet = await call('GET', '/api/sheet');
      expect(sheet.status).withContext(assetId).toBe(200);
      const row = (wanted: string) => sheet.body.rows.find((one: { designId: string }) => one.designId === wanted);
      expect(row(id).cells[0]).toEqual(
        jasmine.objectContaining({ state: 'needs-work', finding: 'The picture file is missing' }),
      );
      expect(row(healthy).cells[0].finding).not.toBe('The picture file is missing');
    }
    // What no rule foresees stays in its own row too.
    const { id } = await server.house.designs.add(SELLER, {
      ...smallDesign('x', [requirement]),
      layers: [null],
    } as unknown as DesignDocument);
    const rows = (await call('GET', '/api/sheet')).body.rows as { designId: string; cells: { finding: string }[] }[];
    expect(rows.find((one) => one.designId === id)!.cells[0].finding).toBe('Cannot be judged');
    expect(rows.find((one) => one.designId === healthy)).toBeDefined();
    await call('DELETE', `/api/designs/${id}`);
    // Nor does one without any targets stand in the way of a requirement that nobody uses.
    const { id: headless } = await server.house.designs.add(SELLER, {
      version: 1,
      name: 'Headless',
    } as unknown as DesignDocument);
    const unused = (await call('POST', '/api/requirements', smallTee({ name: 'Unused' }))).body.id;
    expect((await call('DELETE', `/api/requirements/${unused}`)).status).toBe(204);
    await call('DELETE', `/api/designs/${headless}`);
  });

  it('makes nobody wait: nonsense by the thousand is refused by its number, and an honest large drawing is taken', async () => {
    const longest = async (work: () => Promise<unknown>): Promise<number> => {
      let [most, last] = [0, performance.now()];
      const timer = setInterval(() => {
        const now = performance.now();
        most = Math.max(most, now - last);
        last = now;
      }, 1);
      await work();
      clearInterval(timer);
      return most;
    };
    const nonsense = JSON.stringify({
      version: 1,
      name: 'x',
      field: { width: 1, height: 1 },
      targets: [],
      layers: Array.from({ length: 10_000 }, () => ({})),
    });
    const answer = await told(await post('/api/designs', nonsense));
    expect(answer.status).toBe(422);
    expect(answer.detail).toContain('at most 200 layers');
    expect(await longest(() => post('/api/designs', nonsense))).toBeLessThan(250);
    expect(
      await longest(() =>
        call(
          'POST',
          '/api/design-files',
          Buffer.from(
            zipSync({
              'design.json': strToU8(
                JSON.stringify({ format: 'kettle-sheet-design', version: 1, document: JSON.parse(nonsense) }),
              ),
            }),
          ),
        ),
      ),
    ).toBeLessThan(250);
    const stroke = {
      points: Array.from({ length: 6000 }, (_, i) => (i % 3 === 2 ? 0.5 : (i * 37) % 300)),
      size: 3,
      hardness: 1,
      opacity: 1,
      hex: '#b4532a',
      erase: false,
    };
    const drawing = {
      ...smallDesign('x', []),
      layers: [{ ...freehandLayer('hand', stroke), strokes: Array.from({ length: 20 }, () => stroke) }],
    };
    expect((await call('POST', '/api/designs', drawing)).status).toBe(201);
  });
});

describe('a year of looking', () => {
  it('never runs out of prepared statements', async () => {
    const databaseUrl = await freshDatabase();
    const server = await testServer({ databaseUrl });
    const root = await mysql.createConnection(databaseUrl);
    const [[{ Value: before }]] = await root.query<mysql.RowDataPacket[]>(
      "SHOW GLOBAL VARIABLES LIKE 'max_prepared_stmt_count'",
    );
    try {
      const [[{ Value: used }]] = await root.query<mysql.RowDataPacket[]>(
        "SHOW GLOBAL STATUS LIKE 'Prepared_stmt_count'",
      );
      // The limit is lowered to what is in use and a little more; 1,500 pages of different sizes stand for 20,000
      // against the server's own 16,382.
      await root.query('SET GLOBAL max_prepared_stmt_count = ?', [Number(used) + 300]);
      const { house } = server;
      for (let i = 0; i < 1500; i++) await house.sheet.sheet(SELLER, i, 1 + (i % 400));
      expect((await caller(server.address)('GET', '/api/sheet')).status).toBe(200);
    } finally {
      await root.query('SET GLOBAL max_prepared_stmt_count = ?', [Number(before)]);
      await root.end();
      await server.stop();
    }
  });

  it('asks the database no more often for many listeners than for one, and says when there are too many', async () => {
    const server = await testServer();
    const streams: AbortController[] = [];
    // An answer that nobody holds is closed when memory is tidied up.
    const answers: Response[] = [];
    const open = async () => {
      const stop = new AbortController();
      streams.push(stop);
      const answer = await fetch(`${server.address}/api/events`, { signal: stop.signal });
      answers.push(answer);
      return answer.status;
    };
    try {
      const looks = spyOn(server.house.jobs, 'lively').and.callThrough();
      for (let i = 0; i < 40; i++) expect(await open()).toBe(200);
      const begun = performance.now();
      looks.calls.reset();
      await until(
        async () => looks.calls.count(),
        (count) => count >= 6,
      );
      // One look each quarter of a second, whoever listens.
      expect(looks.calls.count() / ((performance.now() - begun) / 250)).toBeLessThan(2);
      let status = 200;
      for (let i = 0; i < 200 && status === 200; i++) status = await open();
      expect(status).toBe(503);
      expect(answers.length).toBeGreaterThan(200);
      streams.forEach((stop) => stop.abort());
      await until(
        async () => server.house.watch.count,
        (count) => count === 0,
      );
    } finally {
      streams.forEach((stop) => stop.abort());
      await server.stop();
    }
  });
});
