import { readFile } from 'node:fs/promises';
import type { ClipFile } from '@kettle/contract';
import sharp from 'sharp';
import { clipSize, type Clip, type DesignDocument } from '@kettle/core/model';
import { animatedWebp, framesOf } from '@kettle/core/clip';
import { smallDesign, smallTee, serverForAll, DISC } from '../testing/test-house.js';
import { SMALL_CLIP } from '../testing/small-clip.js';

describe('clips', () => {
  const { server, call } = serverForAll();
  let design: { id: string; revision: number; document: DesignDocument };
  /** A second of a tote, silent: what the file shows. */
  const clip = (change: Partial<Clip> = {}): Clip => ({
    id: 'one',
    name: 'Look here',
    shape: '1:1',
    scenes: [
      {
        id: 's',
        scene: {
          blankId: 'tote',
          areaId: 'front',
          requirementId: null,
          garment: '#F5F3EE',
          backdrop: '#E4E1D9',
          inkOpacity: 1,
          shadow: 0.5,
        },
        frames: 24,
        movement: 'still',
      },
    ],
    ...change,
  });
  const save = async (clips: readonly Clip[]): Promise<void> => {
    const { id, revision, document } = design;
    const answer = await call('PUT', `/api/designs/${id}`, { ...document, clips }, { 'If-Match': `"${revision}"` });
    expect(answer.status).withContext(JSON.stringify(answer.body)).toBe(200);
    design = answer.body as typeof design;
  };
  const send = (bytes: Buffer, query = `clip=one&revision=${design.revision}&side=720`) =>
    call('POST', `/api/designs/${design.id}/clips?${query}`, bytes, { 'Content-Type': 'application/octet-stream' });
  const made = async () => (await call('GET', `/api/designs/${design.id}/clips`)).body as ClipFile[];

  beforeAll(async () => {
    const asset = (await call('POST', '/api/assets', DISC, { 'Content-Type': 'image/svg+xml', 'X-Filename': 'a.svg' }))
      .body;
    const requirement = (await call('POST', '/api/requirements', smallTee())).body;
    design = (await call('POST', '/api/designs', smallDesign(asset.id, [requirement.id]))).body as typeof design;
    await save([clip()]);
  });

  it('are read back, kept once, and out of date when what they show changes', async () => {
    const answer = await send(SMALL_CLIP);
    expect(answer.status).withContext(JSON.stringify(answer.body)).toBe(201);
    const kept = answer.body as ClipFile;
    const { width, height } = clipSize('1:1', 720);
    expect(kept.certificate).toEqual(
      jasmine.objectContaining({ container: 'webm', frames: 24, width, height, video: 'VP9', sound: null }),
    );
    expect(Math.abs(kept.certificate.seconds - framesOf(clip()) / 24)).toBeLessThan(0.05);
    expect(kept.filename).toMatch(/Look-here-1x1\.webm$/);
    const content = await fetch(`${server.address}/api/clips/${kept.id}/content`);
    expect(content.headers.get('content-type')).toBe('video/webm');
    expect(Buffer.compare(Buffer.from(await content.arrayBuffer()), SMALL_CLIP)).toBe(0);
    // The same clip again is the same file.
    expect((await send(SMALL_CLIP)).body.id).toBe(kept.id);
    expect((await made()).map(({ id, outOfDate }) => [id, outOfDate])).toEqual([[kept.id, false]]);

    // A name changes nothing that is seen; a movement, the colour, and the art do.
    await save([clip({ name: 'Another name' })]);
    expect((await made())[0].outOfDate).toBeFalse();
    const [scene] = clip().scenes;
    await save([clip({ scenes: [{ ...scene, movement: 'push' }] })]);
    expect((await made())[0].outOfDate).toBeTrue();
    await save([clip({ scenes: [{ ...scene, scene: { ...scene.scene, garment: '#1B1B1D' } }] })]);
    expect((await made())[0].outOfDate).toBeTrue();
    await save([clip()]);
    expect((await made())[0].outOfDate).toBeFalse();
    const [layer] = design.document.layers;
    const before = design.document;
    design = { ...design, document: { ...before, layers: [{ ...layer, opacity: 0.5 }] } };
    await save([clip()]);
    expect((await made())[0].outOfDate).toBeTrue();
    design = { ...design, document: { ...design.document, layers: before.layers } };
    await save([clip()]);
    // A clip whose product is gone stays, and cannot be made again.
    await save([clip({ scenes: [{ ...scene, scene: { ...scene.scene, blankId: 'gone' } }] })]);
    expect((await made())[0].outOfDate).toBeTrue();
    await save([]);
    expect((await made())[0].outOfDate).toBeTrue();
    await save([clip()]);
  });

  it('may show other designs, and are out of date when those change', async () => {
    const { body: other } = await call('POST', '/api/designs', { ...design.document, name: 'Another', clips: [] });
    const shown = { ...clip().scenes[0], designId: other.id as string };
    await save([clip({ scenes: [shown] })]);
    expect((await send(SMALL_CLIP)).status).toBe(201);
    expect((await made())[0].outOfDate).toBeFalse();
    const [layer] = other.document.layers as DesignDocument['layers'];
    const changed = await call(
      'PUT',
      `/api/designs/${other.id}`,
      { ...other.document, layers: [{ ...layer, opacity: 0.4 }] },
      { 'If-Match': `"${other.revision}"` },
    );
    expect(changed.status).toBe(200);
    expect((await made())[0].outOfDate).toBeTrue();
    // Without the other design there is nothing to make it of.
    expect((await call('DELETE', `/api/designs/${other.id}`)).status).toBe(204);
    expect((await made())[0].outOfDate).toBeTrue();
    await save([clip()]);
  });

  it('may have a cover, once, a JPEG of their size', async () => {
    await save([clip()]);
    const kept = (await send(SMALL_CLIP)).body as ClipFile;
    const picture = (size: number, as: 'jpeg' | 'png') =>
      sharp({ create: { width: size, height: size, channels: 3, background: '#c2552b' } })
        .toFormat(as)
        .toBuffer();
    const cover = (bytes: Buffer, id = kept.id) =>
      call('PUT', `/api/clips/${id}/cover`, bytes, { 'Content-Type': 'application/octet-stream' });
    const hasCover = async () => (await made()).find(({ id }) => id === kept.id)!.cover;
    expect(await hasCover()).toBeFalse();
    expect((await call('GET', `/api/clips/${kept.id}/cover`)).status).toBe(404);
    for (const wrong of [await picture(100, 'jpeg'), await picture(720, 'png')])
      expect((await cover(wrong)).body).toEqual(jasmine.objectContaining({ code: 'no-cover' }));
    expect((await cover(Buffer.from('nothing'))).status).toBeGreaterThanOrEqual(400);
    expect((await cover(await picture(720, 'jpeg'), 'none')).status).toBe(404);
    expect((await cover(await picture(720, 'jpeg'))).status).toBe(204);
    expect(await hasCover()).toBeTrue();
    const answer = await fetch(`${server.address}/api/clips/${kept.id}/cover`);
    expect(answer.headers.get('content-type')).toBe('image/jpeg');
    expect((await sharp(Buffer.from(await answer.arrayBuffer())).metadata()).width).toBe(720);
  });

  it('may be an animated WebP: half as many pictures, no sound, read back to the last of them', async () => {
    await save([clip({ music: { trackId: 'puddle-census', start: 0, volume: 1 } })]);
    const still = async (background: string) =>
      sharp({ create: { width: 540, height: 540, channels: 3, background } })
        .webp({ lossless: true })
        .toBuffer();
    const files = await Promise.all(Array.from({ length: 12 }, (_, i) => still(`rgb(${i * 20},90,90)`)));
    const bytes = (count: number) =>
      Buffer.from(
        animatedWebp(
          540,
          540,
          files.slice(0, count).map((file) => ({ file, milliseconds: 1000 / 12 })),
        ),
      );
    const asked = `clip=one&revision=${design.revision}&side=1080&file=webp`;
    const { status, body } = await send(bytes(12), asked);
    expect(status).withContext(JSON.stringify(body)).toBe(201);
    const { certificate, mediaType, filename, file } = body as ClipFile;
    expect([mediaType, file]).toEqual(['image/webp', 'webp']);
    expect(filename).toMatch(/\.webp$/);
    expect(certificate).toEqual(
      jasmine.objectContaining({ container: 'webp', frames: 12, width: 540, height: 540, video: 'WebP', sound: null }),
    );
    expect(Math.abs(certificate.seconds - 1)).toBeLessThan(0.03);
    expect((await send(bytes(11), asked)).body.detail).toContain('11 pictures instead of 12');
    expect((await send(bytes(12).subarray(0, -40), asked)).status).toBe(422);
    expect((await send(bytes(12), asked.replace('webp', 'mp4'))).body.detail).toContain(
      'it is of the kind Animated WebP instead of MP4',
    );
  });

  it('are refused in a sentence when the file is not the clip', async () => {
    const refused = async (bytes: Buffer, query?: string) => {
      const { status, body } = await send(bytes, query);
      return [status, (body as { code: string }).code, (body as { detail: string }).detail] as const;
    };
    for (const bytes of [
      Buffer.from('<html>'),
      SMALL_CLIP.subarray(0, 300),
      SMALL_CLIP.subarray(0, -20),
      await readFile(new URL(import.meta.url)),
    ])
      expect((await refused(bytes)).slice(0, 2)).toEqual([422, 'not-a-clip']);
    await save([clip({ shape: '9:16' })]);
    expect((await refused(SMALL_CLIP))[2]).toContain('720 × 720 px instead of 720 × 1280');
    await save([clip({ scenes: [{ ...clip().scenes[0], frames: 48 }] })]);
    expect((await refused(SMALL_CLIP))[2]).toContain('24 pictures instead of 48');
    await save([clip({ music: { trackId: 'puddle-census', start: 0, volume: 1 } })]);
    expect((await refused(SMALL_CLIP))[2]).toContain('it has no sound');
    await save([clip()]);
    const asked = `clip=one&revision=${design.revision}&side=720`;
    expect((await refused(SMALL_CLIP, asked.replace('one', 'none')))[0]).toBe(404);
    expect((await refused(SMALL_CLIP, asked.replace('720', '90000')))[2]).toContain('720 or 1080');
    expect((await refused(SMALL_CLIP, asked.replace(/revision=\d+/, 'revision=99999')))[0]).toBe(404);
    expect((await call('GET', '/api/clips/none/content')).status).toBe(404);
  });

  it('of a document are judged by rules: no id twice, nothing endless', async () => {
    const refuse = async (clips: unknown) => {
      const { id, revision, document } = design;
      return call('PUT', `/api/designs/${id}`, { ...document, clips }, { 'If-Match': `"${revision}"` });
    };
    const [scene] = clip().scenes;
    for (const [wrong, words] of [
      [[clip(), clip()], 'id of its own'],
      [[clip({ name: '' })], 'Name the clip'],
      [[{ ...clip(), shape: '2:1' }], 'Shape must be one of'],
      [[clip({ scenes: [{ ...scene, frames: 1e6 }] })], 'Length of a scene'],
      [[clip({ scenes: [{ ...scene, frames: 1.5 }] })], 'whole'],
      [[clip({ scenes: [{ ...scene, framings: { '1:1': { x: 9, y: 0, zoom: 1 } } }] })], 'Framing across'],
      [[clip({ logo: { assetId: 'a', when: 'end', corner: 'middle' as never, size: 0.2 } })], 'Corner of the logo'],
      [[clip({ music: { trackId: 'a', start: 0, volume: 1, fadeOut: 99 } })], 'Going'],
      [[clip({ scenes: Array.from({ length: 25 }, (_, i) => ({ ...scene, id: `s${i}` })) })], 'at most 24 scenes'],
      [Array.from({ length: 25 }, (_, i) => clip({ id: `c${i}` })), 'at most 24 clips'],
    ] as const) {
      const { status, body } = await refuse(wrong);
      expect(status).toBe(422);
      expect(JSON.stringify(body)).toContain(words);
    }
  });
});
