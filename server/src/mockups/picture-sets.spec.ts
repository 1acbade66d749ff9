import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Job, Sheet, SheetRow } from '@kettle/contract';
import type { PictureSet, PictureSetFields, Shot } from '@kettle/core/mockup';
import sharp from 'sharp';
import { isOver, smallDesign, smallTee, until, serverForAll, DISC } from '../testing/test-house.js';

const SHOT: Shot = {
  id: 'front',
  name: 'Front',
  blankId: 'sticker',
  areaId: 'face',
  colours: 1,
  backdrop: '#E4E1D9',
  inkOpacity: 1,
  shadow: 0.6,
};
const SET: PictureSetFields = {
  name: 'Stickers',
  about: '',
  size: 600,
  format: 'jpeg',
  shots: [SHOT, { ...SHOT, id: 'close', name: 'Close', crop: { of: 'print', shape: '4:5' } }],
};

describe('picture sets', () => {
  const { server, call } = serverForAll();
  let requirement: string;
  let art: string;
  beforeAll(async () => {
    requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
    art = (await call('POST', '/api/assets', DISC, { 'X-Filename': 'disc.svg', 'Content-Type': 'image/svg+xml' })).body
      .id;
  });

  const design = async (name: string, change = {}) =>
    (await call('POST', '/api/designs', { ...smallDesign(art, [requirement]), name, ...change })).body as {
      id: string;
      revision: number;
      document: object;
    };
  const over = async (jobId: string): Promise<Job> =>
    until(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver);
  const add = async (fields: object): Promise<PictureSet> => (await call('POST', '/api/picture-sets', fields)).body;
  const use = (designIds: readonly string[], setId: string | null) =>
    call('POST', '/api/picture-sets/use', { designIds, setId });
  const run = (designIds: readonly string[], of = 'set', more = {}) =>
    call('POST', '/api/picture-runs', { of, designs: designIds.map((designId) => ({ designId })), ...more });
  const rowOf = async (id: string): Promise<SheetRow> =>
    ((await call('GET', `/api/sheet?designs=${id}`)).body as Sheet).rows[0];

  it('come with the program, for tees, mugs and prints, and stay as they are', async () => {
    const sets = (await call('GET', '/api/picture-sets')).body as PictureSet[];
    expect(sets.filter((one) => one.shipped).map((one) => one.id)).toEqual(['mugs', 'prints', 'tees']);
    for (const set of sets) {
      const ids = set.shots.map((shot) => shot.blankId);
      for (const id of ids)
        expect(server.house.blanks.all.some((blank) => blank.id === id))
          .withContext(id)
          .toBeTrue();
    }
    const { shipped: _shipped, id, revision, ...fields } = sets[0];
    const answer = await call('PUT', `/api/picture-sets/${id}`, fields, { 'If-Match': `"${revision}"` });
    expect([answer.status, answer.body.detail]).toEqual([404, jasmine.stringContaining('Copy it')]);
    expect((await call('DELETE', `/api/picture-sets/${id}`)).status).toBe(404);
  });

  it('are made of several designs in one run, in their crops; the sheet tells how far each is, and what changed is missing again', async () => {
    const set = await add(SET);
    const [one, two] = [await design('Fog Signal'), await design('Mostly Drizzle')];
    expect((await rowOf(one.id)).set).toBeNull();
    expect((await use([one.id, two.id], set.id)).status).toBe(204);
    expect((await rowOf(one.id)).set).toEqual({
      id: set.id,
      name: 'Stickers',
      wanted: 2,
      made: 0,
      shown: [],
      wrong: null,
    });
    const asked = await run([one.id, two.id]);
    expect(asked.status).toBe(202);
    const job = await over(asked.body.jobId);
    expect([job.state, job.total, job.done]).toEqual(['done', 4, 4]);
    const row = await rowOf(one.id);
    expect([row.set!.made, row.set!.shown.length]).toEqual([2, 2]);
    // Read back: the crop is a portrait of 4:5, its longest side as large as asked for.
    const sizes = await Promise.all(
      row.set!.shown.map(async (id) => {
        const bytes = Buffer.from(await (await fetch(`${server.address}/api/pictures/${id}/content`)).arrayBuffer());
        const { width, height, format } = await sharp(bytes).metadata();
        expect(format).toBe('jpeg');
        return [width, height];
      }),
    );
    expect(sizes[0]).toEqual([600, 600]);
    expect(sizes[1][1]).toBe(600);
    expect(sizes[1][0]! / 600).toBeCloseTo(0.8, 1);
    const small = await sharp(
      Buffer.from(await (await fetch(`${server.address}/api/pictures/${row.set!.shown[0]}/small`)).arrayBuffer()),
    ).metadata();
    expect(Math.max(small.width!, small.height!)).toBeLessThanOrEqual(320);
    // Nothing is made twice.
    const again = await run([one.id, two.id]);
    expect([again.status, again.body.code]).toEqual([409, 'nothing-to-make']);
    // A design that is changed has its pictures missing; the other one’s still hold.
    const layers = (one.document as { layers: { place: object }[] }).layers.map((layer) => ({
      ...layer,
      place: { ...layer.place, turn: 20 },
    }));
    await call('PUT', `/api/designs/${one.id}`, { ...one.document, layers }, { 'If-Match': `"${one.revision}"` });
    expect([(await rowOf(one.id)).set!.made, (await rowOf(two.id)).set!.made]).toEqual([0, 2]);
    const rest = await over((await run([one.id, two.id])).body.jobId);
    expect([rest.total, rest.done, rest.state]).toEqual([2, 2, 'done']);
    // All pictures that are out of date are made again together; those of the set are current by now.
    const old = await run([one.id], 'out-of-date');
    expect(old.body.code).toBe('nothing-to-make');
  });

  it('take the colours a design is sold in, the one it is shown on first', async () => {
    const set = await add({
      ...SET,
      name: 'Colours',
      shots: [{ ...SHOT, blankId: 'tee-front', areaId: 'full-front', colours: 3 }],
    });
    const tee = (
      await call('POST', '/api/requirements', {
        ...smallTee(),
        product: 'T-shirt',
        colourways: [
          { name: 'Chalk', hex: '#F5F3EE' },
          { name: 'Harbour', hex: '#1F2B4D' },
          { name: 'Moss', hex: '#4E5F3A' },
          { name: 'Brick', hex: '#A5442F' },
        ],
      })
    ).body.id;
    const { id } = await design('Sold', {
      targets: [{ requirementId: tee, garment: '#4E5F3A', leftOut: ['#1F2B4D'] }],
    });
    await use([id], set.id);
    await over((await run([id])).body.jobId);
    const made = (await call('GET', `/api/designs/${id}/pictures`)).body as { colourway: string; filename: string }[];
    expect(made.map((one) => one.colourway).sort()).toEqual(['Brick', 'Chalk', 'Moss']);
    expect(made.every((one) => one.filename.startsWith('Sold-Front-'))).toBeTrue();
  });

  it('are made blank by blank and colour by colour, whichever design they are of, and a design is drawn once for all', async () => {
    const shots = [
      { ...SHOT, blankId: 'tee-front', areaId: 'full-front', colours: 2 },
      { ...SHOT, id: 'card', name: 'Card', blankId: 'greeting-card', areaId: 'front' },
    ];
    const set = await add({ ...SET, name: 'In turns', shots });
    const ids = [(await design('First')).id, (await design('Second')).id];
    await use(ids, set.id);
    const { jobId } = (await run(ids)).body;
    const steps = await server.house.database.rows<{ payload: string | object }>(
      'SELECT payload FROM job WHERE batch_id = ? ORDER BY id',
      [jobId],
    );
    const order = steps.map(({ payload }) => {
      const { request, designId } = (typeof payload === 'string' ? JSON.parse(payload) : payload) as {
        request: { blankId: string; colourway: { name: string } };
        designId: string;
      };
      return [request.blankId, request.colourway.name, ids.indexOf(designId)] as const;
    });
    const colours = [...new Set(order.filter(([blank]) => blank === 'tee-front').map(([, colour]) => colour))];
    expect(
      order.map(([blank, colour, of]) => `${blank} ${blank === 'tee-front' ? colours.indexOf(colour) : 0} ${of}`),
    ).toEqual([
      'tee-front 0 0',
      'tee-front 0 1',
      'tee-front 1 0',
      'tee-front 1 1',
      'greeting-card 0 0',
      'greeting-card 0 1',
    ]);
    const before = new Set(await readdir(join(server.house.cache, 'textures')).catch(() => []));
    expect((await over(jobId)).state).toBe('done');
    // A shirt and a card for each of them, however many colours and processes there are.
    const textures = (await readdir(join(server.house.cache, 'textures'))).filter((name) => !before.has(name));
    expect(textures.length).toBeLessThanOrEqual(4);
    expect(textures.length).toBeGreaterThan(0);
    expect(textures.every((name) => name.endsWith('.raw'))).toBeTrue();
  });

  it('are worked out by several who look at once without getting in each other’s way', async () => {
    const set = await add(SET);
    const ids = (await Promise.all([1, 2, 3].map((n) => design(`At once ${n}`)))).map((one) => one.id);
    expect((await use(ids, set.id)).status).toBe(204);
    const looks = await Promise.all(
      Array.from({ length: 8 }, () => call('GET', `/api/sheet?designs=${ids.join(',')}`)),
    );
    for (const look of looks) {
      expect(look.status).toBe(200);
      for (const row of (look.body as Sheet).rows) expect(row.set!.wanted).toBe(2);
    }
  });

  it('say which picture cannot be made when its blank is gone, and make the others', async () => {
    const set = await add({ ...SET, shots: [SHOT, { ...SHOT, id: 'gone', name: 'Gone', blankId: 'of-yesterday' }] });
    const { id } = await design('Half');
    await use([id], set.id);
    const before = (await rowOf(id)).set!;
    expect([before.wanted, before.made, before.wrong]).toEqual([2, 0, 'Gone: its blank is not there any more.']);
    const job = await over((await run([id])).body.jobId);
    expect([job.total, job.state]).toEqual([1, 'done']);
    expect((await rowOf(id)).set!.made).toBe(1);
  });

  it('make one picture of each kept scene, and those again that are out of date, each once', async () => {
    const { colours: _colours, ...look } = SHOT;
    const scene = { ...look, requirementId: null, garment: '#F5F3EE' };
    const kept = [
      { ...scene, id: 's1', name: 'White' },
      { ...scene, id: 's2', name: 'Navy', garment: '#1F2B4D' },
    ];
    const one = await design('Kept', { scenes: kept });
    const job = await over((await run([one.id], 'scenes', { size: 600, format: 'webp' })).body.jobId);
    expect([job.total, job.state]).toEqual([2, 'done']);
    const pictures = async () =>
      (await call('GET', `/api/designs/${one.id}/pictures`)).body as {
        outOfDate: boolean;
        format: string;
        filename: string;
      }[];
    expect((await pictures()).map((each) => [each.format, each.outOfDate])).toEqual([
      ['webp', false],
      ['webp', false],
    ]);
    expect((await pictures()).map((each) => each.filename).sort()[0]).toContain('Kept-Navy');
    const { document, revision } = (await call('GET', `/api/designs/${one.id}`)).body;
    document.layers[0].place.turn = 33;
    await call('PUT', `/api/designs/${one.id}`, document, { 'If-Match': `"${revision}"` });
    expect((await pictures()).filter((each) => each.outOfDate).length).toBe(2);
    const again = await over((await run([one.id], 'out-of-date')).body.jobId);
    expect([again.total, again.state]).toEqual([2, 'done']);
    // The old ones are still there, and are not made a third time.
    expect((await pictures()).filter((each) => !each.outOfDate).length).toBe(2);
    expect((await run([one.id], 'out-of-date')).body.code).toBe('nothing-to-make');
    expect((await run([(await design('Without')).id], 'scenes')).body.detail).toContain('no scenes');
  });

  it('refuse what is no set, keep a newer one from being overwritten, and let designs go when they are taken away', async () => {
    const wrong = await call('POST', '/api/picture-sets', { ...SET, shots: [] });
    expect([wrong.status, wrong.body.detail]).toEqual([422, 'A set has at least one picture.']);
    const crop = { of: 'box', box: { x: 0.8, y: 0, width: 0.5, height: 0.5 } };
    const outside = await call('POST', '/api/picture-sets', { ...SET, shots: [{ ...SHOT, crop }] });
    expect(outside.status).toBe(422);
    const set = await add(SET);
    const changed = await call('PUT', `/api/picture-sets/${set.id}`, { ...SET, name: 'Newer' }, { 'If-Match': '"1"' });
    expect([changed.status, changed.body.revision]).toEqual([200, 2]);
    expect((await call('PUT', `/api/picture-sets/${set.id}`, SET, { 'If-Match': '"1"' })).status).toBe(412);
    const { id } = await design('Let go');
    expect((await use([id], 'nothing')).status).toBe(404);
    await use([id], set.id);
    expect((await rowOf(id)).set!.name).toBe('Newer');
    await call('DELETE', `/api/picture-sets/${set.id}`);
    expect((await rowOf(id)).set).toBeNull();
    expect((await run([id])).body.code).toBe('no-set');
  });
});
