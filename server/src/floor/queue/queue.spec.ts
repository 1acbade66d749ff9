import { emptyDesign } from '@kettle/core/model';
import { SELLER } from '../basics/caller.js';
import { Database } from '../database/database.js';
import { migrate } from '../database/migrate.js';
import { digestOf } from '../../render/documents/digest.js';
import { freshDatabase } from '../../testing/test-house.js';
import { DesignStore } from '../../designs/design-store.js';
import { CLAIM_SQL, JobStore, LAPSED_SQL, type NewStep } from './job-store.js';

const { owner } = SELLER;

describe('a long queue', () => {
  let database: Database;
  let jobs: JobStore;
  let design: { id: string; revision: number };
  beforeAll(async () => {
    database = new Database(await freshDatabase());
    await migrate(database);
    jobs = new JobStore(database);
    design = await new DesignStore(database).add(owner, digestOf(emptyDesign('Long')));
    // 100,000 steps: of a kind that is known, of one that is not, and of a newer engine.
    const steps = (kind: string, engine: number): NewStep[] => [{ kind, engine, payload: { n: 0 } }];
    const batch = await jobs.addBatch(owner, { kind: 'print-files', design }, steps('print-file', 1));
    for (const [kind, engine, n] of [
      ['print-file', 1, 60_000],
      ['hologram', 1, 30_000],
      ['print-file', 99, 10_000],
    ] as const) {
      await database.rowsOnce(
        `INSERT INTO job (batch_id, kind, engine, payload) SELECT ?, ?, ?, JSON_OBJECT('n', seq) FROM seq_1_to_${n}`,
        [batch.id, kind, engine],
      );
    }
    await database.change('UPDATE batch SET total = 100001 WHERE id = ?', [batch.id]);
    await database.rowsOnce('ANALYZE TABLE job', []);
  });
  afterAll(() => database.close());

  const able = [{ kind: 'print-file', engine: 3 }];

  /** Rows that a statement really read, as the database counted them while it ran it. */
  async function readBy(sql: string): Promise<{ rows: number; key: string; sorted: boolean }> {
    const [row] = await database.rowsOnce<{ ANALYZE: string }>(
      `ANALYZE FORMAT=JSON ${sql.replace('?', "'print-file'").replace('?', '3')}`,
      [],
    );
    const text = typeof row.ANALYZE === 'string' ? row.ANALYZE : JSON.stringify(row.ANALYZE);
    return {
      rows: Number(/"r_rows": ?([\d.]+)/.exec(text)?.[1] ?? 0),
      key: /"key": ?"(\w+)"/.exec(text)?.[1] ?? '',
      sorted: text.includes('filesort'),
    };
  }

  it('gives its oldest step by reading one row of an index', async () => {
    expect(await readBy(CLAIM_SQL)).toEqual({ rows: 1, key: 'job_claim', sorted: false });
    const lapsed = await readBy(LAPSED_SQL);
    expect([lapsed.rows, lapsed.key, lapsed.sorted]).toEqual([0, 'job_lease', false]);
  });

  it('is claimed by two at once without one waiting for the other', async () => {
    // The first holds its row in an open transaction; the second is answered meanwhile.
    await database.transaction(async (within) => {
      const [held] = await within.rows<{ id: number }>(CLAIM_SQL, ['print-file', 3]);
      const other = await jobs.claim('second', able);
      expect(other).not.toBeNull();
      expect(other!.id).not.toBe(Number(held.id));
    });
    const claimed = await Promise.all(Array.from({ length: 8 }, (_, i) => jobs.claim(`worker ${i}`, able)));
    expect(new Set(claimed.map((one) => one?.id)).size).toBe(8);
  });

  it('leaves steps of other kinds, and of newer engines, to those who know them', async () => {
    const kinds = await Promise.all(Array.from({ length: 6 }, () => jobs.claim('old', able)));
    expect(kinds.map((one) => one!.kind)).toEqual(Array(6).fill('print-file'));
    expect(await jobs.claim('older', [{ kind: 'print-file', engine: 0 }])).toBeNull();
    const newest = await jobs.claim('newest', [{ kind: 'hologram', engine: 1 }, ...able]);
    expect(newest!.kind).toBe('hologram');
  });
});

describe('stages of a run', () => {
  let database: Database;
  let jobs: JobStore;
  beforeAll(async () => {
    database = new Database(await freshDatabase());
    await migrate(database);
    jobs = new JobStore(database);
  });
  afterAll(() => database.close());
  const able = [
    { kind: 'print-file', engine: 1 },
    { kind: 'package', engine: 1 },
  ];
  const staged = () =>
    jobs.addBatch(owner, { kind: 'print-files' }, [
      { kind: 'package', stage: 1, payload: { last: true } },
      { kind: 'print-file', payload: { n: 1 } },
      { kind: 'print-file', payload: { n: 2 } },
    ]);

  it('wait for all steps before them, and are told what those made', async () => {
    const run = await staged();
    expect([run.designId, run.designIds, run.state, run.total]).toEqual([null, [], 'queued', 3]);
    const [one, two] = [(await jobs.claim('w', able))!, (await jobs.claim('w', able))!];
    expect([one.kind, two.kind, await jobs.claim('w', able)]).toEqual(['print-file', 'print-file', null]);
    await jobs.finish(one.id, 'w', 'first');
    expect(await jobs.claim('w', able)).toBeNull();
    await jobs.progress(two.id, 'w', 0.5);
    expect((await jobs.get(owner, run.id))!.within).toBe(0.5);
    await jobs.finish(two.id, 'w', 'second');
    const last = (await jobs.claim('w', able))!;
    expect([last.kind, await jobs.before(last)]).toEqual(['package', ['first', 'second']]);
    await jobs.finish(last.id, 'w', 'whole');
    expect((await jobs.get(owner, run.id))!).toEqual(jasmine.objectContaining({ state: 'done', done: 3 }));
  });

  it('are not begun when a step before them failed', async () => {
    const run = await staged();
    for (const end of ['finish', 'fail'] as const) {
      const step = (await jobs.claim('w', able))!;
      await jobs[end](step.id, 'w', 'x');
    }
    expect(await jobs.claim('w', able)).toBeNull();
    expect((await jobs.get(owner, run.id))!).toEqual(
      jasmine.objectContaining({ state: 'failed', done: 3, message: 'x' }),
    );
  });

  it('end together when they are finished by several at the same moment', async () => {
    for (let round = 0; round < 10; round++) {
      const run = await staged();
      const steps = await Promise.all(
        ['a', 'b'].map(async (worker) => ({ worker, step: (await jobs.claim(worker, able))! })),
      );
      await Promise.all(steps.map(({ worker, step }) => jobs.finish(step.id, worker, 'x')));
      const last = await jobs.claim('c', able);
      expect(last?.kind).toBe('package');
      await jobs.finish(last!.id, 'c', 'x');
      expect((await jobs.get(owner, run.id))!.state).toBe('done');
    }
  });

  it('belong to their seller: nobody else is answered', async () => {
    await database.change("INSERT IGNORE INTO seller (id, name) VALUES ('two', 'Another')");
    const run = await jobs.addBatch('two', { kind: 'print-files' }, [{ kind: 'other', payload: {} }]);
    expect(await jobs.get(owner, run.id)).toBeNull();
    expect((await jobs.lively(5)).filter((one) => one.owner === 'two').map((one) => one.job.id)).toEqual([run.id]);
  });
});
