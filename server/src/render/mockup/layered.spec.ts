import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import sharp from 'sharp';
import { emptyDesign, type DesignDocument, type Scene } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import type { RunningServer } from '../../launch/server.js';
import { caller, smallTee, testServer } from '../../testing/test-house.js';

describe('a mockup as a file', () => {
  let server: RunningServer;
  let call: ReturnType<typeof caller>;
  let folder: string;
  let requirementId = '';
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-layers-'));
    server = await testServer({ work: false });
    call = caller(server.address);
    const tee = smallTee({ width: 14, height: 16, dpi: 100, product: 'T-shirt' });
    requirementId = (await call('POST', '/api/requirements', tee)).body.id as string;
  });
  afterAll(async () => {
    await server.stop();
    await rm(folder, { recursive: true, force: true });
  });

  const field = { width: 355.6, height: 406.4 };
  /** A disc of 120 mm of half-clear yellow in a square ring, its middle 180 mm below the collar. */
  const design = async (scene: Partial<Scene>): Promise<string> => {
    const place = (size: number) => ({
      x: 177.8,
      y: 180,
      width: size,
      height: size,
      turn: 0,
      flipX: false,
      flipY: false,
    });
    const layers = [
      { ...shapeLayer('disc', 'ellipse', field, '#f2bd4b'), opacity: 0.7, place: place(120) },
      { ...shapeLayer('dot', 'rectangle', field, '#b4532a'), place: place(40) },
    ];
    const document: DesignDocument = {
      ...emptyDesign('Fog Signal', field),
      layers,
      targets: [{ requirementId }],
      scene: {
        blankId: 'tee-front',
        requirementId,
        areaId: 'full-front',
        garment: '#1F2B4D',
        backdrop: '#e4e1d9',
        inkOpacity: 1,
        shadow: 0.6,
        trueSize: true,
        ...scene,
      } as Scene,
    };
    const { status, body } = await call('POST', '/api/designs', document);
    if (status !== 201) throw new Error(JSON.stringify(body));
    return body.id as string;
  };
  const file = async (id: string, as: string): Promise<Buffer> => {
    const response = await fetch(`${server.address}/api/designs/${id}/file?as=${as}`);
    expect(response.status).toBe(200);
    return Buffer.from(await response.arrayBuffer());
  };

  it('has layers that another program puts together to the very picture, on a shirt and in a room', async () => {
    for (const scene of [
      { garment: '#1F2B4D' },
      { garment: '#F5F3EE', behind: { kind: 'gradient', to: '#8fb0c8', turn: 90 }, measured: 'mm' },
      { blankId: 'tote-hall', areaId: 'front', garment: '#D9A93B' },
    ] as Partial<Scene>[]) {
      const inside = unzipSync(await file(await design(scene), 'mockup-ora'));
      const xml = Buffer.from(inside['stack.xml']).toString();
      const layers = [...xml.matchAll(/<layer name="([^"]+)" src="([^"]+)".*?composite-op="svg:([a-z-]+)"/g)].reverse();
      expect(layers.map(([, name]) => name)).toEqual([
        'Wall',
        'Product',
        'Print',
        'Shade',
        'Gloss',
        ...(scene.measured ? ['Measures'] : []),
      ]);
      const [wall, ...rest] = layers;
      const blend = { 'src-over': 'over', multiply: 'multiply', plus: 'add' } as const;
      // libvips lays, multiplies and adds by itself, in sRGB.
      let together = Buffer.from(inside[wall[2]]);
      for (const [, , src, operator] of rest)
        together = await sharp(together)
          .composite([{ input: Buffer.from(inside[src]), blend: blend[operator as keyof typeof blend] }])
          .png({ compressionLevel: 0 })
          .toBuffer();
      const raw = (bytes: Uint8Array) => sharp(Buffer.from(bytes)).removeAlpha().raw().toBuffer();
      const [ours, theirs] = [await raw(inside['mergedimage.png']), await raw(together)];
      expect(theirs.length).toBe(ours.length);
      let [sum, off] = [0, 0];
      for (let i = 0; i < ours.length; i++) {
        const apart = Math.abs(ours[i] - theirs[i]);
        sum += apart;
        if (apart > 3) off++;
      }
      // Each of five layers is rounded to whole levels.
      expect(sum / ours.length)
        .withContext(xml.slice(0, 200))
        .toBeLessThan(0.6);
      expect(off / ours.length)
        .withContext(xml.slice(0, 200))
        .toBeLessThan(0.0005);
      // The wall is what is seen beside the product: it is shot as brightly as the picture.
      const [behind, covers] = await Promise.all(
        [wall[2], layers[1][2]].map((src) => sharp(Buffer.from(inside[src])).ensureAlpha().raw().toBuffer()),
      );
      let [beside, count] = [0, 0];
      for (let i = 0; i < covers.length; i += 4) {
        if (covers[i + 3] > 0 || scene.measured) continue;
        beside += Math.abs(behind[i] - ours[(i / 4) * 3]);
        count++;
      }
      expect(beside / Math.max(1, count))
        .withContext(`${scene.blankId}, beside the product`)
        .toBeLessThan(0.5);
      // The print is a layer of its own: nothing of it is on the product, and none of the cloth on it.
      const print = await sharp(Buffer.from(inside[layers[2][2]])).raw().toBuffer();
      const inked = { full: 0, half: 0 };
      for (let i = 3; i < print.length; i += 4) {
        if (print[i] > 250) inked.full++;
        if (Math.abs(print[i] - 178) < 6) inked.half++;
      }
      if (!scene.blankId) {
        // The dot has 40 × 40 mm, the disc around it is 70 % of ink.
        expect(inked.half / inked.full).toBeCloseTo((Math.PI * 60 ** 2 - 40 ** 2) / 40 ** 2, 0);
        // Ink is flat: under the shade of its cloth it has the colour it was drawn in. What dark cloth throws back is more
        // than it multiplies.
        const dot = (820 * 2000 + 1000) * 4;
        const most = scene.garment === '#F5F3EE' ? 8 : 20;
        for (const [k, drawn] of [0xb4, 0x53, 0x2a].entries())
          expect(Math.abs(print[dot + k] - drawn))
            .withContext(`${scene.garment}, channel ${k}`)
            .toBeLessThan(most);
        const product = await sharp(Buffer.from(inside[layers[1][2]])).raw().toBuffer();
        const centre = (1000 * 2000 + 1000) * 4;
        expect(`#${product.subarray(centre, centre + 3).toString('hex')}`).toBe(scene.garment!.toLowerCase());
      }
    }
  });

  it('is a page on which the print measures what it will measure', async () => {
    const id = await design({});
    const bytes = await file(id, 'mockup-pdf');
    const document = await getDocument({ data: Uint8Array.from(bytes), verbosity: 0 }).promise;
    const page = await document.getPage(1);
    const [, , width, height] = page.view;
    expect(width).toBe(height);
    // The picture on the page: how many of its pixels the dot is wide, across its middle.
    const images = bytes.indexOf(Buffer.from([0xff, 0xd8, 0xff]));
    const end = bytes.lastIndexOf(Buffer.from([0xff, 0xd9])) + 2;
    const { data, info } = await sharp(bytes.subarray(images, end)).raw().toBuffer({ resolveWithObject: true });
    const isDot = (x: number, y: number): boolean => {
      const at = (y * info.width + x) * 3;
      return data[at] > 90 && data[at] > data[at + 1] * 1.6 && data[at + 2] < data[at + 1];
    };
    const rows: number[] = [];
    for (let y = 0; y < info.height; y++) {
      let count = 0;
      for (let x = 0; x < info.width; x++) if (isDot(x, y)) count++;
      if (count > 50) rows.push(count);
    }
    rows.sort((a, b) => a - b);
    const wide = rows[rows.length >> 1];
    expect((wide * (width / info.width) * 25.4) / 72).toBeGreaterThan(38);
    expect((wide * (width / info.width) * 25.4) / 72).toBeLessThan(42);
  });

  it('says so when the design was never shown on a product', async () => {
    const { body } = await call('POST', '/api/designs', emptyDesign('Bare', field));
    const { status, body: problem } = await call('GET', `/api/designs/${body.id}/file?as=mockup-ora`);
    expect([status, problem.code]).toEqual([409, 'no-scene']);
  });
});
