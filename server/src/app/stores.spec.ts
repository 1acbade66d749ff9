import { createHash } from 'node:crypto';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { emptyDesign, type DesignDocument } from '@kettle/core/model';
import { Database } from '../floor/database/database.js';
import { migrate } from '../floor/database/migrate.js';
import { freshDatabase, freshFolder, until } from '../testing/test-house.js';
import { SELLER } from '../floor/basics/caller.js';
import { digestOf } from '../render/documents/digest.js';
import { BlobStore } from '../floor/files/blob-store.js';
import { DesignStore } from '../designs/design-store.js';
import { JobStore } from '../floor/queue/job-store.js';
import { PrintRunStore } from '../orders/print-run-store.js';

const { owner } = SELLER;
const ABLE = [{ kind: 'print-file', engine: 3 }];
const plain = (name: string) => digestOf(emptyDesign(name));

/** A row for something that was made, so that a step can have it as its result. */
async function anOutput(database: Database, id: string, designId: string): Promise<void> {
  const digest = createHash('sha256').update(id).digest();
  await database.change('INSERT IGNORE INTO blob_file (sha256, bytes) VALUES (?, 1)', [digest]);
  await database.change(
    "INSERT INTO output (id, owner, kind, design_id, revision, about, recipe, sha256, filename, media_type, bytes, accepted, record) VALUES (?, 'one', 'print-file', ?, 1, 'tee', ?, ?, 'x.png', 'image/png', 1, 1, '{}')",
    [id, designId, digest, digest],
  );
}

