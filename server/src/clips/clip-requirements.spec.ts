import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { ClipRequirement, ClipRequirementFields } from '@kettle/core/clip';
import { CLIP_REQUIREMENTS } from '../floor/files/shipped.js';
import { silentLog } from '../floor/basics/log.js';
import { freshFolder, serverForAll } from '../testing/test-house.js';
import { CLIP_REQUIREMENT_WORDS } from './room.js';
import { OwnThings } from '../floor/database/own-things.js';

const FIELDS: ClipRequirementFields = {
  channel: 'Larkpost Market',
  name: 'Reel',
  shapes: ['9:16'],
  files: ['webm'],
  leastSeconds: 3,
  mostSeconds: 20,
  mostBytes: 5e6,
  leastSide: 720,
  sound: 'any',
};

describe('requirements for clips', () => {
  const { call } = serverForAll();
  const list = async () => (await call('GET', '/api/clip-requirements')).body as ClipRequirement[];

  it('ship, and cannot be changed; one’s own can, by who saw the newest', async () => {
    const shipped = await list();
    expect(shipped.length).toBeGreaterThanOrEqual(3);
    expect(shipped.every((one) => one.shipped)).toBeTrue();
    const made = await call('POST', '/api/clip-requirements', FIELDS);
    expect(made.status).toBe(201);
    const own = made.body as ClipRequirement;
    expect(own).toEqual(jasmine.objectContaining({ ...FIELDS, revision: 1, shipped: false }));
    const change = (id: string, revision: number, fields: object) =>
      call('PUT', `/api/clip-requirements/${id}`, fields, { 'If-Match': `"${revision}"` });
    expect((await change(own.id, 1, { ...FIELDS, mostSeconds: 15 })).body).toEqual(
      jasmine.objectContaining({ mostSeconds: 15, revision: 2 }),
    );
    expect((await change(own.id, 1, FIELDS)).status).toBe(412);
    expect((await change(shipped[0].id, 1, FIELDS)).body).toEqual(
      jasmine.objectContaining({ code: 'shipped-requirement' }),
    );
    expect((await call('PUT', `/api/clip-requirements/${own.id}`, FIELDS)).status).toBe(428);
    for (const [wrong, words] of [
      [{ ...FIELDS, shapes: [] }, 'at least one shape'],
      [{ ...FIELDS, files: ['gif'] }, 'File'],
      [{ ...FIELDS, leastSeconds: 30 }, 'not shorter than the shortest'],
      [{ ...FIELDS, channel: '' }, 'Name the channel'],
    ] as const) {
      const { status, body } = await call('POST', '/api/clip-requirements', wrong);
      expect(status).toBe(422);
      expect(JSON.stringify(body)).toContain(words);
    }
    expect((await list()).length).toBe(shipped.length + 1);
    expect((await call('DELETE', `/api/clip-requirements/${own.id}`)).status).toBe(204);
    expect((await call('DELETE', `/api/clip-requirements/${own.id}`)).status).toBe(404);
    expect((await call('DELETE', `/api/clip-requirements/${shipped[0].id}`)).status).toBe(404);
    expect((await list()).length).toBe(shipped.length);
  });

  it('that ship and are not as they should be are left out and said', async () => {
    const folder = await freshFolder();
    const whole = await readFile(join(CLIP_REQUIREMENTS, 'newsletter.json'), 'utf8');
    await writeFile(join(folder, 'good.json'), whole);
    await writeFile(join(folder, 'bad.json'), JSON.stringify({ ...FIELDS, sound: 'loud' }));
    const said: { file: string }[] = [];
    const log = { ...silentLog, error: (what: { file: string }) => said.push(what) } as never;
    const service = await OwnThings.open<ClipRequirementFields>(
      { ...CLIP_REQUIREMENT_WORDS, folder },
      { list: () => Promise.resolve([]) } as never,
      log,
    );
    expect((await service.list({ owner: 'one' })).map(({ id }) => id)).toEqual(['good']);
    expect(said.map(({ file }) => file)).toEqual(['bad.json']);
  });
});
