import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { inflateSync } from 'node:zlib';
import { CALL_NAMES, callList, partsOf } from '@kettle/contract';
import { readPrintFile } from '@kettle/stand-ins';
import { pngChunks, pngFacts } from '@kettle/core/raster';
import { shapeLayer } from '@kettle/core/drawing';
import { decode } from 'fast-png';
import pino from 'pino';
import sharp from 'sharp';
import { ROOT } from '../floor/files/shipped.js';
import { shippedFiles } from '../render/text/font-catalogue.js';
import { startRenderProcess } from '../render/render-pool.js';
import {
  freshDatabase,
  freshFolder,
  isOver,
  smallDesign,
  smallTee,
  testServer,
  until,
  serverForAll,
  DISC,
} from '../testing/test-house.js';

describe('the HTTP interface', () => {
  const { server, call } = serverForAll({ mostUploadBytes: 3_000_000 });

  const upload = async (bytes: Buffer = DISC, name = 'disc.svg') =>
    call('POST', '/api/assets', bytes, {
      'X-Filename': encodeURIComponent(name),
      'Content-Type': 'application/octet-stream',
    });
  async function start(change = {}): Promise<{ requirement: string; design: string; revision: number }> {
    const requirement = (await call('POST', '/api/requirements', smallTee(change))).body.id as string;
    const asset = (await upload()).body.id as string;
    const { id, revision } = (await call('POST', '/api/designs', smallDesign(asset, [requirement]))).body;
    return { requirement, design: id, revision };
  }
  const finished = (jobId: string) => until(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver);
  async function made(design: string, requirement: string): Promise<string> {
    const asked = await call('POST', `/api/designs/${design}/print-files`, { requirementIds: [requirement] });
    expect(asked.status).toBe(202);
    const job = await finished(asked.body.jobId);
    expect(job.state).withContext(job.message).toBe('done');
    return job.results[0].id;
  }

  it('describes exactly the calls that exist', async () => {
    const { body } = await call('GET', '/api/openapi.json');
    expect(body.openapi).toMatch(/^3\.1/);
    const described = Object.entries(body.paths as Record<string, object>)
      .flatMap(([path, methods]) => Object.keys(methods).map((method) => `${method} ${path}`))
      .sort();
    expect(described).toEqual([...CALL_NAMES].sort());
    for (const name of CALL_NAMES) {
      const { method, path } = partsOf(name);
      if (path === '/api/events') continue;
      const answer = await call(
        method.toUpperCase(),
        path.replace(/\{\w+\}/g, 'nothing'),
        method === 'post' || method === 'put' ? {} : undefined,
      );
      expect(answer.body?.code ?? '')
        .withContext(`${method} ${path}`)
        .not.toBe('no-such-call');
    }
    expect((await call('GET', '/api/nowhere')).body.code).toBe('no-such-call');
    // Several of them start a process of their own.
  });

  it('is listed in its documentation as the contract has it; `npm run api:list` writes it anew', async () => {
    expect(await readFile(join(ROOT, 'docs/api.md'), 'utf8')).toContain(
      `<!-- calls -->\n${callList()}\n<!-- /calls -->`,
    );
  });

  it('sends no answer here that is not what the contract promises', async () => {
    spyOn(server.house.outputs, 'naming').and.resolveTo({ pattern: '{design}', kept: 1 } as { pattern: string });
    const { status, body } = await call('GET', '/api/naming');
    expect([status, body.code]).toEqual([500, 'not-as-promised']);
  });

  it('is as its documentation shows, from a file on disk to a print file and a shirt picture', async () => {
    const session = /```sh\n([\s\S]*?)```/.exec(await readFile(join(ROOT, 'docs/api.md'), 'utf8'))![1];
    const folder = await freshFolder();
    await writeFile(join(folder, 'art.svg'), DISC);
    await promisify(execFile)('bash', ['-c', session], {
      cwd: folder,
      env: { ...process.env, BASE: server.address, ART: join(folder, 'art.svg') },
      timeout: 60_000,
    });
    const file = readPrintFile(await readFile(join(folder, 'print-file.png')));
    expect([file.width, file.height, Math.round(file.dpiX!), file.channels]).toEqual([1200, 1500, 300, 4]);
    const picture = await sharp(join(folder, 'shirt.jpg')).metadata();
    expect([picture.width, picture.height, picture.format]).toEqual([600, 600, 'jpeg']);
  });

  it('makes the same recipe once, and again only when something changed', async () => {
    const { requirement, design, revision } = await start();
    const first = await made(design, requirement);
    expect(await made(design, requirement)).toBe(first);
    const { document } = (await call('GET', `/api/designs/${design}`)).body;
    document.layers[0].place.x += 3;
    expect((await call('PUT', `/api/designs/${design}`, document, { 'If-Match': `"${revision}"` })).status).toBe(200);
    expect((await call('GET', `/api/print-files/${first}`)).body.outOfDate).toBeTrue();
    expect(await made(design, requirement)).not.toBe(first);
  });

  it('certifies what it made, and a stranger’s reader agrees', async () => {
    const { requirement, design } = await start();
    const id = await made(design, requirement);
    const { certificate, accepted, sha256, filename, bytes } = (await call('GET', `/api/print-files/${id}`)).body;
    expect(accepted).withContext(JSON.stringify(certificate)).toBeTrue();
    expect(filename).toBe('Fog-Signal-Larkpost-Market-Small-tee-200x240.png');
    const content = Buffer.from(await (await fetch(`${server.address}/api/print-files/${id}/content`)).arrayBuffer());
    expect(content.length).toBe(bytes);
    const { createHash } = await import('node:crypto');
    expect(createHash('sha256').update(content).digest('hex')).toBe(sha256);
    expect(readPrintFile(content)).toEqual(jasmine.objectContaining({ width: 200, height: 240, channels: 4 }));
  });

  it('accepts a grey file with a grey profile, for a grey requirement', async () => {
    const { requirement, design } = await start({ mode: 'grey' });
    const id = await made(design, requirement);
    const { certificate, accepted } = (await call('GET', `/api/print-files/${id}`)).body as {
      certificate: { demand: string; found: string }[];
      accepted: boolean;
    };
    expect(accepted).withContext(JSON.stringify(certificate)).toBeTrue();
    expect(certificate.find((row) => row.demand === 'Colour profile')!.found).toContain('Grey');
    const bytes = Buffer.from(await (await fetch(`${server.address}/api/print-files/${id}/content`)).arrayBuffer());
    const { data } = [...pngChunks(bytes)].find((chunk) => chunk.type === 'iCCP')!;
    // The colour space stands at byte 16 of the profile's header: a grey PNG may carry no other.
    expect(inflateSync(data.subarray(data.indexOf(0) + 2)).toString('latin1', 16, 20)).toBe('GRAY');
  });

  it('gives a file that is made again the name that its design has now', async () => {
    const { requirement, design, revision } = await start();
    const first = await made(design, requirement);
    const { document } = (await call('GET', `/api/designs/${design}`)).body;
    await call('PUT', `/api/designs/${design}`, { ...document, name: 'Rain Signal' }, { 'If-Match': `"${revision}"` });
    expect(await made(design, requirement)).toBe(first);
    expect((await call('GET', `/api/print-files/${first}`)).body.filename).toMatch(/^Rain-Signal-/);
  });

  it('makes files of the revision that was looked at, or says that it is no longer the newest', async () => {
    const { requirement, design, revision } = await start();
    const { document } = (await call('GET', `/api/designs/${design}`)).body;
    await call(
      'PUT',
      `/api/designs/${design}`,
      { ...document, name: 'Changed since' },
      { 'If-Match': `"${revision}"` },
    );
    const late = await call('POST', `/api/designs/${design}/print-files`, { requirementIds: [requirement], revision });
    expect([late.status, late.body.code]).toEqual([409, 'changed-meanwhile']);
    const colourways = [{ name: 'Soot', hex: '#1B1B1D' }];
    expect(
      (
        await call('POST', `/api/designs/${design}/pictures`, {
          blankId: 'tee-flat',
          colourways,
          size: 600,
          format: 'png',
          revision,
        })
      ).status,
    ).toBe(409);
    const asked = await call('POST', `/api/designs/${design}/print-files`, {
      requirementIds: [requirement],
      revision: revision + 1,
    });
    expect(await finished(asked.body.jobId)).toEqual(
      jasmine.objectContaining({ state: 'done', revision: revision + 1 }),
    );
  });

  it('waits with more than the queue may hold', async () => {
    const { requirement, design } = await start();
    const counts = spyOn(server.house.jobs, 'waiting').and.resolveTo(5000);
    const refused = await call('POST', `/api/designs/${design}/print-files`, { requirementIds: [requirement] });
    expect([refused.status, refused.body.code]).toEqual([429, 'queue-full']);
    counts.and.callThrough();
    const asked = await call('POST', `/api/designs/${design}/print-files`, { requirementIds: [requirement] });
    const [{ payload }] = await server.house.database.rows<{ payload: unknown }>(
      'SELECT payload FROM job WHERE batch_id = ?',
      [asked.body.jobId],
    );
    expect(
      Object.keys(typeof payload === 'string' ? (JSON.parse(payload) as object) : (payload as object)).sort(),
    ).toEqual(['designId', 'filename', 'requirementId', 'revision']);
    await finished(asked.body.jobId);
  });

  it('calls files out of date when their requirement changes', async () => {
    const { requirement, design } = await start();
    const id = await made(design, requirement);
    const changed = await call('PUT', `/api/requirements/${requirement}`, smallTee({ safeInsetMm: 3 }), {
      'If-Match': '"1"',
    });
    expect(changed.body.revision).toBe(2);
    expect((await call('GET', `/api/print-files/${id}`)).body.outOfDate).toBeTrue();
    const row = (await call('GET', '/api/sheet')).body.rows.find(
      (one: { designId: string }) => one.designId === design,
    );
    expect(row.cells[0].state).toBe('out-of-date');
  });

  it('makes one picture for each colour of a set', async () => {
    const { design } = await start();
    const colourways = [
      { name: 'Harbour', hex: '#1F2B4D' },
      { name: 'Soot', hex: '#1B1B1D' },
    ];
    const asked = await call('POST', `/api/designs/${design}/pictures`, {
      blankId: 'tee-flat',
      colourways,
      size: 600,
      format: 'png',
      filename: ' fog/signal front.png ',
    });
    const job = await finished(asked.body.jobId);
    expect(job).toEqual(jasmine.objectContaining({ state: 'done', total: 2, done: 2 }));
    // Named as was typed, as far as a file can be; several by their colours too.
    const named = await Promise.all(
      job.results.map(async ({ id }: { id: string }) => (await call('GET', `/api/pictures/${id}`)).body.filename),
    );
    expect(named).toEqual(['fog-signal front-Harbour.png', 'fog-signal front-Soot.png']);
    const colours = await Promise.all(
      job.results.map(async ({ id }: { id: string }) => {
        const { data } = await sharp(
          Buffer.from(await (await fetch(`${server.address}/api/pictures/${id}/content`)).arrayBuffer()),
        )
          .extract({ left: 300, top: 480, width: 4, height: 4 })
          .removeAlpha()
          .raw()
          .toBuffer({ resolveWithObject: true });
        return data[2];
      }),
    );
    expect(colours[0]).toBeGreaterThan(colours[1] + 20);
    // Opaque, with a profile, for whoever takes the file elsewhere.
    expect(
      pngFacts(
        Buffer.from(await (await fetch(`${server.address}/api/pictures/${job.results[0].id}/content`)).arrayBuffer()),
      ),
    ).toEqual(jasmine.objectContaining({ colourType: 2, profile: 'sRGB' }));
    expect((await call('GET', `/api/pictures/${job.results[0].id}`)).body).toEqual(
      jasmine.objectContaining({ colourway: 'Harbour', outOfDate: false }),
    );
    expect(
      (await call('GET', `/api/designs/${design}/pictures`)).body.every(
        (one: { outOfDate: boolean }) => !one.outOfDate,
      ),
    ).toBeTrue();
  });

  it('never overwrites a newer revision', async () => {
    const { design, revision } = await start();
    const { document } = (await call('GET', `/api/designs/${design}`)).body;
    const save = (name: string, match?: string) =>
      call('PUT', `/api/designs/${design}`, { ...document, name }, match ? { 'If-Match': match } : {});
    expect((await save('Mine', `"${revision}"`)).body.revision).toBe(revision + 1);
    const stale = await save('Theirs', `"${revision}"`);
    expect([stale.status, stale.body.code]).toEqual([412, 'stale-revision']);
    expect(stale.headers.get('Content-Type')).toContain('application/problem+json');
    expect((await save('Nobody’s')).status).toBe(428);
    expect((await call('GET', `/api/designs/${design}`)).body.document.name).toBe('Mine');
    expect(
      (await call('GET', `/api/designs/${design}/revisions`)).body.map((one: { revision: number }) => one.revision),
    ).toEqual([2, 1]);
    expect((await call('GET', `/api/designs/${design}/revisions/1`)).body.document.name).toBe('Fog Signal');
  });

  it('lets exactly one of many simultaneous saves win', async () => {
    const { design, revision } = await start();
    const { document } = (await call('GET', `/api/designs/${design}`)).body;
    const answers = await Promise.all(
      Array.from({ length: 12 }, (_, i) =>
        call('PUT', `/api/designs/${design}`, { ...document, name: `Tab ${i}` }, { 'If-Match': `"${revision}"` }),
      ),
    );
    expect(answers.filter((one) => one.status === 200).length).toBe(1);
    expect(answers.filter((one) => one.status === 412).length).toBe(11);
  });

  it('refuses nonsense with a sentence for each field and keeps nothing of it', async () => {
    const before = (await call('GET', '/api/requirements')).body.length;
    for (const [change, field] of [
      [{ dpi: 0 }, 'dpi'],
      [{ width: -3 }, 'width'],
      [{ width: 'wide' }, 'width'],
      [{ mode: 'rainbow' }, 'mode'],
      [{ fileTypes: [] }, 'fileTypes'],
      [{ width: 90_000, unit: 'px' }, 'width'],
      [{ maxBytes: 1.5 }, 'maxBytes'],
      [{ colourways: [{ name: 'Red', hex: 'red' }] }, 'colourways[0].hex'],
      [{ name: '' }, 'name'],
      // What no file can be.
      [{ mode: 'cmyk' }, 'fileTypes'],
      [{ fileTypes: ['jpeg'] }, 'fileTypes'],
      [{ fileTypes: ['webp'], width: 20_000, height: 500, unit: 'px' }, 'fileTypes'],
      [{ fileTypes: ['tiff'], packing: 'none', maxBytes: 100_000 }, 'maxBytes'],
      [{ safeInsetMm: 26 }, 'safeInsetMm'],
      [{ surprise: 1 }, 'body'],
    ] as const) {
      const { status, body } = await call('POST', '/api/requirements', { ...smallTee(), ...change });
      expect(status).withContext(JSON.stringify(change)).toBe(422);
      expect(Object.keys(body.fields)).withContext(JSON.stringify(change)).toContain(field);
      expect(body.detail.length).toBeGreaterThan(8);
    }
    expect((await call('GET', '/api/requirements')).body.length).toBe(before);
    expect((await call('POST', '/api/designs', { version: 2 })).status).toBe(422);
    const broken = await fetch(`${server.address}/api/designs`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{"version": 1,',
    });
    expect(broken.status).toBe(400);
  });

  it('refuses files with the right status and a sentence', async () => {
    expect((await upload(Buffer.alloc(0), 'empty.png')).body.code).toBe('empty');
    expect(await upload(Buffer.alloc(3_000_001, 7), 'huge.png')).toEqual(jasmine.objectContaining({ status: 413 }));
    expect((await upload(Buffer.from('not a picture'), 'cat.png')).status).toBe(415);
    expect((await upload(Buffer.from('<svg><g></svg>'), 'broken.svg')).status).toBe(422);
  });

  it('keeps the original bytes untouched and the name harmless', async () => {
    const { body } = await upload(DISC, '../../etc/Ünï\u0007code ☁.svg');
    expect(body.filename).toBe('Ünïcode ☁.svg');
    const response = await fetch(`${server.address}/api/assets/${body.id}/content`);
    expect(Buffer.compare(Buffer.from(await response.arrayBuffer()), DISC)).toBe(0);
    expect(response.headers.get('Content-Security-Policy')).toContain('sandbox');
    expect(response.headers.get('X-Content-Type-Options')).toBe('nosniff');
    const rendition = await sharp(
      Buffer.from(await (await fetch(`${server.address}/api/assets/${body.id}/rendition?size=200`)).arrayBuffer()),
    ).metadata();
    expect([rendition.width, rendition.height]).toEqual([256, 256]);
  });

  it('says what stands in the way of a file', async () => {
    // Outlines alone cannot hold a photo.
    const requirement = (await call('POST', '/api/requirements', smallTee({ fileTypes: ['svg'] }))).body.id as string;
    const photo = await sharp({ create: { width: 40, height: 40, channels: 4, background: '#c63' } })
      .png()
      .toBuffer();
    const asset = (await upload(photo, 'photo.png')).body.id as string;
    const design = (await call('POST', '/api/designs', smallDesign(asset, [requirement]))).body.id as string;
    const refused = await call('POST', `/api/designs/${design}/print-files`, { requirementIds: [requirement] });
    expect([refused.status, refused.body.code]).toEqual([409, 'file-type']);
    const inUse = await call('DELETE', `/api/requirements/${requirement}`);
    expect(inUse.status).toBe(409);
    expect(inUse.body.detail).toContain('Fog Signal');
  });

  it('prints shapes without any file behind them, and refuses half a layer', async () => {
    const requirement = (await call('POST', '/api/requirements', smallTee())).body.id as string;
    const shape = {
      ...shapeLayer('s', 'rectangle', { width: 50.8, height: 60.96 }, '#a5442f'),
      place: { x: 25.4, y: 30.48, width: 20.32, height: 10.16, turn: 0, flipX: false, flipY: false },
    };
    const document = { ...smallDesign('x', [requirement]), layers: [shape] };
    const design = (await call('POST', '/api/designs', document)).body.id as string;
    const png = decode(
      Buffer.from(
        await (
          await fetch(`${server.address}/api/print-files/${await made(design, requirement)}/content`)
        ).arrayBuffer(),
      ),
    );
    // 20.32 × 10.16 mm at 100 DPI are 80 × 40 px in the middle of 200 × 240.
    const ink = Array.from({ length: png.width * png.height }, (_, i) => i).filter((i) => png.data[i * 4 + 3] > 127);
    expect(ink.length).toBe(80 * 40);
    expect(Math.min(...ink.map((i) => i % 200))).toBe(60);
    expect([...png.data.subarray(ink[0] * 4, ink[0] * 4 + 4)]).toEqual([0xa5, 0x44, 0x2f, 255]);
    for (const broken of [
      { ...shape, shape: undefined },
      { ...shape, assetId: 'a' },
      { ...shape, parameters: { count: 'many' } },
      { ...shape, outline: { hex: '#000000', width: -1, dash: 'solid' } },
      { ...shape, kind: 'picture' },
    ]) {
      expect((await call('POST', '/api/designs', { ...document, layers: [broken] })).status)
        .withContext(JSON.stringify(broken))
        .toBe(422);
    }
  });

  it('sets lettering that any design can carry, and refuses outlines that are none', async () => {
    const settings = { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 };
    const { status, body } = await call('POST', '/api/lettering', { text: 'Fog', fontId: 'anton-latin-400', settings });
    expect(status).toBe(200);
    const text = {
      kind: 'text',
      id: 't',
      name: 'Fog',
      text: 'Fog',
      fontId: 'anton-latin-400',
      settings,
      outlines: body.outlines,
      fill: '#f2bd4b',
      outline: null,
      opacity: 1,
      hidden: false,
      place: { x: 25, y: 20, width: 30, height: 15, turn: 0, flipX: false, flipY: false },
    };
    const document = { ...smallDesign('x', []), layers: [text] };
    expect((await call('POST', '/api/designs', document)).status).toBe(201);
    for (const broken of [
      { ...text, outlines: { ...body.outlines, path: 'M0 0"/><script>' } },
      { ...text, text: 'x'.repeat(301) },
      { ...text, settings: { ...settings, bend: 9000 } },
      { ...text, outlines: undefined },
    ]) {
      expect((await call('POST', '/api/designs', { ...document, layers: [broken] })).status).toBe(422);
    }
    expect((await call('POST', '/api/lettering', { text: 'Fog', fontId: 'nope', settings })).status).toBe(404);
    expect((await fetch(`${server.address}/api/fonts/anton-latin-400/files/0`)).headers.get('Content-Type')).toBe(
      'font/woff2',
    );
    expect((await call('GET', '/api/fonts')).body.length).toBeGreaterThanOrEqual(40);
  });

  it('makes several requirements, all of them or none', async () => {
    const named = async (): Promise<string[]> =>
      ((await call('GET', '/api/requirements')).body as { name: string }[])
        .map(({ name }) => name)
        .filter((name) => name.startsWith('Panel '));
    const [front, back] = ['Panel front', 'Panel back'].map((name) => smallTee({ name }));
    const wrong = await call('POST', '/api/requirements/several', { requirements: [front, { ...back, dpi: 0 }] });
    expect([wrong.status, await named()]).toEqual([422, []]);
    expect((await call('POST', '/api/requirements/several', { requirements: [] })).body.detail).toBe(
      'Name at least one requirement.',
    );
    expect((await call('POST', '/api/requirements/several', { requirements: [front, back] })).status).toBe(204);
    expect(await named()).toEqual(['Panel front', 'Panel back']);
  });

  it('names live text in an SVG, and sets it in a face that prints alike everywhere', async () => {
    const svg = (family: string) =>
      Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 60"><text x="10" y="45" font-size="40" font-family="${family}">Drizzle</text></svg>`,
      );
    const asset = (await upload(svg('Kettle Hand'), 'words.svg')).body;
    expect(asset.liveText).toEqual(['Kettle Hand']);
    expect((await upload(svg('Anton'), 'anton.svg')).body.liveText).toBeUndefined();
    const { body: requirement } = await call('POST', '/api/requirements', smallTee());
    const { body: design } = await call('POST', '/api/designs', smallDesign(asset.id, [requirement.id]));
    const findings = (await call('GET', `/api/designs/${design.id}/findings?requirement=${requirement.id}`)).body as {
      code: string;
      sentence: string;
      fix: { kind: string };
    }[];
    const live = findings.find((one) => one.code === 'live-text')!;
    expect([live.fix.kind, live.sentence]).toEqual([
      'face',
      jasmine.stringContaining('“Kettle Hand”') as unknown as string,
    ]);
    const set = await call('POST', `/api/assets/${asset.id}/face`, { family: 'Monoton' });
    expect([set.status, set.body.liveText, set.body.filename]).toEqual([201, undefined, 'words in Monoton.svg']);
    expect((await call('POST', `/api/assets/${asset.id}/face`, { family: 'Nowhere' })).status).toBe(422);
    // The two are drawn differently, and neither in a font of this machine.
    const ink = async (id: string) => {
      const { data } = await sharp(
        Buffer.from(await (await fetch(`${server.address}/api/assets/${id}/rendition?size=512`)).arrayBuffer()),
      )
        .raw()
        .toBuffer({ resolveWithObject: true });
      let sum = 0;
      for (let i = 3; i < data.length; i += 4) sum += data[i];
      return sum;
    };
    const [before, after] = [await ink(asset.id), await ink(set.body.id)];
    expect(Math.abs(before - after) / before).toBeGreaterThan(0.05);
    // A seller's own font is found by its name once it is in.
    const own = await call('POST', '/api/fonts', await readFile(shippedFiles('rye-latin-400')![0]), {
      'X-Filename': 'rye.woff2',
    });
    expect(own.status).toBe(201);
  });

  it('says what is not measured yet, and answers anew whatever an answer is made of has changed', async () => {
    const lines = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><path d="M5 20h90M5 50h90" stroke="#123" stroke-width="2.2"/><circle cx="50" cy="80" r="15"/></svg>',
    );
    const { body: requirement } = await call('POST', '/api/requirements', smallTee({ limits: { lineMm: 0.3 } }));
    const asset = (await upload(lines, 'lines.svg')).body.id as string;
    const { id } = (await call('POST', '/api/designs', smallDesign(asset, [requirement.id]))).body;
    const paths = ['measure', 'findings'].map((what) => `/api/designs/${id}/${what}?requirement=${requirement.id}`);
    const codes = (body: readonly { code: string }[]): string[] => body.map(({ code }) => code);
    expect(codes((await call('GET', paths[1])).body)).toContain('not-measured');
    await call('GET', paths[0]);
    const before = await Promise.all(
      [...paths, `/api/requirements/${requirement.id}`].map((path) => call('GET', path)),
    );
    expect(codes(before[1].body)).not.toContain('not-measured');
    expect(codes(before[1].body)).not.toContain('thin-lines');
    // As a browser asks: fetch of this kind would add that nothing is to come from a store.
    const again = (of: (typeof before)[number], path: string) =>
      new Promise<{ status: number; body: typeof of.body }>((done, fail) =>
        httpRequest(server.address + path, { headers: { 'If-None-Match': of.headers.get('ETag')! } }, (answer) => {
          let text = '';
          answer.on('data', (piece) => (text += piece));
          answer.on('end', () => done({ status: answer.statusCode!, body: text && JSON.parse(text) }));
        })
          .on('error', fail)
          .end(),
      );
    expect((await again(before[0], paths[0])).status).toBe(304);
    // The design stays at its revision; what its print must hold does not.
    const { id: _id, revision, ...fields } = requirement;
    const changed = await call(
      'PUT',
      `/api/requirements/${requirement.id}`,
      { ...fields, limits: { lineMm: 0.9 } },
      { 'If-Match': `"${revision}"` },
    );
    expect(changed.status).toBe(200);
    const measured = await again(before[0], paths[0]);
    expect([measured.status, measured.body.revision]).toEqual([200, before[0].body.revision]);
    expect(measured.body.measured.thin.count).toBeGreaterThan(before[0].body.measured.thin.count);
    const found = await again(before[1], paths[1]);
    expect([found.status, codes(found.body).includes('thin-lines')]).toEqual([200, true]);
    expect((await again(before[2], `/api/requirements/${requirement.id}`)).status).toBe(200);
  });

  it('takes a design off the sheet and puts it back', async () => {
    const { design } = await start();
    expect((await call('DELETE', `/api/designs/${design}`)).status).toBe(204);
    expect((await call('GET', `/api/designs/${design}`)).status).toBe(404);
    expect((await call('POST', `/api/designs/${design}/restore`, {})).body.document.name).toBe('Fog Signal');
  });

  it('takes several designs off the sheet and puts them back in one call each, and says which', async () => {
    const [one, other] = [(await start()).design, (await start()).design];
    const designIds = [one, other].sort();
    expect((await call('DELETE', `/api/designs/${other}`)).status).toBe(204);
    // What was off already is not taken off again: a press that puts back brings back this call's alone.
    const gone = await call('POST', '/api/designs/remove', { designIds: [...designIds, 'unknown'] });
    expect([gone.status, gone.body]).toEqual([200, { designIds: [one] }]);
    expect((await call('POST', '/api/designs/remove', { designIds })).status).toBe(404);
    expect((await call('POST', '/api/designs/restore', { designIds })).body).toEqual({ designIds });
    for (const id of designIds) expect((await call('GET', `/api/designs/${id}`)).status).toBe(200);
    expect((await call('POST', '/api/designs/remove', { designIds: [] })).status).toBe(422);
  });

  it('serves blanks and nothing beside them', async () => {
    const { body } = await call('GET', '/api/blanks');
    expect(body.length).toBe(25);
    expect(body[0].id).toBe('tee-front');
    expect((await call('GET', '/api/blanks/tee-front/files/blank.json')).status).toBe(404);
    expect((await call('GET', '/api/blanks/tee-front/files/..%2f..%2f..%2fpackage.json')).status).toBe(404);
    const small = await sharp(
      Buffer.from(await (await fetch(`${server.address}/api/blanks/mug-left/thumbnail`)).arrayBuffer()),
    ).metadata();
    expect(small.width).toBe(200);
  });

  it('lets no other site change anything', async () => {
    const foreign = await fetch(`${server.address}/api/requirements`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: 'http://evil.example' },
      body: JSON.stringify(smallTee()),
    });
    expect(foreign.status).toBe(403);
    const reachedAs = (Host: string) =>
      new Promise<number>((resolve, reject) => {
        const { hostname, port } = new URL(server.address);
        httpRequest({ hostname, port, path: '/api/health', headers: { Host } }, (response) => {
          response.resume();
          resolve(response.statusCode ?? 0);
        })
          .on('error', reject)
          .end();
      });
    expect(await reachedAs('evil.example')).toBe(403);
    expect(await reachedAs('LocalHost')).toBe(200);
    const policy = (await fetch(`${server.address}/api/health`)).headers.get('Content-Security-Policy')!;
    expect(policy).toContain("default-src 'none'");
    expect(/script-src[^;]*/.exec(policy)![0]).not.toContain('unsafe-inline');
  });
});