describe('the stores', () => {
  let database: Database;
  let folder = '';
  beforeAll(async () => {
    database = new Database(await freshDatabase());
    await migrate(database);
    folder = await freshFolder();
  });
  afterAll(() => database.close());

  it('are laid out once, however often and by however many that is asked', async () => {
    await Promise.all([migrate(database), migrate(database), migrate(database)]);
    const names = (await database.rows<{ name: string }>('SELECT name FROM migration')).map((row) => row.name);
    expect(names).toEqual([...new Set(names)]);
  });

  it('bind what they are given, whatever it is', async () => {
    const nasty = `x'; DROP TABLE design; -- "\\ ☁`;
    const designs = new DesignStore(database);
    const { id } = await designs.add(owner, plain(nasty));
    expect((await designs.get(owner, id))?.document.name).toBe(nasty);
    expect(await designs.get(owner, `${id}' OR '1'='1`)).toBeNull();
  });

  it('hand a design out as text that nobody has read on the way', async () => {
    const designs = new DesignStore(database);
    const { id, text } = await designs.add(owner, plain('Unread'));
    const read = spyOn(JSON, 'parse').and.callThrough();
    expect((await designs.get(owner, id))!.text).toBe(text);
    expect((await designs.list(owner)).length).toBeGreaterThan(0);
    expect(read.calls.allArgs().filter(([json]) => json.includes('Unread'))).toEqual([]);
  });

  it('know which designs have a requirement, letter for letter, whatever other documents hold', async () => {
    const designs = new DesignStore(database);
    const { id } = await designs.add(
      owner,
      digestOf({ ...emptyDesign('Its ☁ user'), targets: [{ requirementId: 'other' }, { requirementId: 'a_b%"' }] }),
    );
    await designs.add(owner, digestOf({ ...emptyDesign('Nearly'), targets: [{ requirementId: 'axb%"' }] }));
    for (const damaged of ['{}', '{"name":"x","targets":"a_b%"}', '{"targets":[null,{"requirementId":{}}]}', '[]'])
      await designs.add(owner, digestOf(JSON.parse(damaged) as DesignDocument));
    expect(await designs.namesWith(owner, 'a_b%"')).toEqual(['Its ☁ user']);
    await designs.remove(owner, id);
    expect(await designs.namesWith(owner, 'a_b%"')).toEqual([]);
  });

  describe('for files', () => {
    const bytes = Buffer.alloc(2_500_000, 0);
    let sha = '';
    beforeAll(() => {
      for (let i = 0; i < bytes.length; i++) bytes[i] = (i * 31 + (i >> 8)) & 255;
      sha = createHash('sha256').update(bytes).digest('hex');
    });
    const put = async (store: BlobStore, name: string) => {
      const path = join(folder, name);
      await writeFile(path, bytes);
      return store.put(path);
    };

    it('keep them in chunks and give them back whole', async () => {
      expect(await put(new BlobStore(database, join(folder, 'a')), 'one')).toEqual({
        sha256: sha,
        bytes: bytes.length,
      });
      const chunks = await database.rows<{ n: number }>(
        'SELECT LENGTH(data) AS n FROM blob_chunk WHERE sha256 = ? ORDER BY seq',
        [Buffer.from(sha, 'hex')],
      );
      expect(chunks.map((row) => Number(row.n))).toEqual([1 << 20, 1 << 20, bytes.length - (2 << 20)]);
      const elsewhere = new BlobStore(database, join(folder, 'b'));
      const paths = await Promise.all([1, 2, 3].map(() => elsewhere.localPath(sha)));
      expect(new Set(paths).size).toBe(1);
      expect(Buffer.compare(await readFile(paths[0]), bytes)).toBe(0);
    });

    it('keep the same content once', async () => {
      const store = new BlobStore(database, join(folder, 'c'));
      await Promise.all([put(store, 'two'), put(store, 'three')]);
      expect(
        (await database.rows('SELECT sha256 FROM blob_file WHERE sha256 = ?', [Buffer.from(sha, 'hex')])).length,
      ).toBe(1);
    });

    it('notice when a stored file is not whole, and leave no half of it behind', async () => {
      await database.change('DELETE FROM blob_chunk WHERE sha256 = ? AND seq = 1', [Buffer.from(sha, 'hex')]);
      const store = new BlobStore(database, join(folder, 'd'));
      await expectAsync(store.localPath(sha)).toBeRejectedWithError(/not whole/);
      expect(await readdir(join(folder, 'd', 'blobs'))).toEqual([]);
    });

    it('drop the local copies used longest ago when there is no room', async () => {
      const store = new BlobStore(database, join(folder, 'e'), 2500);
      const hashes: string[] = [];
      for (let i = 0; i < 4; i++) {
        const path = join(folder, `small ${i}`);
        await writeFile(path, Buffer.alloc(1000, i));
        hashes.push((await store.put(path)).sha256);
        await store.localPath(hashes[i]);
      }
      const kept = await readdir(join(folder, 'e', 'blobs'));
      expect(kept.length).toBeLessThanOrEqual(3);
      expect(kept).toContain(hashes[3]);
      expect(Buffer.compare(await readFile(await store.localPath(hashes[0])), Buffer.alloc(1000, 0))).toBe(0);
    });
  });

  it('of files take no more than they may, and say so', async () => {
    const store = new BlobStore(database, join(folder, 'quota'), 1e9, 1);
    const path = join(folder, 'one too many');
    await writeFile(path, Buffer.alloc(5000, 77));
    await expectAsync(store.put(path)).toBeRejectedWithError(/the most it may/);
  });

  it('of jobs hold names and nothing else', async () => {
    const jobs = new JobStore(database);
    const { id } = await new DesignStore(database).add(owner, plain('Names'));
    const batch = await jobs.addBatch(owner, { kind: 'print-files', design: { id, revision: 1 } }, [
      { kind: 'print-file', payload: { designId: id, revision: 1, requirementId: 'tee', filename: 'x.png' } },
    ]);
    expect((await jobs.get(owner, batch.id))!.revision).toBe(1);
    await jobs.cancel(batch.id);
  });

  describe('for jobs', () => {
    let jobs: JobStore;
    let designId = '';
    beforeAll(async () => {
      jobs = new JobStore(database);
      designId = (await new DesignStore(database).add(owner, plain('Jobs'))).id;
      for (const id of ['file0', 'file1', 'file2', 'file3', 'right', 'late', 'ok'])
        await anOutput(database, id, designId);
    });
    const batch = (steps: number) =>
      jobs.addBatch(
        owner,
        { kind: 'print-files', design: { id: designId, revision: 1 } },
        Array.from({ length: steps }, (_, i) => ({ kind: 'print-file', payload: { i } })),
      );

    it('hand out steps in order, each to one worker', async () => {
      const { id } = await batch(3);
      const claimed = await Promise.all(['a', 'b', 'c', 'd'].map((worker) => jobs.claim(worker, ABLE)));
      expect(
        claimed
          .filter(Boolean)
          .map((one) => (one!.payload as { i: number }).i)
          .sort(),
      ).toEqual([0, 1, 2]);
      for (const [i, worker] of ['a', 'b', 'c', 'd'].entries())
        if (claimed[i]) await jobs.finish(claimed[i].id, worker, `file${i}`);
      const done = (await jobs.get(owner, id))!;
      expect([done.state, done.done, done.results.length]).toEqual(['done', 3, 3]);
      expect(await jobs.claim('e', ABLE)).toBeNull();
    });

    it('take a step from a worker that went silent, and tell it so', async () => {
      await batch(1);
      const first = (await jobs.claim('slow', ABLE))!;
      expect(await jobs.claim('fast', ABLE)).toBeNull();
      expect(await jobs.heartbeat(first.id, 'slow')).toBeTrue();
      await database.change(
        'UPDATE job SET lease_until = DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL 1 SECOND) WHERE id = ?',
        [first.id],
      );
      const second = (await jobs.claim('fast', ABLE))!;
      // That a worker went away is no try of the step.
      expect([second.id, second.attempts, second.lapses]).toEqual([first.id, 1, 1]);
      expect(await jobs.heartbeat(first.id, 'slow')).toBeFalse();
      await jobs.finish(first.id, 'slow', 'late');
      // Whoever comes late changes nothing: neither the step nor the count of its run.
      expect(await jobs.get(owner, second.batchId)).toEqual(jasmine.objectContaining({ state: 'running', done: 0 }));
      await jobs.finish(second.id, 'fast', 'right');
      expect((await jobs.get(owner, second.batchId))!.results).toEqual([{ kind: 'print-file', id: 'right' }]);
    });

    it('say failed when one step failed, and keep its sentence', async () => {
      const { id } = await batch(2);
      for (let i = 0; i < 2; i++) {
        const step = (await jobs.claim('w', ABLE))!;
        if (i === 0) await jobs.fail(step.id, 'w', 'The disk is full.');
        else await jobs.finish(step.id, 'w', 'ok');
      }
      expect(await jobs.get(owner, id)).toEqual(
        jasmine.objectContaining({
          state: 'failed',
          message: 'The disk is full.',
          done: 2,
          results: [{ kind: 'print-file', id: 'ok' }],
        }),
      );
    });

    it('take queued and running steps back on cancel, and tell their worker', async () => {
      const { id } = await batch(2);
      const step = (await jobs.claim('w', ABLE))!;
      await jobs.cancel(id);
      expect(await jobs.heartbeat(step.id, 'w')).toBeFalse();
      expect((await jobs.get(owner, id))!.state).toBe('cancelled');
      expect(await jobs.claim('w', ABLE)).toBeNull();
    });
  });

  it('leave a print as it was ordered, however close to that somebody changes it', async () => {
    const runs = new PrintRunStore(database);
    const design = await new DesignStore(database).add(owner, plain('Ordered'));
    const fields = {
      name: 'Club shirts',
      requirementId: 'tee',
      shopId: 'shop',
      position: 'Chest',
      currency: 'GBP',
      price: 2000,
      worthFrom: 1,
      sizes: ['M'],
      colours: [{ name: 'Chalk', hex: '#f5f3ee' }],
      note: '',
    };
    const id = await runs.add(owner, design.id, fields);
    const ada = { name: 'Ada', contact: '', size: 'M', colour: 'Chalk', copies: 2, deposit: 0 };
    await runs.addInterests(id, 'form', 'typed', [ada], 10);
    const { interests, savedRevision } = (await runs.get(owner, id))!;
    let waiting: Promise<unknown>[] = [];
    // Both looked while it was open, and come to the row while it is being ordered.
    await database.transaction(async (within) => {
      await within.change("UPDATE print_run SET state = 'ordered' WHERE id = ?", [id]);
      waiting = [runs.change(id, savedRevision, { ...fields, price: 1 }), runs.removeInterest(id, interests[0].id)];
      const held = () =>
        database.rows(
          "SELECT 1 FROM information_schema.PROCESSLIST WHERE ID <> CONNECTION_ID() AND INFO LIKE '%FROM print_run WHERE id = %FOR UPDATE'",
        );
      await until(held, (all) => all.length === 2);
    });
    expect(await Promise.all(waiting)).toEqual(['ordered', true]);
    const after = (await runs.get(owner, id))!;
    expect([after.price, after.interests[0].copies, after.interests[0].name]).toEqual([2000, 2, '']);
  });
});
