import { cp, mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import type { Blank } from '@kettle/core/model';
import { viewOf, areaOf, readPreview, type SceneKernel } from '@kettle/core/mockup';
import sharp from 'sharp';
import { SELLER } from '../floor/basics/caller.js';
import { BLANKS } from '../floor/files/shipped.js';
import { silentLog } from '../floor/basics/log.js';
import { packIn, readyBlank } from '../render/mockup/blank-pack.js';
import { caller, freshFolder, isOver, smallDesign, smallTee, until, serverForAll } from '../testing/test-house.js';
import { BlankService } from './blanks.js';

describe('blanks', () => {
  const { server } = serverForAll();

  it('are checked when they are read: a bad pack is left out and named, and harms no other', async () => {
    const folder = await freshFolder();
    await cp(join(BLANKS, 'sticker'), join(folder, 'sticker'), { recursive: true });
    const manifest = JSON.parse(await readFile(join(BLANKS, 'sticker', 'blank.json'), 'utf8')) as Blank;
    const pack = async (name: string, change: object | string): Promise<void> => {
      await cp(join(BLANKS, 'sticker'), join(folder, name), { recursive: true });
      await writeFile(
        join(folder, name, 'blank.json'),
        typeof change === 'string' ? change : JSON.stringify({ ...manifest, id: name, ...change }),
      );
    };
    await pack('torn', '{"id":"torn",');
    await pack('wide', { width: 'wide' });
    await pack('climbing', { files: { ...manifest.files, photo: '../../secret.webp' } });
    await pack('gone', { files: { ...manifest.files, photo: 'not-there.webp' } });
    await pack('other', { id: 'sticker' });
    await mkdir(join(folder, 'empty'));
    const said: { pack: string; cause: string }[] = [];
    const log = { ...silentLog, error: (what: { pack: string; cause: string }) => said.push(what) } as never;
    const service = await BlankService.open(folder, null as never, null as never, null as never, '', log);
    expect(service.all.map((blank) => blank.id)).toEqual(['sticker']);
    expect(said.map((one) => one.pack).sort()).toEqual(['climbing', 'empty', 'gone', 'other', 'torn', 'wide']);
    expect(said.find((one) => one.pack === 'climbing')!.cause).toContain('without folders');
    expect(said.find((one) => one.pack === 'gone')!.cause).toContain('not-there.webp');
  });

  it('of the seller’s own live in the database, and pictures are made of them', async () => {
    const call = caller(server.address);
    const { blanks } = server.house;
    const folder = await freshFolder();
    const manifest = JSON.parse(await readFile(join(BLANKS, 'sticker', 'blank.json'), 'utf8')) as Blank;
    await cp(join(BLANKS, 'sticker'), folder, { recursive: true });
    await writeFile(join(folder, 'blank.json'), JSON.stringify({ ...manifest, id: 'my-sticker', name: 'My sticker' }));
    await blanks.add(SELLER, folder);
    await expectAsync(blanks.add(SELLER, folder)).toBeRejectedWithError(/already/);
    expect((await call('GET', '/api/blanks')).body.map((blank: Blank) => blank.id)).toContain('my-sticker');
    expect(await blanks.of({ owner: 'two' })).not.toContain(jasmine.objectContaining({ id: 'my-sticker' }));
    await expectAsync(blanks.pack({ owner: 'two' }, 'my-sticker')).toBeRejectedWithError(/no blank with this id/);
    const art = await sharp({ create: { width: 90, height: 90, channels: 4, background: '#c2552b' } })
      .png()
      .toBuffer();
    const asset = (await call('POST', '/api/assets', art, { 'X-Filename': 'art.png', 'Content-Type': 'image/png' }))
      .body.id;
    const requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
    const design = (await call('POST', '/api/designs', smallDesign(asset, [requirement]))).body.id;
    const { jobId } = (
      await call('POST', `/api/designs/${design}/pictures`, {
        blankId: 'my-sticker',
        colourways: [manifest.colourways[0]],
        size: 600,
        format: 'png',
      })
    ).body;
    const job = await until(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver);
    expect([job.state, job.message, job.within]).toEqual(['done', '', 0]);
    const picture = await sharp(
      await (await fetch(`${server.address}/api/pictures/${job.results[0].id}/content`)).arrayBuffer(),
    ).metadata();
    expect([picture.width, picture.format]).toEqual([600, 'png']);
    // The pack of the same name with another picture in it makes another recipe.
    expect((await call('GET', `/api/pictures/${job.results[0].id}`)).body.outOfDate).toBeFalse();
    await server.house.database.change(
      "UPDATE blank_pack SET hash = UNHEX(SHA2('another', 256)) WHERE id = 'my-sticker'",
    );
    expect((await call('GET', `/api/pictures/${job.results[0].id}`)).body.outOfDate).toBeTrue();
    await blanks.remove(SELLER, 'my-sticker');
    expect((await blanks.of(SELLER)).some((blank) => blank.id === 'my-sticker')).toBeFalse();
  });

  it('come as previews that draw the very pixels that the whole maps draw', async () => {
    const blank = server.house.blanks.all.find((one) => one.id === 'sticker')!;
    const response = await fetch(`${server.address}/api/blanks/sticker/preview?size=600`, {
      headers: { 'Accept-Encoding': 'identity' },
    });
    expect([response.status, response.headers.get('Content-Encoding')]).toEqual([200, 'gzip']);
    const bytes = new Uint8Array(await response.arrayBuffer());
    // The client takes it apart by itself unless it is told not to; either way it is the same.
    const plain = bytes[0] === 0x1f && bytes[1] === 0x8b ? gunzipSync(bytes) : bytes;
    const preview = readPreview(
      plain.buffer.slice(plain.byteOffset, plain.byteOffset + plain.byteLength) as ArrayBuffer,
    );
    const kernel: SceneKernel = await readyBlank(
      packIn(join(BLANKS, 'sticker'), blank),
      blank,
      [{ areaId: blank.areas[0].id }],
      viewOf(blank, null, 600),
    );
    const area = kernel.areaMaps(areaOf(blank, blank.areas[0].id).id);
    expect([preview.maps.width, preview.area.count, preview.area.pixelsPerMm]).toEqual([
      600,
      area.count,
      area.pixelsPerMm,
    ]);
    for (const map of ['photo', 'mask', 'shade', 'shadow'] as const)
      expect(Buffer.compare(preview.maps[map], kernel.maps[map])).withContext(map).toBe(0);
    expect([...preview.area.index]).toEqual([...area.index]);
    expect([...preview.area.v]).toEqual([...area.v]);
    expect(() =>
      readPreview(plain.buffer.slice(plain.byteOffset, plain.byteOffset + plain.byteLength - 8) as ArrayBuffer),
    ).toThrowError(/damaged/);
    expect((await fetch(`${server.address}/api/blanks/sticker/preview?area=nowhere`)).status).toBe(404);
  });
});