describe('a server beyond this machine', () => {
  const form = (address: string, path: string, fields: Record<string, string>, headers: Record<string, string> = {}) =>
    fetch(`${address}${path}`, { method: 'POST', body: new URLSearchParams(fields), redirect: 'manual', headers });
  const cookieOf = (answer: Response) => (answer.headers.get('Set-Cookie') ?? '').split(';')[0];

  it('does not start without a password, nor with one that is soon guessed, however it is reached', async () => {
    await expectAsync(testServer({ host: '0.0.0.0' })).toBeRejectedWithError(/KETTLE_PASSWORD/);
    await expectAsync(testServer({ hosts: ['kettle.example'] })).toBeRejectedWithError(/KETTLE_PASSWORD/);
    await expectAsync(testServer({ password: 'x' })).toBeRejectedWithError(/at least 10 letters/);
  });

  it('lets nobody in without it, counts wrong tries of each caller alone, and says all of it in its log', async () => {
    const lines: string[] = [];
    const log = pino(
      { level: 'info' },
      {
        write: (line: string) => {
          lines.push(line);
        },
      },
    );
    const server = await testServer({ password: 'drizzle and fog', proxy: '1', log });
    const from = (ip: string) => ({ 'X-Forwarded-For': ip, 'X-Forwarded-Proto': 'https' });
    try {
      expect((await fetch(`${server.address}/api/sheet`)).status).toBe(401);
      for (const open of ['/api/health', '/api/live'])
        expect((await fetch(server.address + open)).status)
          .withContext(open)
          .toBe(200);
      const guess = (password: string, ip: string) => form(server.address, '/sign-in', { password }, from(ip));
      expect((await guess('sunshine', '10.0.0.1')).headers.get('Set-Cookie')).toBeNull();
      const answer = await guess('drizzle and fog', '10.0.0.1');
      expect(answer.headers.get('Set-Cookie')).toMatch(/HttpOnly; Secure; SameSite=Strict/);
      expect((await fetch(`${server.address}/api/sheet`, { headers: { Cookie: cookieOf(answer) } })).status).toBe(200);
      const statuses = await Promise.all(
        Array.from({ length: 12 }, () => guess('sunshine', '10.0.0.2').then((one) => one.status)),
      );
      expect(statuses).toContain(429);
      // One caller's guesses do not lock another out.
      expect(cookieOf(await guess('drizzle and fog', '10.0.0.1'))).toContain('kettle_session');
      const events = lines.map((line) => JSON.parse(line) as { event?: string; caller?: string });
      expect(events).toContain(jasmine.objectContaining({ event: 'sign-in-refused', caller: '10.0.0.2' }));
      expect(events).toContain(jasmine.objectContaining({ event: 'sign-in-limited', caller: '10.0.0.2' }));
      expect(events).toContain(jasmine.objectContaining({ event: 'signed-in', caller: '10.0.0.1' }));
      expect(lines.join('')).not.toContain('sunshine');
    } finally {
      await server.stop();
    }
  });

  it('signs out, ends idle sessions, and lets the password be changed for all processes on its database', async () => {
    const databaseUrl = await freshDatabase();
    const first = await testServer({ databaseUrl, password: 'drizzle and fog' });
    const signIn = async (address: string, password: string) => cookieOf(await form(address, '/sign-in', { password }));
    const isIn = async (address: string, cookie: string) =>
      (await fetch(`${address}/api/requirements`, { headers: { Cookie: cookie } })).status === 200;
    try {
      const [here, there, idle] = [
        await signIn(first.address, 'drizzle and fog'),
        await signIn(first.address, 'drizzle and fog'),
        await signIn(first.address, 'drizzle and fog'),
      ];
      expect(await isIn(first.address, idle)).toBeTrue();
      await first.house.database.change(
        'UPDATE session SET seen_at = DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL 13 HOUR) WHERE token = ?',
        [createHash('sha256').update(idle.split('=')[1]).digest()],
      );
      expect(await isIn(first.address, idle)).toBeFalse();
      expect(
        (
          await form(first.address, '/password', { now: 'wrong', next: 'rain gauge regulars' }, { Cookie: here })
        ).headers.get('Location'),
      ).toBe('/password?wrong');
      expect(
        (
          await form(first.address, '/password', { now: 'drizzle and fog', next: 'short' }, { Cookie: here })
        ).headers.get('Location'),
      ).toBe('/password?short');
      expect(
        (
          await form(
            first.address,
            '/password',
            { now: 'drizzle and fog', next: 'rain gauge regulars' },
            { Cookie: here },
          )
        ).headers.get('Location'),
      ).toBe('/password?changed');
      expect([await isIn(first.address, here), await isIn(first.address, there)]).toEqual([true, false]);
      expect(await signIn(first.address, 'drizzle and fog')).toBe('');
      // Started again as before, the changed password holds, and who was signed in still is.
      const second = await testServer({ databaseUrl, password: 'drizzle and fog' });
      expect(await isIn(second.address, here)).toBeTrue();
      expect(await signIn(second.address, 'rain gauge regulars')).toContain('kettle_session');
      await form(second.address, '/sign-out', {}, { Cookie: here });
      expect([await isIn(first.address, here), await isIn(second.address, here)]).toEqual([false, false]);
      await second.stop();
      // Started with another one, that holds, and everybody is out.
      const third = await testServer({ databaseUrl, password: 'isobars closing in' });
      expect(await signIn(third.address, 'rain gauge regulars')).toBe('');
      expect(await signIn(third.address, 'isobars closing in')).toContain('kettle_session');
      await third.stop();
    } finally {
      await first.stop();
    }
  });
});

