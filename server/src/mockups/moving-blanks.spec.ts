import { cp, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import type { Blank } from '@kettle/core/model';
import { areaOf, asStill, filesOfBlank, textureGrid, viewOf, type MovingBlank } from '@kettle/core/mockup';
import { BLANKS } from '../floor/files/shipped.js';
import { silentLog } from '../floor/basics/log.js';
import { packIn, readyBlank } from '../render/mockup/blank-pack.js';
import { caller, freshFolder, serverForAll } from '../testing/test-house.js';
import { BlankService } from './blanks.js';

const ID = 'mug-turning';
const folder = join(BLANKS, ID);

describe('moving blanks', () => {
  const { server } = serverForAll();
  let blank: MovingBlank;
  beforeAll(async () => {
    blank = JSON.parse(await readFile(join(folder, 'blank.json'), 'utf8')) as MovingBlank;
  });
  const bytesOf = async (path: string) => {
    const answer = await fetch(`${server.address}${path}`);
    return { status: answer.status, bytes: new Uint8Array(await answer.arrayBuffer()) };
  };

  it('are on the list as what they are, with a picture of how they show themselves best', async () => {
    const listed = ((await caller(server.address)('GET', '/api/blanks')).body as MovingBlank[]).filter(
      ({ kind }) => kind === 'moving',
    );
    expect(listed.map(({ id }) => id).sort()).toEqual(['mug-turning', 'tee-turning']);
    for (const { frames, poster } of listed) expect(poster).toBeLessThan(frames);
    const { bytes } = await bytesOf(`/api/blanks/${ID}/thumbnail`);
    expect((await sharp(bytes).metadata()).format).toBe('webp');
  });

  it('come as an archive with every picture of every frame, also at half their size', async () => {
    const whole = unzipSync((await bytesOf(`/api/blanks/${ID}/pack`)).bytes);
    const half = unzipSync((await bytesOf(`/api/blanks/${ID}/frames`)).bytes);
    const names = filesOfBlank(blank).sort();
    expect(Object.keys(half).sort()).toEqual(names);
    expect(
      Object.keys(whole)
        .filter((name) => name !== 'blank.json')
        .sort(),
    ).toEqual(names);
    const sizeOf = async (bytes: Uint8Array) => (await sharp(bytes).metadata()).width;
    expect(await sizeOf(whole['photo/007.webp'])).toBe(1080);
    for (const [name, width] of [
      ['photo/007.webp', 540],
      ['mask/007.webp', 540],
      ['cover-wrap/007.webp', 540],
      ['shade/007.webp', 540],
      ['uv-wrap/007.webp', 270],
    ] as const)
      expect(await sizeOf(half[name]))
        .withContext(name)
        .toBe(width);
    // Positions are the very bytes of the pack.
    expect(Buffer.compare(half['uv-wrap/007.webp'], await readFile(join(folder, 'uv-wrap/007.webp')))).toBe(0);
    expect((await bytesOf('/api/blanks/mug-front/frames')).status).toBe(404);
  });

  it('print where the print is: a band of the design on the poster is a band on the product', async () => {
    const still = asStill(blank);
    const area = areaOf(still, 'wrap');
    const kernel = await readyBlank(packIn(folder, still), still, [{ areaId: 'wrap' }], viewOf(still, null, 540));
    const grid = textureGrid(area, kernel.areaMaps('wrap').pixelsPerMm);
    const data = new Uint8Array(grid.width * grid.height * 4);
    // Red from three to five tenths of the way down.
    for (let y = Math.round(grid.height * 0.3); y < grid.height * 0.5; y++)
      for (let x = 0; x < grid.width; x++) data.set([255, 0, 0, 255], (y * grid.width + x) * 4);
    kernel.setTexture('wrap', { width: grid.width, height: grid.height, data }, grid);
    const { width, data: pixels } = kernel.render(
      { garment: '#F7F7F4', backdrop: '#ffffff', inkOpacity: 1, shadow: 0 },
      ['wrap'],
    );
    const { index, v, coverage } = kernel.areaMaps('wrap');
    let [inside, outside] = [0, 0];
    for (let i = 0; i < index.length; i++) {
      if (coverage[i] < 250) continue;
      const [r, g] = [pixels[index[i] * 4], pixels[index[i] * 4 + 1]];
      const down = v[i] / 65535;
      if (down > 0.33 && down < 0.47 && r > 100 && g < 90) inside++;
      if ((down < 0.27 || down > 0.53) && g < 90 && r > 100) outside++;
    }
    expect(width).toBe(540);
    expect(inside).toBeGreaterThan(3000);
    expect(outside).toBe(0);
  });

  it('are left out when one frame is missing, and named; a shared one is refused in a sentence', async () => {
    const own = await freshFolder();
    await cp(folder, join(own, ID), { recursive: true });
    await rm(join(own, ID, 'shade', '031.webp'));
    const said: { pack: string; cause: string }[] = [];
    const log = { ...silentLog, error: (what: { pack: string; cause: string }) => said.push(what) } as never;
    const service = await BlankService.open(own, null as never, null as never, null as never, '', log);
    expect(service.all).toEqual([]);
    expect(said[0].cause).toContain('shade/031.webp');

    const call = caller(server.address);
    const send = async (change: (files: Record<string, Uint8Array>) => void) => {
      const files = unzipSync((await bytesOf(`/api/blanks/${ID}/pack`)).bytes);
      change(files);
      const { status, body } = await call('POST', '/api/blanks/import', Buffer.from(zipSync(files, { level: 0 })), {
        'Content-Type': 'application/octet-stream',
      });
      return [status, (body as { detail?: string }).detail ?? (body as Blank).kind];
    };
    expect(await send((files) => delete files['mask/012.webp'])).toEqual([
      422,
      jasmine.stringContaining('mask/012.webp'),
    ]);
    expect(await send((files) => (files['photo/003.webp'] = files['photo/003.webp'].subarray(0, 900)))).toEqual([
      422,
      jasmine.stringContaining('photo/003.webp” of this blank pack cannot be read'),
    ]);
    expect(await send((files) => (files['uv-wrap/003.webp'] = files['mask/003.webp']))).toEqual([
      422,
      jasmine.stringContaining('instead of 270 × 540'),
    ]);
    const manifest = (change: object) => (files: Record<string, Uint8Array>) =>
      (files['blank.json'] = Buffer.from(JSON.stringify({ ...blank, ...change })));
    expect(await send(manifest({ poster: 48 }))).toEqual([422, jasmine.stringContaining('poster among the frames')]);
    expect(await send(manifest({ fps: undefined }))).toEqual([422, jasmine.stringContaining('how it moves')]);
    expect(await send(() => undefined)).toEqual([201, 'moving']);
  });
});
