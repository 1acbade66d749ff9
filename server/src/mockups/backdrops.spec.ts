import sharp from 'sharp';
import type { Job } from '@kettle/contract';
import { digestOf } from '../render/documents/digest.js';
import { isOver, smallDesign, smallTee, until, serverForAll, DISC } from '../testing/test-house.js';

/** Red above, blue below. */
const wall = (type: 'png' | 'svg'): Promise<Buffer> | Buffer => {
  const svg = Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="200"><rect width="300" height="100" fill="#c02020"/><rect y="100" width="300" height="100" fill="#2020c0"/></svg>',
  );
  return type === 'svg' ? svg : sharp(svg).png().toBuffer();
};

describe('a picture behind the product of a scene', () => {
  const { server, call } = serverForAll();
  let requirement: string;
  beforeAll(async () => {
    requirement = (await call('POST', '/api/requirements', smallTee())).body.id;
  });

  const upload = async (bytes: Buffer, name: string): Promise<string> =>
    (await call('POST', '/api/assets', bytes, { 'X-Filename': name, 'Content-Type': 'application/octet-stream' })).body
      .id;
  async function withWall(name: string, bytes: Buffer, light = 1) {
    const [art, assetId] = [await upload(DISC, 'disc.svg'), await upload(bytes, name)];
    const scene = {
      id: 's1',
      name: 'Wall',
      blankId: 'sticker',
      areaId: 'face',
      requirementId: null,
      garment: '#ffffff',
      backdrop: '#E4E1D9',
      inkOpacity: 1,
      shadow: 0,
      look: { softness: 0, grain: 0 },
      behind: { kind: 'picture', assetId, blur: 0, light },
    };
    const answer = await call('POST', '/api/designs', { ...smallDesign(art, [requirement]), scenes: [scene] });
    expect(answer.status).withContext(JSON.stringify(answer.body)).toBe(201);
    return { id: answer.body.id as string, document: answer.body.document, assetId, scene };
  }
  async function picture(
    id: string,
    fit: object | undefined = undefined,
  ): Promise<{ at: (x: number, y: number) => number[]; bytes: Buffer }> {
    const { jobId } = (
      await call('POST', '/api/picture-runs', {
        of: 'scenes',
        designs: [{ designId: id }],
        size: 600,
        format: 'png',
        fit,
      })
    ).body;
    const job = await until<Job>(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver);
    expect(job.state).withContext(JSON.stringify(job)).toBe('done');
    const [made] = (await call('GET', `/api/designs/${id}/pictures`)).body;
    const bytes = Buffer.from(await (await fetch(`${server.address}/api/pictures/${made.id}/content`)).arrayBuffer());
    const { data, info } = await sharp(bytes).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    return { at: (x, y) => [...data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3)], bytes };
  }

  it('is seen around it, as a photo or a drawing, in its own light or another', async () => {
    for (const type of ['png', 'svg'] as const) {
      const { id } = await withWall(`wall.${type}`, await wall(type));
      const { at } = await picture(id);
      at(8, 8).forEach((value, k) => expect(Math.abs(value - [0xc0, 0x20, 0x20][k])).toBeLessThan(4));
      at(590, 590).forEach((value, k) => expect(Math.abs(value - [0x20, 0x20, 0xc0][k])).toBeLessThan(4));
      // The product stands before it.
      expect(Math.min(...at(300, 300))).toBeGreaterThan(40);
    }
    const { id } = await withWall('dark.png', await wall('png'), 0.3);
    expect((await picture(id)).at(8, 8)[0]).toBeLessThan(130);
  });

  it('covers a frame of other proportions too, without a seam, and says the DPI that were asked for', async () => {
    const { id } = await withWall('wide.png', await wall('png'));
    const frame = { width: 900, height: 600 };
    const { at, bytes } = await picture(id, { frame, dpi: 240 });
    expect((await sharp(bytes).metadata()).density).toBe(240);
    // The picture of 300 × 200 px is seen whole: red above and blue below its middle, from edge to edge.
    for (const x of [5, 100, 148, 152, 748, 752, 895]) {
      at(x, 8).forEach((value, k) => expect(Math.abs(value - [0xc0, 0x20, 0x20][k])).toBeLessThan(4));
      at(x, 590).forEach((value, k) => expect(Math.abs(value - [0x20, 0x20, 0xc0][k])).toBeLessThan(4));
    }
    const change = (x: number): number => [...Array(600).keys()].findIndex((y) => at(x, y)[2] > 100);
    for (const x of [5, 148, 152, 895]) expect(Math.abs(change(x) - 300)).toBeLessThan(3);
  });

  it('belongs to the design: it is counted as used, goes into its file, and comes back with it', async () => {
    const { id, document, assetId } = await withWall('carried.png', await wall('png'));
    expect(digestOf(document).assetIds).toContain(assetId);
    // The scene that is shown counts as well as those that are kept; what is no document counts nothing.
    expect(digestOf({ ...document, scenes: [], scene: document.scenes[0] }).assetIds).toContain(assetId);
    expect(digestOf({ ...document, scenes: 'none', scene: null } as never).assetIds).not.toContain(assetId);
    const file = Buffer.from(await (await fetch(`${server.address}/api/designs/${id}/file?as=kettle`)).arrayBuffer());
    const back = await call('POST', '/api/design-files', file, {
      'X-Filename': 'wall.kettle.zip',
      'Content-Type': 'application/octet-stream',
    });
    expect([back.status, back.body.told]).toEqual([201, []]);
    const { behind } = back.body.design.document.scenes[0];
    expect([behind.kind, behind.light]).toEqual(['picture', 1]);
    expect((await call('GET', `/api/assets/${behind.assetId}`)).status).toBe(200);
  });

  it('that is gone keeps its own picture from being made, with a sentence, and nothing else', async () => {
    const { id, document, scene } = await withWall('gone.png', await wall('png'));
    const lost = { ...scene, id: 's2', name: 'Lost', behind: { ...scene.behind, assetId: 'of-yesterday' } };
    await call('PUT', `/api/designs/${id}`, { ...document, scenes: [scene, lost] }, { 'If-Match': '"1"' });
    const { jobId } = (
      await call('POST', '/api/picture-runs', { of: 'scenes', designs: [{ designId: id }], size: 600, format: 'png' })
    ).body;
    const job = await until<Job>(async () => (await call('GET', `/api/jobs/${jobId}`)).body, isOver);
    expect(job.total).toBe(2);
    expect(JSON.stringify(job)).toContain('The picture behind this scene could not be found.');
    expect((await call('GET', `/api/designs/${id}/pictures`)).body.length).toBe(1);
  });

  it('is refused half said, and in a set, which stands before colours', async () => {
    const { document, scene } = await withWall('half.png', await wall('png'));
    for (const behind of [
      { kind: 'picture', blur: 0, light: 1 },
      { kind: 'picture', assetId: 'a', blur: 0, light: 9 },
      { kind: 'gradient', assetId: 'a', to: '#ffffff', turn: 0 },
      { kind: 'gradient', to: '#ffffff' },
    ])
      expect((await call('POST', '/api/designs', { ...document, scenes: [{ ...scene, behind }] })).status)
        .withContext(JSON.stringify(behind))
        .toBe(422);
    const { requirementId: _none, ...shot } = scene;
    const set = { name: 'Walls', about: '', size: 600, format: 'jpeg', shots: [{ ...shot, colours: 1 }] };
    const answer = await call('POST', '/api/picture-sets', set);
    expect([answer.status, answer.body.detail]).toEqual([422, jasmine.stringContaining('belongs to a design')]);
  });
});
