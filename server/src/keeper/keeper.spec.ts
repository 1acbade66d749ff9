import type { ShownAlternative } from '@kettle/contract';
import type { OrderSheet } from '@kettle/core/orders';
import { ClientPageStore } from '../clients/client-page-store.js';
import { ShopOrderStore } from '../print-shops/shop-order-store.js';
import { createHash } from 'node:crypto';
import { mkdir, readdir, truncate, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { emptyDesign, type DesignDocument } from '@kettle/core/model';
import { SELLER } from '../floor/basics/caller.js';
import { Database } from '../floor/database/database.js';
import { migrate } from '../floor/database/migrate.js';
import { digestOf } from '../render/documents/digest.js';
import { silentLog } from '../floor/basics/log.js';
import { AssetStore } from '../artwork/asset-store.js';
import { DesignStore } from '../designs/design-store.js';
import { JobStore } from '../floor/queue/job-store.js';
import { KeeperStore } from './keeper-store.js';
import { freshDatabase, freshFolder, smallDesign } from '../testing/test-house.js';
import { DISK_DUTIES } from './disk-duties.js';
import { DUTIES } from './duties.js';
import { Keeper } from './keeper.js';

const { owner } = SELLER;
const HOUR = 3_600_000;
const DAY = 24 * HOUR;

describe('the keeper', () => {
  let database: Database;
  let designs: DesignStore;
  let store: KeeperStore;
  let jobs: JobStore;
  beforeAll(async () => {
    database = new Database(await freshDatabase());
    await migrate(database);
    [designs, store, jobs] = [new DesignStore(database), new KeeperStore(database), new JobStore(database)];
  });
  afterAll(() => database.close());

  const keep = async (): Promise<void> => {
    await database.change("UPDATE keeper_turn SET until = '2000-01-01'");
    await new Keeper(store, DUTIES, [], silentLog).run();
  };
  const saves = async (
    count: number,
    ages: (i: number) => number,
    document: (i: number) => DesignDocument = (i) => emptyDesign(`Save ${i}`),
  ): Promise<string> => {
    let { id, revision } = await designs.add(owner, digestOf(document(0)));
    for (let i = 1; i < count; i++)
      ({ id, revision } = (await designs.save(owner, id, revision, digestOf(document(i))))!);
    for (let i = 0; i < count; i++)
      await database.change('UPDATE design_revision SET saved_at = ? WHERE design_id = ? AND revision = ?', [
        new Date(Date.now() - ages(i)),
        id,
        i + 1,
      ]);
    return id;
  };
  const revisionsOf = async (id: string): Promise<number[]> =>
    (await designs.revisions(id)).map((one) => one.revision).reverse();
  const blob = async (seed: string, age: number): Promise<string> => {
    const sha256 = createHash('sha256').update(seed).digest();
    await database.change('INSERT INTO blob_file (sha256, bytes, created_at) VALUES (?, 3, ?)', [
      sha256,
      new Date(Date.now() - age),
    ]);
    await database.change('INSERT INTO blob_chunk (sha256, seq, data) VALUES (?, 0, ?)', [sha256, Buffer.from('abc')]);
    return sha256.toString('hex');
  };
  const hasBlob = async (sha256: string): Promise<boolean> =>
    (await database.rows('SELECT sha256 FROM blob_file WHERE sha256 = ?', [Buffer.from(sha256, 'hex')])).length === 1;
  const output = async (id: string, designId: string, revision: number, sha256: string): Promise<void> => {
    await database.change(
      "INSERT INTO output (id, owner, kind, design_id, revision, about, recipe, sha256, filename, media_type, bytes, accepted, record) VALUES (?, 'one', 'print-file', ?, ?, 'tee', ?, ?, 'x.png', 'image/png', 3, 1, '{}')",
      [id, designId, revision, Buffer.from(sha256, 'hex'), Buffer.from(sha256, 'hex')],
    );
  };

  it('thins revisions by age, and leaves the day, what has a name, what was made from, and the newest', async () => {
    // 1–8: within one hour, two days ago. 9–16: within one day, forty days ago (as late saves of an old clock would
    // be). 17–20: today.
    const noon = (days: number): number => {
      const date = new Date(Date.now() - days * DAY);
      date.setUTCHours(12, 20, 0, 0);
      return Date.now() - date.getTime();
    };
    const ages = (i: number): number => (i < 8 ? noon(2) - i * 60_000 : i < 16 ? noon(40) - (i - 8) * HOUR : 60_000);
    const id = await saves(20, ages);
    await designs.nameRevision(id, 3, 'As sold');
    await output('from-five', id, 5, await blob('from five', 0));
    const stepOf = (revision: number) => ({ kind: 'print-file', payload: { designId: id, revision } });
    await jobs.addBatch(owner, { kind: 'print-files', design: { id, revision: 2 } }, [stepOf(2)]);
    // A run that was held, and one of several designs: its steps name what it is to be made of.
    const held = await jobs.addBatch(owner, { kind: 'print-files', design: { id, revision: 6 } }, [stepOf(6)]);
    await jobs.pause(held.id);
    const taken = await jobs.addBatch(owner, { kind: 'print-files', design: { id, revision: 10 } }, [stepOf(10)]);
    await database.change("UPDATE job SET state = 'running' WHERE batch_id = ?", [taken.id]);
    const several = await jobs.addBatch(owner, { kind: 'print-files', designIds: [id, 'another'] }, [
      stepOf(7),
      { ...stepOf(9), stage: 1 },
    ]);
    await keep();
    expect(await revisionsOf(id)).toEqual([2, 3, 5, 6, 7, 8, 9, 10, 16, 17, 18, 19, 20]);
    for (const { id: run } of [held, taken, several]) await jobs.cancel(run);
    await keep();
    expect(await revisionsOf(id)).toEqual([2, 3, 5, 8, 16, 17, 18, 19, 20]);
    await keep();
    expect((await revisionsOf(id)).length).toBe(9);
    const [second, first] = (await store.notes()).filter((note) => note.duty === 'revisions');
    expect(first.sentence).toContain('7 revisions older than a day');
    expect(second.sentence).toContain('4 revisions older than a day');
  });

  it('never takes the newest revision, however old it is', async () => {
    const id = await saves(3, () => noonAge(400));
    await keep();
    expect(await revisionsOf(id)).toEqual([3]);
    expect((await designs.get(owner, id))!.document.name).toBe('Save 2');
  });
  const noonAge = (days: number): number => {
    const date = new Date(Date.now() - days * DAY);
    date.setUTCHours(12, 20, 0, 0);
    return Date.now() - date.getTime();
  };

  it('ends parts of documents once no revision has them, and no sooner', async () => {
    const long = (seed: number) => Array.from({ length: 3000 }, (_, i) => i * 0.01 + seed);
    const drawn = (i: number): DesignDocument => ({
      ...emptyDesign('Parts'),
      layers: [
        {
          kind: 'freehand',
          id: 'a',
          name: 'a',
          opacity: 1,
          hidden: false,
          frame: { x: 0, y: 0, width: 9, height: 9 },
          place: { x: 5, y: 5, width: 9, height: 9, turn: 0, flipX: false, flipY: false },
          strokes: [{ points: long(i), size: 1, hardness: 1, opacity: 1, hex: '#000000', erase: false }],
        },
      ],
    });
    const id = await saves(4, (i) => (i < 3 ? noonAge(3) - i * 1000 : 0), drawn);
    await database.rowsOnce('UPDATE document_part SET touched_at = DATE_SUB(touched_at, INTERVAL 2 DAY)', []);
    const parts = async (): Promise<number> =>
      (await database.rows('SELECT sha256 FROM design_part WHERE design_id = ?', [id])).length;
    expect(await parts()).toBe(4);
    await keep();
    expect([await revisionsOf(id), await parts()]).toEqual([[3, 4], 2]);
    const left = await database.rows(
      'SELECT p.sha256 FROM document_part p LEFT JOIN design_part d ON d.sha256 = p.sha256 WHERE d.sha256 IS NULL',
    );
    expect(left).toEqual([]);
    for (const revision of [3, 4])
      expect((await designs.revision(owner, id, revision))!.document).toEqual(drawn(revision - 1));
  });

  it('takes files that nothing names, and none that is named or new', async () => {
    const [loose, fresh, made, art, forgotten, kept, outlined] = await Promise.all([
      blob('loose', 2 * DAY),
      blob('fresh', 0),
      blob('made', 2 * DAY),
      blob('art', 400 * DAY),
      blob('forgotten', 400 * DAY),
      blob('kept', 400 * DAY),
      // Letters of a drawing as outlines, which nothing but the drawing names.
      blob('outlined', 400 * DAY),
    ]);
    const assets = new AssetStore(database);
    const facts = {} as never;
    const used = await assets.add(owner, art, 'art.png', 3, 'sRGB', facts);
    const unused = await assets.add(owner, forgotten, 'forgotten.png', 3, 'sRGB', facts);
    const young = await assets.add(owner, kept, 'young.png', 3, 'sRGB', { outlined } as never);
    await database.change('UPDATE asset SET created_at = DATE_SUB(created_at, INTERVAL 200 DAY) WHERE id IN (?, ?)', [
      used.id,
      unused.id,
    ]);
    // Named by an earlier revision alone, which is kept because it has a name.
    const id = await saves(
      2,
      () => 0,
      (i) => (i === 0 ? smallDesign(used.id, []) : emptyDesign('Without')),
    );
    await output('made-file', id, 2, made);
    // What a print shop was sent and what a client was shown stay with their records, whatever becomes of the outputs.
    const [atShop, shown] = [await blob('at a shop', 400 * DAY), await blob('shown', 400 * DAY)];
    const shopOrders = new ShopOrderStore(database);
    const sheet = { requirementId: 'r' } as OrderSheet;
    const file = { filename: 'a.png', sha256: atShop, bytes: 3, revision: 1, dpi: 300 };
    await shopOrders.add(database, { owner, designId: id, shopId: 'hobnail', shop: 'Hobnail', sheet }, file);
    await new ClientPageStore(database).add(
      { owner, designId: id, token: 'x'.repeat(22), seller: 'S', client: 'C', pass: null, expiresAt: null },
      '',
      [{ pictures: [{ sha256: shown }], clip: null } as unknown as ShownAlternative],
    );
    await keep();
    await keep();
    expect(await Promise.all([atShop, shown].map(hasBlob))).toEqual([true, true]);
    expect(await Promise.all([loose, fresh, made, art, forgotten, kept, outlined].map(hasBlob))).toEqual([
      false,
      true,
      true,
      true,
      false,
      true,
      true,
    ]);
    expect(
      [await assets.get(owner, used.id), await assets.get(owner, unused.id), await assets.get(owner, young.id)].map(
        (one) => one !== null,
      ),
    ).toEqual([true, false, true]);
  });

  it('ends designs that were taken off long ago with all that was theirs, and not those that came back', async () => {
    const [gone, back, lately] = [await saves(2, () => 0), await saves(1, () => 0), await saves(1, () => 0)];
    const sha = await blob('of a gone design', 2 * DAY);
    await output('gone-file', gone, 1, sha);
    for (const id of [gone, back, lately]) await designs.remove(owner, id);
    await database.change('UPDATE design SET deleted_at = DATE_SUB(deleted_at, INTERVAL 60 DAY) WHERE id IN (?, ?)', [
      gone,
      back,
    ]);
    await designs.restore(owner, back);
    await keep();
    await keep();
    const ids = await designs.everyId(owner);
    expect([ids.includes(gone), ids.includes(back), ids.includes(lately), await hasBlob(sha)]).toEqual([
      false,
      true,
      true,
      false,
    ]);
  });

  it('leaves a design that comes back in the very moment in which it would end', async () => {
    const id = await saves(1, () => 0);
    const duty = DUTIES.find((one) => one.name === 'removed designs')!;
    // The list of those that are to end was read a moment ago, and named it.
    const moment = { rows: async () => [{ id }], transaction: database.transaction.bind(database) };
    await duty.run(moment as unknown as Database);
    expect((await designs.get(owner, id))!.id).toBe(id);
  });

  it('forgets runs that ended long ago, and none that is open', async () => {
    const run = async (): Promise<string> =>
      (await jobs.addBatch(owner, { kind: 'print-files' }, [{ kind: 'keeper-test', payload: {} }])).id;
    const [old, open, young] = [await run(), await run(), await run()];
    await jobs.cancel(old);
    await jobs.cancel(young);
    await database.change('UPDATE batch SET changed_at = DATE_SUB(changed_at, INTERVAL 20 DAY) WHERE id IN (?, ?)', [
      old,
      open,
    ]);
    await keep();
    expect(
      [await jobs.get(owner, old), await jobs.get(owner, open), await jobs.get(owner, young)].map(
        (one) => one !== null,
      ),
    ).toEqual([false, true, true]);
    expect(await database.rows('SELECT id FROM job WHERE batch_id = ?', [old])).toEqual([]);
  });

  it('is one at a time, however many processes there are', async () => {
    await database.change("UPDATE keeper_turn SET until = '2000-01-01'");
    const turns = await Promise.all([1, 2, 3, 4].map(() => store.takeTurn(60_000)));
    expect(turns.filter(Boolean).length).toBe(1);
  });

  it('gives room on the disk back by age and size, and leaves what is in use', async () => {
    const cache = await freshFolder();
    const file = async (folder: string, name: string, age: number, bytes = 10): Promise<void> => {
      await mkdir(join(cache, folder), { recursive: true });
      const path = join(cache, folder, name);
      await writeFile(path, Buffer.alloc(bytes));
      const used = new Date(Date.now() - age);
      await utimes(path, used, used);
    };
    await file('miniatures', 'old.png', 100 * DAY);
    await file('miniatures', 'lately.png', 2 * DAY);
    await file('outgoing', 'left by a kill', 7 * HOUR);
    await file('outgoing', 'under way', HOUR);
    for (let i = 0; i < 8; i++) await file('thumbnails', `${i}.webp`, i * DAY, 20_000_000);
    // On its way to somebody, and more than the folder may hold.
    await file('previews', 'on its way', 0);
    await truncate(join(cache, 'previews', 'on its way'), 1_200_000_000);
    await new Keeper(
      store,
      [],
      DISK_DUTIES.map((duty) => duty(cache)),
      silentLog,
    ).run();
    expect(await readdir(join(cache, 'miniatures'))).toEqual(['lately.png']);
    expect(await readdir(join(cache, 'outgoing'))).toEqual(['under way']);
    expect(await readdir(join(cache, 'previews'))).toEqual(['on its way']);
    // 100 MB are allowed: the five used last.
    expect((await readdir(join(cache, 'thumbnails'))).sort()).toEqual([
      '0.webp',
      '1.webp',
      '2.webp',
      '3.webp',
      '4.webp',
    ]);
  });
});
