import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Job, ListedBlank, Picture } from '@kettle/contract';
import { type Blank, isInRoom } from '@kettle/core/model';
import { viewOf } from '@kettle/core/mockup';
import type { AreaShape, OwnBlankSource } from '@kettle/core/own-blank';
import { strToU8, unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import { BLANKS } from '../floor/files/shipped.js';
import { packIn, readyBlank } from '../render/mockup/blank-pack.js';
import { isOver, smallDesign, smallTee, until, serverForAll } from '../testing/test-house.js';

const DISC = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><rect width="100" height="100" fill="#f2bd4b"/></svg>',
);
const SIZE = 700;

describe('own blanks', () => {
  const { server, call } = serverForAll();
  let requirement: string;
  let art: string;
  let photo: string;
  let bytes: Buffer;
  beforeAll(async () => {
    requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
    art = await upload(DISC, 'plain.svg');
    // A shirt in brick on a wall, as a camera would keep it.
    const blank = JSON.parse(await readFile(join(BLANKS, 'tee-front', 'blank.json'), 'utf8')) as Blank;
    const kernel = await readyBlank(packIn(join(BLANKS, 'tee-front'), blank), blank, [], viewOf(blank, null, SIZE));
    const { data, width, height } = kernel.render(
      { garment: '#A5442F', backdrop: '#DDE6E3', inkOpacity: 1, shadow: 0.5 },
      [],
    );
    bytes = await sharp(Buffer.from(data), { raw: { width, height, channels: 4 } })
      .removeAlpha()
      .jpeg({ quality: 88 })
      .toBuffer();
    photo = await upload(bytes, 'shirt on a wall.jpg');
  });

  const upload = async (content: Buffer, name: string): Promise<string> =>
    (
      await call('POST', '/api/assets', content, {
        'X-Filename': encodeURIComponent(name),
        'Content-Type': 'application/octet-stream',
      })
    ).body.id;
  const source = (change: Partial<OwnBlankSource> = {}): OwnBlankSource => ({
    name: 'My brick shirt',
    product: 'T-shirt',
    assetId: photo,
    treatments: [
      {
        id: 's',
        kind: 'strokes',
        hair: 0.004,
        strokes: [
          { keep: true, points: [0.4, 0.3, 0.6, 0.3, 0.5, 0.7], size: 0.03 },
          { keep: true, points: [0.25, 0.42, 0.3, 0.36], size: 0.02 },
          { keep: true, points: [0.72, 0.36, 0.78, 0.42], size: 0.02 },
          { keep: false, points: [0.04, 0.04, 0.96, 0.04], size: 0.02 },
          { keep: false, points: [0.04, 0.04, 0.04, 0.96], size: 0.02 },
          { keep: false, points: [0.96, 0.04, 0.96, 0.96], size: 0.02 },
          { keep: false, points: [0.04, 0.96, 0.96, 0.96], size: 0.02 },
        ],
      },
    ],
    shape: {
      kind: 'corners',
      corners: [
        { x: 0.38, y: 0.25 },
        { x: 0.64, y: 0.25 },
        { x: 0.64, y: 0.6 },
        { x: 0.38, y: 0.6 },
      ],
    },
    widthMm: 300,
    heightMm: 400,
    inRoom: true,
    folds: 0.5,
    anyColour: true,
    ...change,
  });
  const make = (change: Partial<OwnBlankSource> = {}) => call('POST', '/api/blanks', source(change));
  const over = async (jobId: string): Promise<Job> =>
    until(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver);

  /** A listing picture of a plain yellow design, as raw pixels. */
  async function pictured(blankId: string, hex: string, designId: string) {
    const asked = await call('POST', `/api/designs/${designId}/pictures`, {
      blankId,
      areaId: 'print',
      colourways: [{ name: 'One', hex }],
      size: 600,
      format: 'png',
    });
    expect(asked.status).withContext(JSON.stringify(asked.body)).toBe(202);
    expect((await over(asked.body.jobId)).state).toBe('done');
    const [newest] = (await call('GET', `/api/designs/${designId}/pictures`)).body as Picture[];
    const content = Buffer.from(
      await (await fetch(`${server.address}/api/pictures/${newest.id}/content`)).arrayBuffer(),
    );
    const { data, info } = await sharp(content).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    return {
      picture: newest,
      at: (x: number, y: number) => [
        ...data.subarray((Math.round(y * info.height) * info.width + Math.round(x * info.width)) * 3).subarray(0, 3),
      ],
      data,
    };
  }
  const newDesign = async (): Promise<string> =>
    (await call('POST', '/api/designs', smallDesign(art, [requirement]))).body.id;

  it('are made of a photo: the product in another colour, its print where the corners are, the wall as it was', async () => {
    const answer = await make();
    expect(answer.status).withContext(JSON.stringify(answer.body)).toBe(201);
    const { blank, doubts } = answer.body as { blank: Blank; doubts: string[] };
    expect(doubts).toEqual([]);
    const listed = ((await call('GET', '/api/blanks')).body as ListedBlank[]).find((one) => one.id === blank.id)!;
    expect([listed.own, listed.product, listed.width, listed.height]).toEqual([true, 'T-shirt', SIZE, SIZE]);
    expect(listed.areas[0]).toEqual(jasmine.objectContaining({ widthMm: 300, heightMm: 400 }));
    // The colour it was photographed in comes first, and is told from the photo.
    const [r, g, b] = [1, 3, 5].map((at) => parseInt(listed.colourways[0].hex.slice(at, at + 2), 16));
    expect(Math.abs(r - 0xa5)).toBeLessThan(14);
    expect(Math.abs(g - 0x44)).toBeLessThan(14);
    expect(Math.abs(b - 0x2f)).toBeLessThan(14);
    const white = await pictured(blank.id, '#F5F3EE', await newDesign());
    const [ink, cloth, wall] = [white.at(0.51, 0.275), white.at(0.52, 0.72), white.at(0.06, 0.06)];
    expect(ink[0]).toBeGreaterThan(ink[2] + 60);
    // A brick shirt became a white one: light, and no longer red.
    expect(Math.min(...cloth)).toBeGreaterThan(120);
    expect(Math.max(...cloth) - Math.min(...cloth)).toBeLessThan(22);
    const raw = await sharp(bytes).resize(600, 600).raw().toBuffer();
    for (let k = 0; k < 3; k++) expect(Math.abs(wall[k] - raw[(36 * 600 + 36) * 3 + k])).toBeLessThan(8);
  });

  it('have a backdrop and no shadow when they are cut out, and come back so from an archive', async () => {
    const { blank } = (await make({ inRoom: false })).body as { blank: Blank };
    expect([blank.inRoom, blank.shadowStrength]).toEqual([false, 0]);
    const archive = await (await fetch(`${server.address}/api/blanks/${blank.id}/pack`)).arrayBuffer();
    const taken = await call('POST', '/api/blanks/import', Buffer.from(archive), {
      'Content-Type': 'application/octet-stream',
    });
    const listed = ((await call('GET', '/api/blanks')).body as ListedBlank[]).find((one) => one.id === taken.body.id)!;
    expect(isInRoom(listed)).toBeFalse();
    expect(isInRoom(((await make()).body as { blank: Blank }).blank)).toBeTrue();
  });

  it('are changed later, and their pictures are out of date then', async () => {
    const { id } = ((await make({ name: 'Before' })).body as { blank: Blank }).blank;
    const designId = await newDesign();
    await pictured(id, '#1F2B4D', designId);
    const kept = (await call('GET', `/api/blanks/${id}/source`)).body as OwnBlankSource;
    expect(kept).toEqual(source({ name: 'Before' }));
    const changed = await call('PUT', `/api/blanks/${id}`, { ...kept, name: 'After', widthMm: 200 });
    expect([changed.status, changed.body.blank.id, changed.body.blank.name]).toEqual([200, id, 'After']);
    const pictures = (await call('GET', `/api/designs/${designId}/pictures`)).body as Picture[];
    expect(pictures.map((one) => one.outOfDate)).toEqual([true]);
    // The photo stays as long as a blank is made of it.
    await server.house.keeper.run();
    expect((await call('GET', `/api/assets/${photo}`)).status).toBe(200);
    expect((await call('DELETE', `/api/blanks/${id}`)).status).toBe(204);
    expect(((await call('GET', '/api/blanks')).body as ListedBlank[]).some((one) => one.id === id)).toBeFalse();
  });

  it('go out as an archive and come back as another blank that makes the same picture', async () => {
    const { id } = ((await make({ name: 'Travels' })).body as { blank: Blank }).blank;
    const response = await fetch(`${server.address}/api/blanks/${id}/pack`);
    expect(response.headers.get('content-disposition')).toContain('Travels.blank.zip');
    const archive = Buffer.from(await response.arrayBuffer());
    expect(Object.keys(unzipSync(archive)).sort()).toEqual(
      ['blank.json', 'mask.webp', 'photo.webp', 'shade.webp', 'shadow.webp', 'uv-print.webp'].sort(),
    );
    const taken = await call('POST', '/api/blanks/import', archive, { 'Content-Type': 'application/octet-stream' });
    expect(taken.status).withContext(JSON.stringify(taken.body)).toBe(201);
    expect(taken.body.id).not.toBe(id);
    const designId = await newDesign();
    const [one, other] = [await pictured(id, '#D9A93B', designId), await pictured(taken.body.id, '#D9A93B', designId)];
    expect(Buffer.compare(one.data, other.data)).toBe(0);
    expect((await call('PUT', `/api/blanks/${taken.body.id}`, source())).body.detail).toContain('came as a pack');
  });

  it('lie around a cup, and bend along a grid', async () => {
    const cup = await make({
      product: 'Mug',
      shape: {
        kind: 'cylinder',
        corners: [
          { x: 0.35, y: 0.3 },
          { x: 0.65, y: 0.3 },
          { x: 0.65, y: 0.6 },
          { x: 0.35, y: 0.6 },
        ],
        sag: 0.06,
        arc: 160,
        shows: [0.3, 0.7],
      },
      widthMm: 210,
      heightMm: 90,
    });
    expect(cup.status).withContext(JSON.stringify(cup.body)).toBe(201);
    const grid = await make({
      shape: {
        kind: 'grid',
        columns: 3,
        rows: 3,
        points: [0.3, 0.45, 0.6].flatMap((y, j) =>
          [0.38, 0.51, 0.64].map((x, i) => ({ x, y: y + (i === 1 ? 0.02 : 0) * (j === 1 ? 2 : 1) })),
        ),
      },
    });
    expect(grid.status).withContext(JSON.stringify(grid.body)).toBe(201);
    expect((await pictured(grid.body.blank.id, '#F5F3EE', await newDesign())).picture.size).toBe(600);
  });

  it('are refused with a sentence when they cannot be', async () => {
    const { corners } = source().shape as Extract<AreaShape, { kind: 'corners' }>;
    const crossed = [corners[0], corners[2], corners[1], corners[3]];
    const tiny = corners.map(({ x, y }) => ({ x: 0.5 + x / 100, y: 0.5 + y / 100 }));
    const cases: readonly (readonly [Partial<OwnBlankSource>, RegExp])[] = [
      [{ shape: { kind: 'corners', corners: crossed } }, /crossed/],
      [{ shape: { kind: 'corners', corners: tiny } }, /smaller than 20/],
      [{ shape: { kind: 'corners', corners: corners.slice(1) } }, /four corners/],
      [{ widthMm: 0 }, /at least 5/],
      [{ product: 'Spaceship' }, /Product/],
      [
        {
          treatments: [
            { id: 'c', kind: 'strokes', hair: 0, strokes: [{ keep: false, points: [0, 0, 1, 1], size: 0.9 }] },
          ],
        },
        /hardly anything|covers/,
      ],
      [{ assetId: 'gone' }, /photo of this blank/],
      [{ assetId: art }, /drawing/],
    ];
    for (const [change, sentence] of cases) {
      const answer = await make(change);
      expect(answer.status).withContext(sentence.source).toBeGreaterThanOrEqual(400);
      expect(answer.status).withContext(sentence.source).toBeLessThan(500);
      expect(answer.body.detail).toMatch(sentence);
    }
  });

  it('that come as archives are looked at before they are taken in', async () => {
    const { id } = ((await make({ name: 'Sound' })).body as { blank: Blank }).blank;
    const good = unzipSync(
      new Uint8Array(await (await fetch(`${server.address}/api/blanks/${id}/pack`)).arrayBuffer()),
    );
    const before = ((await call('GET', '/api/blanks')).body as ListedBlank[]).length;
    const send = (files: Record<string, Uint8Array>) =>
      call('POST', '/api/blanks/import', Buffer.from(zipSync(files)), { 'Content-Type': 'application/octet-stream' });
    const manifest = JSON.parse(Buffer.from(good['blank.json']).toString()) as Blank;
    const small = new Uint8Array(
      await sharp({ create: { width: 40, height: 40, channels: 3, background: '#fff' } })
        .webp()
        .toBuffer(),
    );
    const without = ({ ...files }: Record<string, Uint8Array>, name: string) => {
      delete files[name];
      return files;
    };
    const cases: readonly (readonly [Record<string, Uint8Array>, RegExp])[] = [
      [without(good, 'blank.json'), /needs a manifest/],
      [without(good, 'mask.webp'), /“mask.webp” of this blank pack is missing/],
      [{ ...good, 'shade.webp': small }, /has 40 × 40 px instead of 700 × 700/],
      [{ ...good, 'photo.webp': strToU8('no picture') }, /“photo.webp” of this blank pack cannot be read/],
      [{ ...good, 'uv-print.webp': good['shade.webp'] }, /instead of 700 × 1400/],
      [{ ...good, 'blank.json': strToU8('{') }, /cannot be read as JSON/],
      [
        {
          ...good,
          'blank.json': strToU8(JSON.stringify({ ...manifest, areas: [{ ...manifest.areas[0], widthMm: 0 }] })),
        },
        /not as it should be/,
      ],
      [
        {
          ...good,
          'blank.json': strToU8(JSON.stringify({ ...manifest, files: { ...manifest.files, mask: '../mask.webp' } })),
        },
        /not as it should be/,
      ],
      [{ '../blank.json': good['blank.json'] }, /out of its own folder|needs a manifest/],
    ];
    for (const [files, sentence] of cases) {
      const answer = await send(files);
      expect([413, 422]).withContext(sentence.source).toContain(answer.status);
      expect(answer.body.detail).toMatch(sentence);
    }
    const junk = await call('POST', '/api/blanks/import', Buffer.from('no archive at all'), {
      'Content-Type': 'application/octet-stream',
    });
    expect([junk.status, junk.body.detail]).toEqual([422, jasmine.stringContaining('no ZIP archive')]);
    expect(((await call('GET', '/api/blanks')).body as ListedBlank[]).length).toBe(before);
  });
});
