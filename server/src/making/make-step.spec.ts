import { SELLER } from '../floor/basics/caller.js';
import { caller, isOver, until, serverForAll } from '../testing/test-house.js';

describe('kinds of steps', () => {
  const { server } = serverForAll();

  it('are registered once each, with everything about them', () => {
    const names = server.house.kinds.map((kind) => kind.kind);
    expect(names).toEqual([...new Set(names)]);
    // What somebody waits for stands in another lane than what takes long.
    expect(server.house.kinds.map(({ kind, lane }) => [kind, lane])).toEqual([
      ['print-file', 'export'],
      ['proof-sheet', 'soon'],
      ['picture', 'soon'],
      ['clip', 'export'],
      ['publish', 'calls'],
      ['shop-order', 'calls'],
      ['ask-sales', 'calls'],
    ]);
  });

  it('check what a step says before they do it: what another version wrote fails with a sentence, and the next goes on', async () => {
    const call = caller(server.address);
    const { jobs } = server.house;
    const run = async (payload: object) => {
      const { id } = await jobs.addBatch(SELLER.owner, { kind: 'print-files' }, [{ kind: 'print-file', payload }]);
      return until(async () => (await call('GET', `/api/jobs/${id}`)).body, isOver);
    };
    for (const payload of [{}, { designId: 7 }, { designId: 'd', revision: 'x', requirementId: 'r', filename: 'f' }]) {
      expect(await run(payload)).toEqual(
        jasmine.objectContaining({ state: 'failed', message: jasmine.stringContaining('is not understood') as never }),
      );
    }
    expect((await run({ designId: 'gone', revision: 1, requirementId: 'gone', filename: 'x.png' })).message).toContain(
      'no such revision',
    );
  });

  it('are answered to their seller alone, in calls and in events', async () => {
    await server.house.database.change("INSERT IGNORE INTO seller (id, name) VALUES ('two', 'Another')");
    const heard: [string[], string[]] = [[], []];
    const stops = [
      server.house.watch.listen(SELLER, (job) => heard[0].push(job.id)),
      server.house.watch.listen({ owner: 'two' }, (job) => heard[1].push(job.id)),
    ];
    const theirs = await server.house.jobs.addBatch('two', { kind: 'print-files' }, [
      { kind: 'print-file', payload: {} },
    ]);
    const ours = await server.house.jobs.addBatch(SELLER.owner, { kind: 'print-files' }, [
      { kind: 'print-file', payload: {} },
    ]);
    await until(
      async () => heard,
      ([first, second]) => first.includes(ours.id) && second.includes(theirs.id),
    );
    for (const stop of stops) stop();
    expect([heard[0].includes(theirs.id), heard[1].includes(ours.id)]).toEqual([false, false]);
    expect((await caller(server.address)('GET', `/api/jobs/${theirs.id}`)).status).toBe(404);
  });
});