describe('whoever runs the server', () => {
  it('reads one line for each request and what it was refused for, and figures where they are allowed', async () => {
    const lines: string[] = [];
    const server = await testServer({
      metrics: '1',
      log: pino(
        { level: 'info' },
        {
          write: (line: string) => {
            lines.push(line);
          },
        },
      ),
    });
    try {
      await fetch(`${server.address}/api/designs/nothing`);
      await fetch(`${server.address}/api/sheet`);
      const seen = await until(
        async () => lines.map((line) => JSON.parse(line) as Record<string, unknown>).filter((line) => 'path' in line),
        (all) => all.length === 2,
      );
      expect(seen[0]).toEqual(
        jasmine.objectContaining({ method: 'GET', path: '/api/designs/nothing', status: 404, cause: 'no-such-design' }),
      );
      expect(seen[0]['request']).not.toBe(seen[1]['request']);
      expect(typeof seen[1]['ms']).toBe('number');
      const figures = await (await fetch(`${server.address}/metrics`)).text();
      expect(figures).toMatch(/^kettle_http_request_seconds_count\{.*status="404"\} 1$/m);
      expect(figures).toMatch(/^# TYPE kettle_jobs gauge$/m);
    } finally {
      await server.stop();
    }
    const closed = await testServer();
    expect((await fetch(`${closed.address}/metrics`)).status).toBe(404);
    await closed.stop();
    // Where there is a password, figures are for those who are signed in, or for those who have their token.
    const password = 'rain gauge regulars';
    const gated = await testServer({ metrics: '1', password });
    expect((await fetch(`${gated.address}/metrics`)).status).not.toBe(200);
    await gated.stop();
    const token = 'isobars-closing-in';
    const told = await testServer({ metrics: token, password });
    const figures = async (given: string | null): Promise<number> =>
      (await fetch(`${told.address}/metrics`, given ? { headers: { Authorization: `Bearer ${given}` } } : {})).status;
    expect([await figures(null), await figures(`${token}x`), await figures(token)]).toEqual([401, 401, 200]);
    await told.stop();
    await expectAsync(testServer({ metrics: 'short' })).toBeRejectedWithError(/at least 16 letters/);
  });

  it('has children that know neither password nor database', async () => {
    process.env['KETTLE_PASSWORD'] = 'a secret of the server';
    const child = startRenderProcess();
    try {
      const environment = await until(
        () => readFile(`/proc/${child.pid}/environ`, 'utf8'),
        (text) => text.includes('MALLOC_ARENA_MAX'),
      );
      expect(environment).not.toContain('a secret of the server');
      expect(environment).not.toMatch(/KETTLE_|MYSQL/);
    } finally {
      delete process.env['KETTLE_PASSWORD'];
      child.kill('SIGKILL');
    }
  });
});
