import { createHash } from 'node:crypto';
import { unzipSync } from 'fflate';
import type { JobStep } from '@kettle/contract';
import { parse } from 'csv-parse/sync';
import sharp from 'sharp';
import { PLAIN_LETTERING } from '@kettle/core/text';
import { emptyDesign, type Layer } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { textLayer } from '@kettle/core/document';
import type { Finding } from '@kettle/core/checks';
import { SELLER } from '../floor/basics/caller.js';
import { shippedProfile } from '../render/colour/profiles.js';
import { isOver, smallDesign, smallTee, until, serverForAll, DISC } from '../testing/test-house.js';

describe('the press room', () => {
  const { server, call } = serverForAll();

  const requirement = async (change = {}): Promise<string> =>
    (await call('POST', '/api/requirements', smallTee(change))).body.id as string;
  const asset = async (): Promise<string> =>
    (await call('POST', '/api/assets', DISC, { 'X-Filename': 'disc.svg', 'Content-Type': 'image/svg+xml' })).body
      .id as string;
  const design = async (name: string, requirementIds: readonly string[], change = {}) =>
    (await call('POST', '/api/designs', { ...smallDesign(await asset(), requirementIds), name, ...change })).body as {
      id: string;
      revision: number;
    };
  const over = (jobId: string) => until(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver);
  const steps = async (jobId: string): Promise<JobStep[]> => (await call('GET', `/api/jobs/${jobId}/steps`)).body;
  const bytesOf = async (path: string): Promise<Buffer> =>
    Buffer.from(await (await fetch(server.address + path)).arrayBuffer());
  const run = (targets: object[]) => call('POST', '/api/runs', { targets });

  it('makes many designs in one run: every target and version, each told with how far it is; what cannot be made is told while the rest goes on', async () => {
    const [good, film] = [
      await requirement({ name: 'Good' }),
      await requirement({ name: 'Plotter', fileTypes: ['svg'] }),
    ];
    // Outlines alone cannot hold a photo.
    const photo = await sharp({ create: { width: 40, height: 40, channels: 4, background: '#c63' } })
      .png()
      .toBuffer();
    const { body } = await call('POST', '/api/assets', photo, {
      'X-Filename': 'photo.png',
      'Content-Type': 'image/png',
    });
    const { layers } = smallDesign(body.id, []);
    const one = await design('Mostly Drizzle', [good, film], { layers });
    const two = await design('Fog Signal', [good], {
      targets: [{ requirementId: good, versions: { light: { layers: {} }, dark: { layers: {} } } }],
    });
    const asked = await run([
      { designId: one.id, requirementIds: [], revision: one.revision },
      { designId: two.id, requirementIds: [good], revision: two.revision },
    ]);
    expect(asked.status).toBe(202);
    const job = await over(asked.body.jobId);
    expect([job.state, job.total, job.done, job.designId, job.designIds.length]).toEqual(['failed', 4, 4, null, 2]);
    const all = await steps(job.id);
    expect(all.map(({ state, version }) => [state, version])).toEqual([
      ['done', null],
      ['failed', null],
      ['done', 'light'],
      ['done', 'dark'],
    ]);
    expect(all[1].message).toContain('Plotter');
    expect(all[1].message).toContain('SVG');
    expect(new Set(all.map(({ filename }) => filename)).size).toBe(4);
    // What was looked at and has changed since is not made, and that is said.
    const stale = await run([{ designId: one.id, requirementIds: [good], revision: one.revision + 3 }]);
    expect((await over(stale.body.jobId)).message).toContain('changed in the meantime');
    expect((await run([{ designId: 'nothing', requirementIds: [] }])).status).toBe(404);
    expect((await run([])).status).toBe(422);
    expect((await run([{ designId: (await design('Bare', [])).id, requirementIds: [] }])).body.code).toBe(
      'nothing-chosen',
    );
  });

  it('holds a run, goes on with it, and cancels one that is held; what is done stays', async () => {
    const requirements = await Promise.all(
      Array.from({ length: 8 }, (_, i) => requirement({ name: `Tee ${i}`, width: 2 + i / 10 })),
    );
    const { id } = await design('Isobars', requirements);
    const { jobId } = (await run([{ designId: id, requirementIds: [] }])).body;
    const held = (await call('POST', `/api/jobs/${jobId}/pause`)).body;
    expect(held.state).toBe('paused');
    // What was in hand is finished; nothing else is begun, though the worker is idle.
    await until(
      () => steps(jobId),
      (all) => all.every(({ state }) => state !== 'running'),
    );
    const before = (await steps(jobId)).filter(({ state }) => state === 'paused').length;
    expect(before).toBeGreaterThan(3);
    const other = await run([{ designId: (await design('Other', [requirements[0]])).id, requirementIds: [] }]);
    expect((await over(other.body.jobId)).state).toBe('done');
    expect((await steps(jobId)).filter(({ state }) => state === 'paused').length).toBe(before);
    // Pausing twice changes nothing; going on finishes all of it.
    expect((await call('POST', `/api/jobs/${jobId}/pause`)).body.state).toBe('paused');
    expect((await call('POST', `/api/jobs/${jobId}/resume`)).body.state).toMatch(/queued|running/);
    const done = await over(jobId);
    expect([done.state, done.done]).toEqual(['done', 8]);

    const again = await design('Isobars again', requirements, { field: { width: 40, height: 60.96 } });
    const second = (await run([{ designId: again.id, requirementIds: [] }])).body.jobId;
    await call('POST', `/api/jobs/${second}/pause`);
    const cancelled = (await call('DELETE', `/api/jobs/${second}`)).body;
    expect(cancelled.state).toBe('cancelled');
    expect((await call('POST', `/api/jobs/${second}/resume`)).body.state).toBe('cancelled');
  });

  it('names files by a pattern, which is refused with a sentence when it cannot tell them apart', async () => {
    expect((await call('GET', '/api/naming')).body.pattern).toContain('{design}');
    const refused = await call('PUT', '/api/naming', { pattern: '{channel}' });
    expect([refused.status, refused.body.detail]).toEqual([422, jasmine.stringContaining('{design}') as never]);
    expect((await call('PUT', '/api/naming', { pattern: '{dpi} {design}' })).status).toBe(200);
    const { id } = await design('Rain Gauge', [await requirement({ fileTypes: ['png', 'tiff'], preferred: 'tiff' })]);
    const job = await over((await run([{ designId: id, requirementIds: [] }])).body.jobId);
    const file = (await call('GET', `/api/print-files/${job.results[0].id}`)).body;
    expect([file.filename, file.mediaType]).toEqual(['100 Rain-Gauge.tif', 'image/tiff']);
    const answer = await fetch(`${server.address}/api/print-files/${file.id}/content`);
    expect([answer.headers.get('Content-Type'), (await answer.arrayBuffer()).byteLength]).toEqual([
      'image/tiff',
      file.bytes,
    ]);
    expect(file.certificate.find((row: { demand: string }) => row.demand === 'Read back').found).toContain('libtiff');
    await call('PUT', '/api/naming', { pattern: '{design}-{channel}-{requirement}-{size}-{version}' });
  });

  it('packs what is made and says what is not, in folders, with a manifest that a reader of CSV and one of JSON agree on; the same package has the same bytes', async () => {
    const [tee, tote] = [
      await requirement({ channel: '=HYPERLINK("x")', name: 'Tee/../front' }),
      await requirement({ channel: 'Quillmere', name: 'CON' }),
    ];
    const first = await design('Böe 🌬 / Sturm', [tee, tote]);
    const second = await design('böe / sturm', [tee]);
    const targets = [
      { designId: first.id, requirementIds: [] },
      { designId: second.id, requirementIds: [tee] },
    ];
    const pack = (change = {}) =>
      call('POST', '/api/packages', { name: 'Autumn', folders: 'channel', changedOnly: false, targets, ...change });
    const nothing = await pack();
    expect([nothing.status, nothing.body.code]).toEqual([409, 'nothing-to-pack']);
    await over((await run([{ designId: first.id, requirementIds: [tee] }, targets[1]])).body.jobId);
    const packed = await pack();
    expect(packed.status).toBe(201);
    expect([packed.body.files, packed.body.missing]).toEqual([
      2,
      [jasmine.objectContaining({ why: 'is not made yet' }) as never],
    ]);
    const zip = await bytesOf(`/api/packages/${packed.body.id}/content`);
    const inside = unzipSync(new Uint8Array(zip));
    const names = Object.keys(inside);
    expect(names.slice(-3)).toEqual(['manifest.csv', 'manifest.json', 'README.txt']);
    expect(
      names.every((name) => /^[\p{L}\p{N}\-_. ()]+(\/[\p{L}\p{N}\-_. ()]+)?$/u.test(name) && !name.includes('..')),
    ).toBeTrue();
    expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length);
    const csv = parse(Buffer.from(inside['manifest.csv']), { bom: true, columns: true }) as Record<string, string>[];
    const json = JSON.parse(Buffer.from(inside['manifest.json']).toString('utf8'));
    expect(csv.map(({ file, sha256 }) => [file, sha256])).toEqual(
      json.files.map(({ file, sha256 }: { file: string; sha256: string }) => [file, sha256]),
    );
    // A spreadsheet must not take a channel's name for a formula.
    expect(csv[0]['channel'].startsWith('=')).toBeFalse();
    for (const { file, sha256, certificate } of json.files) {
      expect(createHash('sha256').update(inside[file]).digest('hex')).toBe(sha256);
      expect(certificate.every((row: { ok: boolean }) => row.ok)).toBeTrue();
      expect((await sharp(Buffer.from(inside[file])).metadata()).width).toBe(200);
    }
    expect(Buffer.from(inside['README.txt']).toString('utf8')).toContain('2 files');
    expect(Buffer.compare(zip, await bytesOf(`/api/packages/${packed.body.id}/content`))).toBe(0);

    // Made again with the same content, it has the same bytes; and nothing of it is new.
    const twin = await pack();
    expect(Buffer.compare(zip, await bytesOf(`/api/packages/${twin.body.id}/content`))).toBe(0);
    expect((await pack({ changedOnly: true })).body.detail).toContain('Nothing has changed');
    await over((await run([{ designId: first.id, requirementIds: [tote] }])).body.jobId);
    const rest = await pack({ changedOnly: true, folders: 'none' });
    expect(rest.body.entries.map(({ path }: { path: string }) => path)).toEqual([
      jasmine.stringMatching(/^Böe-Sturm-Quillmere-CON/) as never,
    ]);
    expect((await call('GET', '/api/packages')).body.map(({ name }: { name: string }) => name)).toEqual([
      'Autumn',
      'Autumn',
      'Autumn',
    ]);
    expect((await call('DELETE', `/api/packages/${twin.body.id}`)).status).toBe(204);
    expect((await call('GET', `/api/packages/${twin.body.id}/content`)).status).toBe(404);
    // A file that misses a demand is not handed out as if it met it.
    const tight = await requirement({ name: 'Tight', maxBytes: 1000 });
    const third = await design('Too heavy', [tight]);
    await over((await run([{ designId: third.id, requirementIds: [] }])).body.jobId);
    const heavy = await pack({ targets: [{ designId: third.id, requirementIds: [] }] });
    expect([heavy.status, heavy.body.detail]).toEqual([409, jasmine.stringContaining('misses a demand') as never]);
    const bad = await pack({ name: '../../x', targets: [{ designId: first.id, requirementIds: [tee] }] });
    const header = (await fetch(`${server.address}/api/packages/${bad.body.id}/content`)).headers.get(
      'Content-Disposition',
    )!;
    expect(header).not.toContain('..');
  });

  it('takes in profiles of presses and prints by them; a requirement keeps the one it prints by', async () => {
    const press = await shippedProfile();
    const changed = Buffer.from(press);
    changed.write('Ours', 80, 'latin1');
    const send = (bytes: Buffer, name: string) =>
      call('POST', '/api/profiles', bytes, {
        'X-Filename': encodeURIComponent(name),
        'Content-Type': 'application/octet-stream',
      });
    const refused = await send(Buffer.from('no profile at all'), 'x.icc');
    expect([refused.status, refused.body.code]).toEqual([422, 'no-profile']);
    const taken = await send(changed, '50% Presse ☂.icc');
    expect([taken.status, taken.body.filename]).toEqual([201, '50% Presse ☂.icc']);
    const conversion = { profile: taken.body.id, intent: 'relative', blackPoint: true };
    const cmyk = { mode: 'cmyk', fileTypes: ['tiff'], conversion };
    const id = await requirement(cmyk);
    expect((await call('DELETE', `/api/profiles/${taken.body.id}`)).body.code).toBe('in-use');
    const { id: designId } = await design('Pressed', [id]);
    const job = await over((await run([{ designId, requirementIds: [] }])).body.jobId);
    const file = await bytesOf(`/api/print-files/${job.results[0].id}/content`);
    const { icc, space } = await sharp(file).metadata();
    expect([space, icc && Buffer.compare(icc, changed)]).toEqual(['cmyk', 0]);
    const unknown = await call(
      'POST',
      '/api/requirements',
      smallTee({ ...cmyk, conversion: { ...conversion, profile: 'f'.repeat(64) } } as never),
    );
    expect([unknown.status, unknown.body.code]).toEqual([422, 'no-such-profile']);
    const proof = await fetch(
      `${server.address}/api/proof?profile=${taken.body.id}&intent=perceptual&blackPoint=true&paper=false`,
    );
    expect((await proof.arrayBuffer()).byteLength).toBe(33 ** 3 * 16);
    expect((await fetch(`${server.address}/api/proof?profile=${'e'.repeat(64)}`)).status).toBe(404);
  });

  it('measures a print that is saved: a hairline is found in mm, at its place', async () => {
    const svg = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><rect x="10" y="10" width="80" height="50"/><rect x="10" y="80" width="80" height="0.8"/></svg>',
    );
    const art = (await call('POST', '/api/assets', svg, { 'X-Filename': 'line.svg', 'Content-Type': 'image/svg+xml' }))
      .body.id;
    // Made mirrored or not, the place is where the seller sees it.
    const id = await requirement({ dpi: 300, mirrored: true });
    const { body } = await call('POST', '/api/designs', smallDesign(art, [id], { x: 20 }));
    const { measured, revision } = (await call('GET', `/api/designs/${body.id}/measure?requirement=${id}`)).body;
    expect(revision).toBe(body.revision);
    // 0.8 of 100 units on 25.4 mm are a fifth of a millimetre.
    expect([measured.thin.count, Math.abs(measured.thin.thinnestMm - 0.2) < 0.1]).toEqual([1, true]);
    expect(measured.thin.where[0].y).toBeCloseTo(12.7 + 0.804 * 25.4, 0);
    expect(measured.thin.where[0].x).toBeCloseTo(20 - 12.7 + 2.54, 0);
    expect(measured.gamut).toBeNull();
    const again = await call('GET', `/api/designs/${body.id}/measure?requirement=${id}`);
    expect(again.body.measured).toEqual(measured);
    expect((await call('GET', `/api/designs/${body.id}/measure`)).status).toBe(422);
  });

  it('judges a print on every colour it is sold in by what is seen, and the sheet says so once it is measured', async () => {
    const colourways = [
      { name: 'Chalk', hex: '#F5F3EE' },
      { name: 'Soot', hex: '#1B1B1D' },
    ];
    const requirementId = await requirement({ colourways });
    const field = { width: 50.8, height: 60.96 };
    const place = (x: number, size: number) => ({
      x,
      y: 30,
      width: size,
      height: size,
      turn: 0,
      flipX: false,
      flipY: false,
    });
    const dark = { ...shapeLayer('dark', 'rectangle', field, '#1b1b1d'), place: place(25, 20) };
    const light = { ...shapeLayer('light', 'rectangle', field, '#f2bd4b'), place: place(25, 30) };
    const target = { requirementId, garment: '#1B1B1D' };
    const saved = async (name: string, layers: Layer[]) => {
      const design = { ...emptyDesign(name), field, layers, targets: [target] };
      const { status, body } = await call('POST', '/api/designs', design);
      expect(status).toBe(201);
      return body.id as string;
    };
    const onSheet = async (id: string) =>
      (await server.house.sheet.rows(SELLER, [id]))[0].cells.map(({ finding, state }) => ({ finding, state }))[0];
    const bare = await saved('On bare cloth', [dark]);
    const within = await saved('Within light ink', [light, dark]);
    const measure = async (id: string) =>
      (await call('GET', `/api/designs/${id}/measure?requirement=${requirementId}`)).body.measured.onCloth;
    const [onBare, onLight] = [await measure(bare), await measure(within)];
    expect(Object.keys(onBare)).toEqual(['#f5f3ee', '#1b1b1d']);
    expect(onBare['#1b1b1d']).toEqual(jasmine.objectContaining({ lost: 1, hex: '#1b1b1d' }));
    // Of the canvas's 50.8 mm the square takes 20.
    expect(onBare['#1b1b1d'].where[0].width).toBeCloseTo(20 / 50.8, 1);
    expect(onBare['#f5f3ee'].lost).toBe(0);
    // The same square in an edge of light ink is seen, whatever the shirt.
    expect(onLight['#1b1b1d'].lost).toBe(0);
    expect(
      await until(
        () => onSheet(bare),
        ({ finding }) => finding !== null,
      ),
    ).toEqual({
      finding: 'Vanishes on Soot',
      state: 'needs-work',
    });
    expect((await onSheet(within)).finding).toBeNull();
    const found = (await call('GET', `/api/designs/${bare}/findings?requirement=${requirementId}`)).body;
    expect(found.map(({ code }: { code: string }) => code)).toEqual(['lost-on-garment']);
    // Letters of the ink that they lie on are told, those that lie on other ink are not.
    const { body: set } = await call('POST', '/api/lettering', {
      text: 'FOG',
      fontId: 'anton-latin-400',
      settings: PLAIN_LETTERING,
    });
    const words = {
      ...textLayer('words', { text: 'FOG', fontId: 'anton-latin-400' }, set.outlines, field, '#1b1b20'),
      place: place(25, 12),
    };
    const told = async (name: string, ...under: Layer[]) => {
      const id = await saved(name, [...under, words]);
      await measure(id);
      const findings = await call('GET', `/api/designs/${id}/findings?requirement=${requirementId}`);
      return findings.body.flatMap((one: Finding) => (one.code === 'close-inks' ? [one.layerId] : []));
    };
    expect(await told('Letters on dark ink', light, dark)).toEqual(['words']);
    expect(await told('Letters on light ink', light)).toEqual([]);
    // Light ink instead: what was said goes, though nobody opens it.
    const { body } = await call('GET', `/api/designs/${bare}`);
    const document = { ...body.document, layers: [{ ...dark, fill: '#f2bd4b' }] };
    await call('PUT', `/api/designs/${bare}`, document, { 'If-Match': `"${body.revision}"` });
    await until(
      () => onSheet(bare),
      ({ finding }) => finding === null,
    );
  });

  it('makes a proof sheet whose words a reader of PDF finds: measures, colours and the certificate', async () => {
    const id = await requirement({ name: 'For the client' });
    const { id: designId, revision } = await design('Barometer', [id]);
    await over((await run([{ designId, requirementIds: [] }])).body.jobId);
    const asked = await call('POST', `/api/designs/${designId}/proof-sheets`, { requirementId: id, revision });
    expect(asked.status).toBe(202);
    const job = await over(asked.body.jobId);
    expect(job.message).toBe('');
    const pdf = await bytesOf(`/api/outputs/${job.results[0].id}/content`);
    const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
    const content = await (
      await (await getDocument({ data: new Uint8Array(pdf), verbosity: 0 }).promise).getPage(1)
    ).getTextContent();
    const words = content.items.map((item) => ('str' in item ? item.str : '')).join(' ');
    // The disc is 25.4 mm wide, 12.7 mm below the top edge, in the middle of its canvas.
    for (const expected of [
      'Barometer',
      'For the client',
      'scale 1 : 1',
      '25 × 25 mm',
      '13 mm below',
      'centred',
      'Harbour #1F2B4D',
      'Certificate',
      'libvips',
    ])
      expect(words).toContain(expected);
    expect((await call('POST', `/api/designs/${designId}/proof-sheets`, { requirementId: 'none' })).status).toBe(404);
  });

  it('takes in a library as a table or JSON, wholly or not at all, and shows before what would change', async () => {
    const import_ = (text: string, apply = false) => call('POST', '/api/requirements/import', { text, apply });
    const count = async (): Promise<number> => (await call('GET', '/api/requirements')).body.length;
    const before = await count();
    const csv = (await bytesOf('/api/requirements/export?as=csv')).toString('utf8');
    expect(csv.startsWith('\ufeff')).toBeTrue();
    const same = await import_(csv);
    // Names that begin like formulas come back as they were.
    expect([same.body.faults, same.body.rows.every(({ state }: { state: string }) => state === 'same')]).toEqual([
      [],
      true,
    ]);
    const json = (await bytesOf('/api/requirements/export?as=json')).toString('utf8');
    expect((await import_(json)).body.rows.every(({ state }: { state: string }) => state === 'same')).toBeTrue();

    const head = 'channel;name;width;height;unit;dpi;colours;thinnest line mm';
    const table = `\ufeff${head}\r\nLarkpost;Apron;30,5;40;cm;300;"Navy #1f2b4d; Bone #f5f3ee";0,4\r\n`;
    const plan = (await import_(table)).body;
    expect([plan.rows.length, plan.rows[0].state, plan.faults.length, await count()]).toEqual([1, 'new', 0, before]);
    expect((await import_(table, true)).status).toBe(200);
    const taken = (await call('GET', '/api/requirements')).body.find((one: { name: string }) => one.name === 'Apron');
    expect([taken.width, taken.colourways.length, taken.limits]).toEqual([30.5, 2, { lineMm: 0.4 }]);
    const changed = (await import_(table.replace(';300;', ';150;'))).body.rows[0];
    expect([changed.state, changed.changes]).toEqual(['changed', [{ column: 'dpi', from: '300', to: '150' }]]);
    await import_(table.replace(';300;', ';150;'), true);
    expect((await call('GET', `/api/requirements/${taken.id}`)).body).toEqual(
      jasmine.objectContaining({ dpi: 150, revision: taken.revision + 1 }),
    );

    // Faults by row and column; the good rows beside them are not taken in either.
    const faulty = [
      'channel,name,width,height,unit,dpi',
      'A,Good,10,10,cm,300',
      'A,Bad,=1+1,10,cm,300',
      'A,Worse,10,10,ell,abc',
      'A,Good,10,10,cm,300',
      ',Nameless,1,1,cm,300',
      'A,Huge,9000,9000,cm,300',
    ].join('\n');
    const faults = (await import_(faulty)).body.faults as { row: number; column: string; sentence: string }[];
    expect(faults.map(({ row, column }) => `${row} ${column}`)).toEqual([
      '3 width',
      '4 unit',
      '4 dpi',
      '5 name',
      '6 channel',
      '7 width',
    ]);
    expect(faults[0].sentence).toContain('formula');
    const refused = await import_(faulty, true);
    expect([refused.status, refused.body.code]).toEqual([422, 'table-faults']);
    expect(await count()).toBe(before + 1);

    const rows = Array.from({ length: 10_000 }, (_, i) => `A,Row ${i},10,10,cm,300`).join('\n');
    expect((await import_(`channel,name,width,height,unit,dpi\n${rows}`)).body.code).toBe('too-many-rows');
    for (const [text, code] of [
      ['{"requirements": 7}', 'no-requirements'],
      ['{broken', 'not-json'],
      ['channel,name\nA,"open', 'broken-table'],
      ['', 'empty-table'],
    ])
      expect((await import_(text)).body.code)
        .withContext(text)
        .toBe(code);
    expect((await import_('name,width\nx,1')).body.faults[0].sentence).toContain('channel');
    expect(
      (await import_('channel\tname\twidth\theight\tunit\tdpi\nA\tTabbed\t10\t10\tcm\t300')).body.rows[0].name,
    ).toBe('Tabbed');
  });

  it('keeps listing pictures under a limit, in an exact frame, and says when that cannot be', async () => {
    const { id: designId } = await design('Framed', [await requirement({ name: 'Frame' })]);
    const picture = async (change: object) => {
      const { body } = await call('POST', `/api/designs/${designId}/pictures`, {
        blankId: 'tee-front',
        colourways: [{ name: 'Harbour', hex: '#1f2b4d' }],
        size: 600,
        format: 'jpeg',
        ...change,
      });
      return body.jobId ? over(body.jobId) : body;
    };
    for (const format of ['jpeg', 'webp', 'png']) {
      const job = await picture({ format, fit: { frame: { width: 500, height: 300 }, maxBytes: 60_000 } });
      expect(job.message).withContext(format).toBe('');
      const bytes = await bytesOf(`/api/pictures/${job.results[0].id}/content`);
      expect(bytes.length).withContext(format).toBeLessThanOrEqual(60_000);
      const about = await sharp(bytes).metadata();
      expect([about.width, about.height, about.format, about.hasAlpha, !!about.icc]).toEqual([
        500,
        300,
        format as never,
        false,
        true,
      ]);
    }
    const longest = await picture({ fit: { longest: 333 } });
    const { width, height } = await sharp(await bytesOf(`/api/pictures/${longest.results[0].id}/content`)).metadata();
    expect(Math.max(width, height)).toBe(333);
    // They go into a package beside the print files, and say so in its manifest.
    const packed = await call('POST', '/api/packages', {
      name: 'Pictures',
      folders: 'channel',
      changedOnly: false,
      pictures: true,
      targets: [{ designId, requirementIds: [] }],
    });
    expect(packed.body.entries.length).toBe(4);
    expect(packed.body.entries.every(({ path }: { path: string }) => path.startsWith('Pictures/Framed-'))).toBeTrue();
    const none = await picture({ fit: { frame: { width: 2000, height: 2000 }, maxBytes: 6000 }, size: 2000 });
    expect(none.message).toContain('fits into');
    expect((await picture({ fit: { frame: { width: 9, height: 10 } } })).code).toBe('not-as-demanded');
  });

  it('serves no half of a package: what breaks off is shorter than it said', async () => {
    const id = await requirement({ name: 'Torn' });
    const { id: designId } = await design('Torn', [id]);
    await over((await run([{ designId, requirementIds: [] }])).body.jobId);
    const { body } = await call('POST', '/api/packages', {
      name: 'Torn',
      folders: 'none',
      changedOnly: false,
      targets: [{ designId, requirementIds: [] }],
    });
    // A stored file that is not whole any more.
    await server.house.database.change(
      'UPDATE blob_chunk SET data = LEFT(data, LENGTH(data) - 9) WHERE sha256 = UNHEX(?)',
      [body.entries[0].sha256],
    );
    const answer = await fetch(`${server.address}/api/packages/${body.id}/content`);
    await expectAsync(answer.arrayBuffer()).toBeRejected();
    // The server lives on.
    expect((await call('GET', '/api/live')).status).toBe(200);
  });
});
