import { SELLER } from '../floor/basics/caller.js';
import sharp from 'sharp';
import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { DesignFileAnswer } from '@kettle/contract';
import { pngFacts } from '@kettle/core/raster';
import { PLAIN_LETTERING } from '@kettle/core/text';
import { demandedCanvas, emptyDesign, twoColours, type DesignDocument, type Layer } from '@kettle/core/model';
import { freehandLayer, shapeLayer } from '@kettle/core/drawing';
import { textLayer } from '@kettle/core/document';
import { decode, encode } from 'fast-png';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { RunningServer } from '../launch/server.js';
import { caller, smallTee, testServer, DISC } from '../testing/test-house.js';
import { shippedFiles } from '../render/text/font-catalogue.js';
import { readStack } from '../render/archive/ora-stack.js';

/** A PNG of one colour, by another writer. */
const sheet = (width: number, height: number, [r, g, b, a]: readonly number[]) =>
  encode({
    width,
    height,
    channels: 4,
    data: Uint8Array.from({ length: width * height * 4 }, (_, i) => [r, g, b, a][i % 4]),
  });

describe('a design as a file', () => {
  let server: RunningServer;
  let other: RunningServer;
  let call: ReturnType<typeof caller>;
  beforeAll(async () => {
    [server, other] = [await testServer({ mostUploadBytes: 8_000_000 }), await testServer()];
    call = caller(server.address);
  });
  afterAll(async () => {
    await server.stop();
    await other.stop();
  });

  /** A design that uses everything a file must carry. */
  async function everything(): Promise<{ id: string; document: DesignDocument }> {
    const { house } = server;
    const requirement = await house.requirements.add(SELLER.owner, smallTee({ name: 'Carried' }));
    const asset = (await call('POST', '/api/assets', DISC, { 'X-Filename': 'disc.svg' })).body.id as string;
    const font = (
      await call('POST', '/api/fonts', await readFile(shippedFiles('rye-latin-400')![0]), {
        'X-Filename': 'my rye.woff2',
      })
    ).body.start as string;
    const { outlines } = await house.lettering.set(SELLER, { text: 'Fog', fontId: font, settings: PLAIN_LETTERING });
    const field = { width: 50.8, height: 60.96 };
    const at = { x: 25, y: 20, width: 20, height: 20, turn: 12, flipX: true, flipY: false };
    const layers: Layer[] = [
      {
        kind: 'picture',
        id: 'disc',
        name: 'Disc <&> "quoted"',
        assetId: asset,
        place: at,
        opacity: 0.5,
        hidden: false,
        blend: 'multiply',
      },
      { ...shapeLayer('star', 'star', field, '#112233'), fill: twoColours('#112233', null), group: 'g', locked: true },
      { ...textLayer('words', { text: 'Fog', fontId: font }, outlines!, field, '#f2bd4b'), group: 'g' },
      {
        ...freehandLayer('hand', {
          points: [10, 40, 0.5, 30, 42, 0.7],
          size: 3,
          hardness: 0.5,
          opacity: 0.8,
          hex: '#b4532a',
          erase: false,
        }),
        hidden: true,
      },
    ];
    const document: DesignDocument = {
      ...emptyDesign('Fog & Drizzle', field),
      layers,
      groups: { g: 'Badge' },
      guides: [{ axis: 'x', at: 12.5 }],
      targets: [{ requirementId: requirement.id, layers: { star: { hidden: true } }, guides: [{ axis: 'y', at: 3 }] }],
    };
    return { id: (await call('POST', '/api/designs', document)).body.id, document };
  }
  const download = async (path: string) => Buffer.from(await (await fetch(server.address + path)).arrayBuffer());
  const take = (bytes: Uint8Array, to = call) =>
    to('POST', '/api/design-files', Buffer.from(bytes), {
      'X-Filename': 'some%20design.zip',
      'Content-Type': 'application/zip',
    }) as Promise<{ status: number; body: DesignFileAnswer & { detail: string; code: string } }>;
  const kettle = async (id: string) => download(`/api/designs/${id}/file?as=kettle`);

  describe('of some layers alone', () => {
    const part = async (id: string, query: string) => {
      const answer = await fetch(`${server.address}/api/designs/${id}/file?${query}`);
      return { answer, bytes: Buffer.from(await answer.arrayBuffer()) };
    };
    const pixels = async (bytes: Buffer) => {
      const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
      return { data, ...info, alpha: (x: number, y: number) => data[(y * info.width + x) * 4 + 3] };
    };

    it('are PNG with the target’s DPI, as large as the canvas or as their ink, and hold nothing else', async () => {
      const { id, document } = await everything();
      const requirement = document.targets[0].requirementId;
      const query = `as=png&layers=star&requirement=${requirement}`;
      const [whole, cut] = [await part(id, query), await part(id, `${query}&cut=ink`)];
      expect(cut.answer.headers.get('Content-Disposition')).toContain('Fog-Drizzle-Star.png');
      const { widthPx, heightPx, dpi } = demandedCanvas((await call('GET', `/api/requirements/${requirement}`)).body);
      const [canvas, ink] = [await pixels(whole.bytes), await pixels(cut.bytes)];
      expect([canvas.width, canvas.height]).toEqual([widthPx, heightPx]);
      expect(Math.round((await sharp(cut.bytes).metadata()).density!)).toBe(dpi);
      // The star is 60 % of the field's width or height; the disc, at 25, 20 mm, is not in it.
      expect(canvas.alpha(Math.round((25 / 25.4) * dpi), Math.round((20 / 25.4) * dpi))).not.toBe(128);
      // Laid where its ink lies, the one is the other to the pixel; and it ends with ink on all sides.
      const at = { left: widthPx, top: heightPx, right: -1, bottom: -1 };
      for (let y = 0; y < heightPx; y++)
        for (let x = 0; x < widthPx; x++)
          if (canvas.alpha(x, y)) {
            at.left = Math.min(at.left, x);
            at.top = Math.min(at.top, y);
            at.right = Math.max(at.right, x);
            at.bottom = Math.max(at.bottom, y);
          }
      expect([ink.width, ink.height]).toEqual([at.right - at.left + 1, at.bottom - at.top + 1]);
      const there = await sharp(whole.bytes)
        .extract({ left: at.left, top: at.top, width: ink.width, height: ink.height })
        .ensureAlpha()
        .raw()
        .toBuffer();
      expect(there.equals(ink.data)).toBeTrue();
    });

    it('are SVG where outlines hold them, at their true size, and say so where they do not', async () => {
      const { id, document } = await everything();
      const requirement = document.targets[0].requirementId;
      const group = `layers=star,words&requirement=${requirement}&cut=ink`;
      const { bytes } = await part(id, `as=svg&${group}`);
      const png = await part(id, `as=png&${group}`);
      const { width, height } = await pixels(png.bytes);
      const { dpi } = (await call('GET', `/api/requirements/${requirement}`)).body as { dpi: number };
      const [, wide] = /width="([\d.]+)mm"/.exec(bytes.toString())!;
      expect(Number(wide)).toBeCloseTo((width / dpi) * 25.4, 3);
      // A renderer that did not make it shows the same.
      const drawn = await sharp(bytes, { density: 72 })
        .resize(width, height, { fit: 'fill' })
        .ensureAlpha()
        .raw()
        .toBuffer();
      const { data } = await pixels(png.bytes);
      let off = 0;
      for (let i = 3; i < data.length; i += 4) off += Math.abs(drawn[i] - data[i]);
      expect(off / (data.length / 4)).toBeLessThan(6);
      const [, star] = document.layers;
      const rubbed = { ...star, rubbed: [{ points: [0.5, 0.5, 0.5], size: 0.2, hardness: 1, opacity: 1 }] };
      const other = (await call('POST', '/api/designs', { ...document, layers: [rubbed] })).body as { id: string };
      const refused = await part(other.id, `as=svg&layers=star&requirement=${requirement}`);
      expect([refused.answer.status, JSON.parse(refused.bytes.toString()).code]).toEqual([422, 'not-outlines']);
      const hand = await part(id, 'as=png&layers=hand&cut=ink');
      expect((await pixels(hand.bytes)).width).toBeGreaterThan(200);
      expect((await part(id, 'as=png&layers=gone')).answer.status).toBe(404);
    });
  });

  describe('.kettle.zip', () => {
    it('comes back exactly, here and on another server, with its originals, font and requirement', async () => {
      const { id, document } = await everything();
      const file = await kettle(id);
      expect((await kettle(id)).equals(file))
        .withContext('the same bytes each time')
        .toBeTrue();
      const inside = unzipSync(file);
      expect(Object.keys(inside).map((name) => name.replace(/[0-9a-f]{12}/, '#'))).toEqual([
        'design.json',
        'originals/#-disc.svg',
        'fonts/#-my-rye.woff2',
      ]);
      expect(Buffer.from(inside[Object.keys(inside)[1]]).equals(DISC)).toBeTrue();
      const here = await take(file);
      expect(here.status).toBe(201);
      expect(here.body.told).toEqual([]);
      expect(here.body.design.document).toEqual(document);
      const there = caller(other.address);
      const elsewhere = await take(file, there);
      expect(elsewhere.body.design.document).toEqual(document);
      expect((await there('GET', `/api/requirements/${document.targets[0].requirementId}`)).body.name).toBe('Carried');
      expect((await there('GET', '/api/fonts')).body[0]).toEqual(
        jasmine.objectContaining({ name: 'Rye', category: 'own' }),
      );
      // A second time round gives the very same file.
      const again = Buffer.from(
        await (await fetch(`${other.address}/api/designs/${elsewhere.body.design.id}/file`)).arrayBuffer(),
      );
      expect(JSON.parse(strFromU8(unzipSync(again)['design.json'])).document).toEqual(document);
    });

    it('that was cut, or lost a picture, gives what can be saved and says what is missing', async () => {
      const { id } = await everything();
      const file = await kettle(id);
      const cut = await take(file.subarray(0, file.length - 20_000));
      expect(cut.status).toBe(201);
      expect(cut.body.told.join(' ')).toContain('damaged');
      expect(cut.body.told.join(' ')).toContain('my rye.woff2');
      expect(cut.body.design.document.layers.length).toBe(4);
      const inside = unzipSync(file);
      const picture = Object.keys(inside)[1];
      const without = await take(
        zipSync(Object.fromEntries(Object.entries(inside).filter(([name]) => name !== picture))),
      );
      expect(without.body.told).toEqual([jasmine.stringContaining('“disc.svg” was left out')]);
      expect(without.body.design.document.layers.map((layer) => layer.id)).toEqual(['star', 'words', 'hand']);
      // A flipped bit in the original is met by its checksum.
      const flipped = Buffer.from(file);
      flipped[file.indexOf('<circle')] ^= 1;
      expect((await take(flipped)).body.told[0]).toContain('damaged');
    });

    it('is refused with a sentence when nothing can be saved', async () => {
      const { id } = await everything();
      const inside = unzipSync(await kettle(id));
      const cases: [Uint8Array, RegExp][] = [
        [randomBytes(4000), /no ZIP archive/],
        [zipSync({ 'readme.txt': strToU8('hello') }), /no design/],
        [zipSync({ 'design.json': strToU8('{"format":') }), /not whole/],
        [zipSync({ 'design.json': new Uint8Array(17_000_000).fill(32) }), /larger than any design/],
        [zipSync({ 'design.json': strToU8('{"format":"else"}') }), /not a design/],
        [
          zipSync({
            ...inside,
            'design.json': strToU8(strFromU8(inside['design.json']).replace('"version": 1', '"version": 9')),
          }),
          /later version/,
        ],
        [
          zipSync({
            ...inside,
            'design.json': strToU8(strFromU8(inside['design.json']).replace(/"opacity": 0.5/, '"opacity": 7')),
          }),
          /Opacity/,
        ],
      ];
      for (const [bytes, words] of cases) {
        const { status, body } = await take(bytes);
        expect(status).withContext(body.detail).toBeGreaterThanOrEqual(415);
        expect(body.detail).toMatch(words);
      }
    });
  });

  describe('archives made to harm', () => {
    it('with names that climb out are refused, whole or cut', async () => {
      for (const name of ['../../etc/kettle', '/etc/kettle', 'a/../../b', 'C:\\kettle']) {
        const file = zipSync({ [name]: strToU8('x'), 'design.json': strToU8('{}') });
        for (const bytes of [file, file.subarray(0, file.length - 30)]) {
          const { status, body } = await take(bytes);
          expect(status).withContext(name).toBe(422);
          expect(body.code).withContext(name).toBe('climbing-name');
        }
      }
    });

    it('that unpack to far more than they say, or say more than a design needs, are refused, and the server goes on', async () => {
      const zeros = Buffer.from(zipSync({ 'data/zeros.png': [new Uint8Array(60_000_000), { level: 9 }] }));
      const listed = zeros.indexOf('PK\x01\x02') + 24;
      const saying = (bytes: number) => {
        const copy = Buffer.from(zeros);
        copy.writeUInt32LE(bytes, listed);
        return copy;
      };
      expect((await take(saying(3_000_000_000))).status).toBe(413);
      // It says ten bytes and holds sixty million: it is given up at the eleventh.
      expect((await take(saying(10))).body.detail).toMatch(/no design/);
      const many = Buffer.from(
        zipSync(Object.fromEntries(Array.from({ length: 2500 }, (_, i) => [`${i}`, strToU8('x')]))),
      );
      expect((await take(many)).status).toBe(413);
      expect((await call('GET', '/api/health')).status).toBe(200);
    });
  });

  describe('OpenRaster', () => {
    it('is written by its specification: stored mimetype first, stack, layers, merged picture and thumbnail', async () => {
      const { id, document } = await everything();
      const file = await download(`/api/designs/${id}/file?as=ora&requirement=${document.targets[0].requirementId}`);
      expect(file.toString('latin1', 30, 38 + 16)).toBe('mimetypeimage/openraster');
      const inside = unzipSync(file);
      const stack = readStack(strFromU8(inside['stack.xml']));
      expect([stack.width, stack.height, stack.dpi, stack.name]).toEqual([200, 240, 100, 'Fog & Drizzle']);
      expect(
        stack.layers.map(({ name, opacity, hidden, locked, blend, group }) => [
          name,
          opacity,
          hidden,
          locked,
          blend,
          group?.name ?? null,
        ]),
      ).toEqual([
        ['Disc <&> "quoted"', 0.5, false, false, 'multiply', null],
        ['Star', 1, true, true, 'normal', 'Badge'],
        ['Fog', 1, false, false, 'normal', 'Badge'],
        ['Freehand', 1, true, false, 'normal', null],
      ]);
      // The disc lies turned where the design has it: its middle is opaque gold, laid down without its opacity, which
      // the stack carries.
      const disc = stack.layers[0];
      const picture = decode(inside[disc.src]);
      const middle = { x: Math.round((25 / 25.4) * 100) - disc.x, y: Math.round((20 / 25.4) * 100) - disc.y };
      expect([
        ...picture.data.slice((middle.y * picture.width + middle.x) * 4, (middle.y * picture.width + middle.x) * 4 + 4),
      ]).toEqual([0xf2, 0xbd, 0x4b, 255]);
      const merged = decode(inside['mergedimage.png']);
      expect([merged.width, merged.height]).toEqual([200, 240]);
      // Each picture in it says its density and its colours, for programs that go by them.
      for (const name of [disc.src, 'mergedimage.png'])
        expect(pngFacts(inside[name]))
          .withContext(name)
          .toEqual(jasmine.objectContaining({ pixelsPerMetreX: 3937, pixelsPerMetreY: 3937, profile: 'sRGB' }));
      const thumbnail = decode(inside['Thumbnails/thumbnail.png']);
      expect(Math.max(thumbnail.width, thumbnail.height)).toBeLessThanOrEqual(256);
      // Read again it is the same picture, layer by layer.
      const back = await take(file);
      expect(back.body.told).toEqual([]);
      expect(
        back.body.design.document.layers.map(({ name, opacity, hidden, blend, locked }) => [
          name,
          opacity,
          hidden,
          blend ?? 'normal',
          locked ?? false,
        ]),
      ).toEqual(stack.layers.map(({ name, opacity, hidden, blend, locked }) => [name, opacity, hidden, blend, locked]));
    });

    const foreign = (stack: string, files: Record<string, Uint8Array> = {}): Uint8Array =>
      zipSync({
        // Another writer packs everything, puts the mimetype last, and nests its stacks.
        'stack.xml': strToU8(stack),
        'data/a.png': sheet(100, 50, [200, 30, 30, 255]),
        'data/b.png': sheet(40, 40, [20, 30, 200, 128]),
        'mergedimage.png': sheet(300, 200, [0, 0, 0, 0]),
        mimetype: strToU8('image/openraster'),
        ...files,
      });
    const STACK =
      '<image w="300" h="200" xres="150" yres="150"><stack><layer name="Front" src="data/b.png" x="10" y="-20" opacity="0.25" composite-op="svg:screen"/><stack name="Pair" x="30" y="40" opacity="0.5"><stack name="Inner" x="5"><layer name="Deep" src="data/a.png" x="1" y="2"/></stack><layer src="data/b.png" visibility="hidden" composite-op="svg:dst-in"/></stack><layer name="Back" src="data/a.png"/></stack></image>';

    it('by another writer is read with places, groups, opacity and operators', async () => {
      const { status, body } = await take(foreign(STACK));
      expect(status).toBe(201);
      const { document } = body.design;
      expect(document.name).toBe('some design');
      expect([document.field.width, document.field.height]).toEqual([50.8, jasmine.any(Number)]);
      const px = (mm: number) => Math.round((mm / 25.4) * 150 * 1000) / 1000;
      expect(
        document.layers.map(({ name, place, opacity, hidden, blend, group }) => [
          name,
          px(place.x - place.width / 2),
          px(place.y - place.height / 2),
          px(place.width),
          opacity,
          hidden,
          blend ?? 'normal',
          Boolean(group),
        ]),
      ).toEqual([
        ['Back', 0, 0, 100, 1, false, 'normal', false],
        ['Layer', 30, 40, 40, 0.5, true, 'normal', true],
        ['Deep', 36, 42, 100, 0.5, false, 'normal', true],
        ['Front', 10, -20, 40, 0.25, false, 'screen', false],
      ]);
      expect(Object.values(document.groups ?? {})).toEqual(['Pair']);
      expect(body.told.join(' ')).toContain('svg:dst-in');
    });

    it('with damaged parts gives the others and says which are missing', async () => {
      const some = await take(foreign(STACK, { 'data/a.png': sheet(100, 50, [1, 2, 3, 4]).subarray(0, 60) }));
      expect(some.status).toBe(201);
      expect(some.body.design.document.layers.map((layer) => layer.name)).toEqual(['Layer', 'Front']);
      expect(some.body.told.filter((sentence) => /“(Back|Deep)” was left out/.test(sentence)).length).toBe(2);
      for (const [stack, words] of [
        ['<image><stack/></image>', /how large/],
        [`<!DOCTYPE x [<!ENTITY a "b">]>${STACK}`, /entities/],
        [STACK.replaceAll('data/', 'gone/'), /No layer/],
      ] as const) {
        const { status, body } = await take(foreign(stack));
        expect(status).toBe(422);
        expect(body.detail).toMatch(words);
      }
    });
  });
});
