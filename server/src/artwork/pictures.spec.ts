import { readFileSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import { NO_EDGE, NO_TONE, type DesignDocument, type Treatment } from '@kettle/core/model';
import { compileTreatKernel, reduced, Treater, treatmentName } from '@kettle/core/treatments';
import { textLayer, unsetLettering } from '@kettle/core/document';
import { isOver, smallDesign, smallTee, until, serverForAll } from '../testing/test-house.js';

const kernel = compileTreatKernel(readFileSync(fileURLToPath(import.meta.resolve('@kettle/core/treat.wasm'))));
const WHITE_OUT: Treatment = { id: 'w', kind: 'colour', hex: '#ffffff', tolerance: 6, from: 'border' };
const ALL_WHITE: Treatment = { ...WHITE_OUT, from: 'everywhere' };
const KEYLINE = { hex: '#00ff00', width: 2.54, gap: 0, join: 'round', holes: 'kept' } as const;

/** A disc with a hole on white: a quarter of the side to a third of it. */
const ring = (side: number, ground: string | null = '#ffffff', ink = '#1f2b4d'): Promise<Buffer> =>
  sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${side}" height="${side}" viewBox="0 0 100 100">${ground ? `<rect width="100" height="100" fill="${ground}"/>` : ''}<circle cx="50" cy="50" r="29" fill="none" stroke="${ink}" stroke-width="8"/></svg>`,
    ),
  )
    .png()
    .toBuffer();

const rawOf = async (bytes: Buffer): Promise<Pixels> => {
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
};
const alphaAt = ({ width, data }: Pixels, x: number, y: number): number => data[(y * width + x) * 4 + 3];

describe('pictures made fit for cloth', () => {
  const { server, call } = serverForAll();
  let requirement: string;
  beforeAll(async () => {
    requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
  });

  const upload = async (bytes: Buffer, name = 'ring.png'): Promise<string> =>
    (await call('POST', '/api/assets', bytes, { 'X-Filename': name, 'Content-Type': 'application/octet-stream' })).body
      .id;
  const bytesOf = async (path: string): Promise<Buffer> =>
    Buffer.from(await (await fetch(server.address + path)).arrayBuffer());
  async function design(bytes: Buffer, change: (document: DesignDocument) => DesignDocument) {
    const document = change(smallDesign(await upload(bytes), [requirement]));
    const answer = await call('POST', '/api/designs', document);
    expect(answer.status).withContext(JSON.stringify(answer.body)).toBe(201);
    return { id: answer.body.id as string, document };
  }
  const treated = (treatments: readonly Treatment[]) => (document: DesignDocument) => ({
    ...document,
    layers: [{ ...document.layers[0], treatments } as DesignDocument['layers'][0]],
  });
  async function printed(id: string) {
    const asked = await call('POST', `/api/designs/${id}/print-files`, { requirementIds: [requirement] });
    expect(asked.status).withContext(JSON.stringify(asked.body)).toBe(202);
    const job = await until(async () => (await call('GET', `/api/jobs/${asked.body.jobId}`)).body, isOver);
    expect(job.state).withContext(job.message).toBe('done');
    const files = (await call('GET', `/api/designs/${id}/print-files`)).body;
    return Promise.all(
      files.map(async (file: { id: string; version: string | null; accepted: boolean; filename: string }) => ({
        ...file,
        pixels: await rawOf(await bytesOf(`/api/print-files/${file.id}/content`)),
      })),
    );
  }
  const findings = async (id: string, query = ''): Promise<string[]> =>
    (await call('GET', `/api/designs/${id}/findings?requirement=${requirement}${query}`)).body.map(
      (finding: { code: string; severity: string }) => `${finding.code} ${finding.severity}`,
    );

  it('print as they were previewed, less than a level apart', async () => {
    // 100 px on 100 px of print: nothing is resampled on the way.
    const source = await ring(100);
    const { id } = await design(source, treated([WHITE_OUT]));
    const [file] = await printed(id);
    expect(file.accepted).toBeTrue();
    const own = await rawOf(source);
    const preview = new Treater(kernel, { ...own, data: Uint8ClampedArray.from(own.data) }, 100, 100).shown([
      WHITE_OUT,
    ]);
    let sum = 0;
    for (let y = 0; y < 100; y++)
      for (let x = 0; x < 100; x++) {
        const [a, b] = [((y + 50) * 200 + x + 50) * 4, (y * 100 + x) * 4];
        for (let k = 0; k < 4; k++) {
          const weight = k === 3 ? 1 : preview.data[b + 3] / 255;
          sum += Math.abs(file.pixels.data[a + k] - preview.data[b + k]) * weight;
        }
      }
    expect(sum / 40_000).toBeLessThan(1);
    expect([alphaAt(file.pixels, 52, 52), alphaAt(file.pixels, 100, 71)]).toEqual([0, 255]);
  });

  it('print as they were previewed where the picture is larger than its working copy', async () => {
    const source = await ring(2000);
    const { id } = await design(source, treated([WHITE_OUT]));
    const [file] = await printed(id);
    const own = await rawOf(source);
    const working = reduced(own, 1000, 1000);
    const preview = reduced(new Treater(kernel, working, 2000, 2000).shown([WHITE_OUT]), 100, 100);
    let sum = 0;
    for (let y = 0; y < 100; y++)
      for (let x = 0; x < 100; x++) sum += Math.abs(alphaAt(file.pixels, x + 50, y + 50) - alphaAt(preview, x, y));
    expect(sum / 10_000).toBeLessThan(1);
  });

  it('are judged as they are shown, on the server as in the browser', async () => {
    const box = await design(await ring(400), (same) => same);
    expect(await findings(box.id)).toContain('white-box blocks');
    const cut = await design(await ring(400), treated([WHITE_OUT]));
    expect((await findings(cut.id)).join()).not.toContain('white-box');
    const asset = (box.document.layers[0] as { assetId: string }).assetId;
    const { status, body } = await call('POST', `/api/assets/${asset}/treated`, { treatments: [WHITE_OUT] });
    expect(status).toBe(200);
    expect([body.flatBorder, body.opaque, body.width]).toEqual([null, false, 400]);
    expect(body.inkBox.width).toBeCloseTo(0.66, 1);
  });

  it('are measured anew when they came in under an older way of measuring', async () => {
    const { id } = await design(await ring(300), (same) => same);
    await findings(id);
    const { database } = server.house;
    await database.change("UPDATE asset SET measured = 0, facts = JSON_SET(facts, '$.flatBorder', NULL)", []);
    let heard = 0;
    await server.house.assets.measureAgain(() => heard++);
    expect(heard).toBeGreaterThan(0);
    expect(await findings(id)).toContain('white-box blocks');
    expect(await server.house.database.rows('SELECT id FROM asset WHERE measured = 0')).toEqual([]);
  });

  it('are worked out once and kept by what is done to them', async () => {
    const asset = await upload(await ring(500, '#fdfdf0'));
    const treatments = [{ ...WHITE_OUT, hex: '#fdfdf0' }];
    await call('POST', `/api/assets/${asset}/treated`, { treatments });
    const folder = join(server.house.cache, 'treated');
    const before = (await readdir(folder).catch(() => [])).length;
    const name = treatmentName(treatments as Treatment[]);
    const picture = await rawOf(await bytesOf(`/api/assets/${asset}/rendition?size=256&treated=${name}`));
    expect(alphaAt(picture, 2, 2)).toBe(0);
    expect((await readdir(folder)).length).toBe(before + 1);
    await bytesOf(`/api/assets/${asset}/rendition?size=512&treated=${name}`);
    expect((await readdir(folder)).length).toBe(before + 1);
    const unknown = await call('GET', `/api/assets/${asset}/rendition?size=256&treated=${'0'.repeat(32)}`);
    expect([unknown.status, unknown.body.code]).toEqual([404, 'no-such-treatment']);
  });

  it('are asked for without waiting until somebody has looked at them; what hinders them is told then', async () => {
    let lookAway: () => void = () => undefined;
    const looked = new Promise<void>((resolve) => (lookAway = resolve));
    const pictures = server.house.pictures as unknown as { lookNow(...all: unknown[]): Promise<unknown> };
    const look = pictures.lookNow.bind(pictures);
    spyOn(pictures, 'lookNow').and.callFake(async (...all) => {
      await looked;
      return look(...all);
    });
    const cut = treated([{ ...WHITE_OUT, tolerance: 7 }]);
    const words = textLayer(
      't',
      { text: 'Fog', fontId: 'anton' },
      unsetLettering('Fog'),
      { width: 50, height: 60 },
      '#000000',
    );
    const { id } = await design(await ring(101), cut);
    const hindered = await design(await ring(103), (document) => ({
      ...cut(document),
      layers: [...cut(document).layers, words],
    }));
    const ask = (path: string) => call('POST', path, { requirementIds: [requirement] });
    const asked = [await ask(`/api/designs/${id}/print-files`), await ask(`/api/designs/${hindered.id}/print-files`)];
    expect(asked.map(({ status }) => status)).toEqual([202, 202]);
    lookAway();
    const [made, told] = await Promise.all(
      asked.map(({ body }) => until(async () => (await call('GET', `/api/jobs/${body.jobId}`)).body, isOver)),
    );
    expect(made.state).withContext(made.message).toBe('done');
    expect(told.state).toBe('failed');
    expect(told.message).toContain('“Fog” is not set in its face yet');
    // Looked at once, it is refused at once.
    expect((await ask(`/api/designs/${hindered.id}/print-files`)).status).toBe(409);
  });

  it('are cropped, and keep their place and their resolution', async () => {
    const crop: Treatment = { id: 'c', kind: 'crop', box: { x: 0.5, y: 0, width: 0.5, height: 1 } };
    const { id } = await design(await ring(100, null), (document) => ({
      ...document,
      layers: [
        {
          ...document.layers[0],
          treatments: [crop],
          place: { ...document.layers[0].place, x: 31.75, width: 12.7 },
        } as DesignDocument['layers'][0],
      ],
    }));
    const [file] = await printed(id);
    // The right half of the ring alone, where it always was.
    expect([alphaAt(file.pixels, 129, 100), alphaAt(file.pixels, 71, 100)]).toEqual([255, 0]);
    expect((await findings(id)).join()).not.toContain('enlarged');
  });

  it('come as a working copy that is what was uploaded', async () => {
    const source = await ring(200);
    const bytes = await bytesOf(`/api/assets/${await upload(source)}/working`);
    expect([0, 4, 8, 12].map((at) => bytes.readUInt32LE(at))).toEqual([200, 200, 200, 200]);
    expect(bytes.subarray(16).equals(Buffer.from((await rawOf(source)).data))).toBeTrue();
    const large = await bytesOf(`/api/assets/${await upload(await ring(3000))}/working`);
    expect([0, 4, 8, 12].map((at) => large.readUInt32LE(at))).toEqual([1024, 1024, 3000, 3000]);
  });

  it('travel with the design, treatments and all, and as treated pixels in OpenRaster', async () => {
    const { id } = await design(await ring(100), treated([WHITE_OUT, { ...NO_EDGE, shift: -1, id: 'e' }]));
    const kettle = await bytesOf(`/api/designs/${id}/file`);
    const taken = await call('POST', '/api/design-files', kettle, {
      'X-Filename': 'ring.kettle.zip',
      'Content-Type': 'application/octet-stream',
    });
    expect(taken.status).withContext(JSON.stringify(taken.body)).toBe(201);
    expect(taken.body.design.document.layers[0].treatments.map((one: Treatment) => one.kind)).toEqual([
      'colour',
      'edge',
    ]);
    const ora = await bytesOf(`/api/designs/${id}/file?as=ora&requirement=${requirement}`);
    const back = await call('POST', '/api/design-files', ora, {
      'X-Filename': 'ring.ora',
      'Content-Type': 'application/octet-stream',
    });
    expect(back.status).withContext(JSON.stringify(back.body)).toBe(201);
    const [layer] = back.body.design.document.layers;
    const pixels = await rawOf(await bytesOf(`/api/assets/${layer.assetId}/content`));
    expect(alphaAt(pixels, 2, 2)).toBe(0);
  });

  it('refuse what is no treatment, with a sentence', async () => {
    const asset = await upload(await ring(64));
    for (const [treatments, sentence] of [
      [[{ ...WHITE_OUT, tolerance: 'much' }], /Tolerance must be a number/],
      [[{ id: 'x', kind: 'sparkle' }], /Kind must be one of/],
      [[{ ...WHITE_OUT, from: 'point' }], /needs that point/],
      [[{ id: 'c', kind: 'crop', box: { x: 0.6, y: 0, width: 0.6, height: 1 } }], /inside its picture/],
      [[{ id: 's', kind: 'strokes', hair: 0, strokes: [{ keep: true, points: [0.5], size: 0.1 }] }], /x and y/],
      [Array.from({ length: 41 }, (_, n) => ({ ...WHITE_OUT, id: `t${n}` })), /at most 40/],
      [[{ ...NO_TONE, id: 't', lightness: 5 }], /Lightness must be at most 1/],
    ] as const) {
      const { status, body } = await call('POST', `/api/assets/${asset}/treated`, { treatments });
      expect([status, sentence.test(body.detail)])
        .withContext(JSON.stringify(body))
        .toEqual([422, true]);
    }
  });

  it('stand strokes on nothing and pictures with nothing left', async () => {
    const asset = await upload(await ring(64));
    const strokes: Treatment = {
      id: 's',
      kind: 'strokes',
      hair: 0,
      strokes: [{ keep: true, points: [0.02, 0.02, 0.03, 0.03], size: 0.02 }],
    };
    const all: Treatment = { ...WHITE_OUT, tolerance: 255, from: 'everywhere' };
    const { body } = await call('POST', `/api/assets/${asset}/treated`, { treatments: [all, strokes] });
    expect([body.inkBox, body.inks]).toEqual([null, []]);
    const { id } = await design(await ring(64), treated([all]));
    expect((await findings(id)).join()).toContain('nothing-visible');
  });

  describe('redrawn as outlines', () => {
    it('have the colours and the shape of the picture', async () => {
      const asset = await upload(await ring(120, null));
      const { status, body } = await call('POST', `/api/assets/${asset}/trace`, { treatments: [], colours: 4 });
      expect(status).toBe(200);
      expect(body.parts.map((part: { fill: string }) => part.fill)).toEqual(['#1f2b4d']);
      expect(body.differing).toBeLessThan(0.03);
      const { width, height } = body.box;
      const drawn = await rawOf(
        await sharp(
          Buffer.from(
            `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="200" viewBox="0 0 ${width} ${height}"><path d="${body.parts[0].path}"/></svg>`,
          ),
        )
          .png()
          .toBuffer(),
      );
      expect([alphaAt(drawn, 100, 42), alphaAt(drawn, 100, 100), alphaAt(drawn, 4, 4)]).toEqual([255, 0, 0]);
    });

    it('are refused for noise and for nothing, and nothing is changed', async () => {
      const noise = Buffer.alloc(300 * 300 * 3);
      for (let i = 0; i < noise.length; i++) noise[i] = (Math.sin(i * 127.1) * 43758.5) % 256;
      const png = (data: Buffer, channels: 3 | 4) =>
        sharp(data, { raw: { width: 300, height: 300, channels } })
          .png()
          .toBuffer();
      for (const [bytes, code] of [
        [await png(noise, 3), 'too-much-to-trace'],
        [await png(Buffer.alloc(300 * 300 * 4), 4), 'nothing-to-trace'],
      ] as const) {
        const { status, body } = await call('POST', `/api/assets/${await upload(bytes)}/trace`, {
          treatments: [],
          colours: 8,
        });
        expect([status, body.code]).toEqual([422, code]);
        expect(body.detail).toMatch(/\.$/);
      }
    });
  });

  describe('with versions for light and dark cloth', () => {
    const versions = (document: DesignDocument): DesignDocument => ({
      ...document,
      layers: [{ ...document.layers[0], treatments: [ALL_WHITE] } as DesignDocument['layers'][0]],
      targets: [
        {
          requirementId: requirement,
          versions: {
            dark: {
              layers: { one: { treatments: [ALL_WHITE, { ...NO_TONE, turnedOver: true, id: 't' }] } },
            },
          },
        },
      ],
    });

    it('have a file, a name, findings and a state each', async () => {
      const { id } = await design(await ring(100), versions);
      expect((await findings(id, '&version=light')).join()).not.toContain('lost');
      expect((await findings(id, '&version=dark')).join()).not.toContain('lost');
      const files = await printed(id);
      expect(files.map((file) => file.version).sort()).toEqual(['dark', 'light']);
      const [dark, light] = ['dark', 'light'].map((version) => files.find((file) => file.version === version)!);
      expect([dark.filename, light.filename]).toEqual([
        jasmine.stringContaining('for-dark-cloth'),
        jasmine.stringContaining('for-light-cloth'),
      ]);
      const inkOf = ({ data }: Pixels): number => data[(71 * 200 + 100) * 4];
      expect(inkOf(light.pixels)).toBeLessThan(60);
      expect(inkOf(dark.pixels)).toBeGreaterThan(130);
      expect([dark.accepted, light.accepted]).toEqual([true, true]);
      const { rows } = (await call('GET', `/api/sheet?designs=${id}`)).body;
      expect(rows[0].cells.map((cell: { state: string }) => cell.state)).toEqual(['ready']);
    });

    it('are one cell of the sheet, which asks for what the worst of them needs', async () => {
      const { id, document } = await design(await ring(100), versions);
      await printed(id);
      const [target] = document.targets;
      const changed = {
        ...document,
        targets: [{ ...target, versions: { dark: { layers: { one: { hidden: true } } } } }],
      };
      expect((await call('PUT', `/api/designs/${id}`, changed, { 'If-Match': '"1"' })).status).toBe(200);
      const [row] = (await call('GET', `/api/sheet?designs=${id}`)).body.rows;
      expect(row.cells.length).toBe(1);
      expect(row.cells[0].state).toBe('needs-work');
      const { status, body: files } = await call('GET', `/api/designs/${id}/print-files`);
      expect(status).withContext(JSON.stringify(files)).toBe(200);
      const light = files.find((file: { version: string }) => file.version === 'light');
      expect([light.outOfDate, light.standsFor]).toEqual([false, ['light']]);
      expect(files.find((file: { version: string }) => file.version === 'dark').outOfDate).toBeTrue();
    });
  });

  describe('with a line around them', () => {
    it('have it as wide as asked all around, outside of the art and of its hole', async () => {
      const { id } = await design(await ring(100, null), (document) => ({
        ...document,
        layers: [{ ...document.layers[0], keyline: KEYLINE } as DesignDocument['layers'][0]],
      }));
      const [file] = await printed(id);
      expect(file.accepted).toBeTrue();
      // 2.54 mm are 10 px: from the ring's outer edge at 33 px to 43, and inwards from 25 to 15.
      const { data } = file.pixels;
      for (let turn = 0; turn < 24; turn++) {
        const angle = (turn * Math.PI) / 12;
        const isGreen = (radius: number): boolean => {
          const i = (Math.floor(100 + Math.sin(angle) * radius) * 200 + Math.floor(100 + Math.cos(angle) * radius)) * 4;
          return data[i + 3] > 200 && data[i + 1] > 200 && data[i] < 60;
        };
        expect([isGreen(41.5), isGreen(35), isGreen(45), isGreen(17.5), isGreen(12.5)])
          .withContext(`${turn}`)
          .toEqual([true, true, false, true, false]);
      }
    });

    it('have a clear gap where one is asked for, and no hole where holes are filled', async () => {
      const { id } = await design(await ring(100, null), (document) => ({
        ...document,
        keyline: { ...KEYLINE, gap: 1.27, holes: 'filled' },
      }));
      const [file] = await printed(id);
      expect([100 + 35, 100 + 42].map((x) => alphaAt(file.pixels, x, 100) > 200)).toEqual([false, true]);
      expect(alphaAt(file.pixels, 100, 100)).toBe(0);
    });
  });

  it('hold no semi-transparent ink once it is printed as dots, and as much of it as before', async () => {
    const glow = await sharp(
      Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100"><rect width="100" height="100" fill="#c83020" fill-opacity="0.4"/></svg>',
      ),
    )
      .png()
      .toBuffer();
    const screen = { kind: 'dots', lpi: 20, angle: 25, shape: 'round' } as const;
    const plain = await design(glow, (same) => same);
    expect(await findings(plain.id)).toContain('soft-ink warns');
    const { id } = await design(glow, (document) => ({
      ...document,
      layers: [{ ...document.layers[0], screen } as DesignDocument['layers'][0]],
    }));
    expect((await findings(id)).join()).not.toContain('soft-ink');
    const [file] = await printed(id);
    expect(file.accepted).toBeTrue();
    let [solid, between] = [0, 0];
    for (let y = 50; y < 150; y++)
      for (let x = 50; x < 150; x++) {
        const alpha = alphaAt(file.pixels, x, y);
        if (alpha !== 0 && alpha !== 255) between++;
        solid += alpha / 255;
      }
    expect(between).toBe(0);
    expect(solid / 10_000).toBeGreaterThan(0.35);
    expect(solid / 10_000).toBeLessThan(0.45);
  });
});
