import { emptyDesign, type DesignDocument, type FreehandLayer, type Stroke } from '@kettle/core/model';
import { SELLER } from '../floor/basics/caller.js';
import { Database } from '../floor/database/database.js';
import { migrate } from '../floor/database/migrate.js';
import { DesignStore } from '../designs/design-store.js';
import { freshDatabase } from '../testing/test-house.js';
import { assembled, digestOf, partsNamedBy } from '../render/documents/digest.js';

const { owner } = SELLER;
const stroke = (n: number, points = 120): Stroke => ({
  points: Array.from({ length: points * 3 }, (_, i) => Math.round((i * 0.37 + n * 1.3) * 100) / 100),
  size: 2,
  hardness: 1,
  opacity: 1,
  hex: '#1f2b4d',
  erase: false,
});
const drawing = (strokes: readonly Stroke[], name = 'Drawn'): DesignDocument => ({
  ...emptyDesign(name),
  targets: [{ requirementId: 'tee', garment: '#1f2b4d' }],
  layers: [
    {
      kind: 'freehand',
      id: 'lines',
      name: 'Lines “{"$part":"' + 'a'.repeat(64) + '"}”',
      opacity: 1,
      hidden: false,
      frame: { x: 0, y: 0, width: 100, height: 100 },
      strokes,
      place: { x: 50, y: 50, width: 100, height: 100, turn: 0, flipX: false, flipY: false },
    } satisfies FreehandLayer,
  ],
});

describe('how a document is stored', () => {
  it('is put together again letter by letter, whatever its strings look like', () => {
    for (const count of [0, 1, 3, 40, 41, 42, 43, 44, 45, 300]) {
      const document = drawing(Array.from({ length: count }, (_, i) => stroke(i)));
      const { skeleton, parts, name, targets, length } = digestOf(document);
      expect(assembled(skeleton, new Map(Object.entries(parts)))).toBe(JSON.stringify(document));
      expect([name, targets[0], length]).toEqual([
        'Drawn',
        { requirementId: 'tee', version: null, garment: '#1f2b4d' },
        JSON.stringify(document).length,
      ]);
      expect(partsNamedBy(skeleton).sort()).toEqual(Object.keys(parts).sort());
    }
  });

  it('keeps its parts when strokes are added, and says when one is missing', () => {
    const strokes = Array.from({ length: 200 }, (_, i) => stroke(i));
    const before = digestOf(drawing(strokes));
    const after = digestOf(drawing([...strokes, stroke(999)]));
    const fresh = Object.keys(after.parts).filter((hash) => !(hash in before.parts));
    expect(fresh.length).toBeLessThanOrEqual(1);
    expect(Object.keys(before.parts).length).toBeGreaterThan(10);
    expect(after.skeleton.length).toBeLessThan(after.length / 20);
    expect(() => assembled(after.skeleton, new Map())).toThrowError(/part of a stored document is missing/);
  });

  it('is whole for what is no document', () => {
    for (const odd of [null, [], {}, { layers: 'x' }, { layers: [null], targets: [null, { requirementId: 7 }] }]) {
      const digest = digestOf(odd as unknown as DesignDocument);
      expect([digest.skeleton, digest.parts, digest.targets]).toEqual([JSON.stringify(odd), {}, []]);
    }
  });

  describe('in the database', () => {
    let database: Database;
    let designs: DesignStore;
    beforeAll(async () => {
      database = new Database(await freshDatabase());
      await migrate(database);
      designs = new DesignStore(database);
    });
    afterAll(() => database.close());
    const bytes = async (): Promise<number> =>
      Number(
        (
          await database.rows<{ n: number }>(
            'SELECT (SELECT SUM(LENGTH(document)) FROM design_revision) + COALESCE((SELECT SUM(LENGTH(data)) FROM document_part), 0) AS n',
          )
        )[0].n,
      );

    it('grows by what is new, not by the whole drawing with every stroke', async () => {
      const strokes: Stroke[] = [];
      let { id, revision } = await designs.add(owner, digestOf(drawing(strokes)));
      let whole = 0;
      for (let i = 0; i < 120; i++) {
        strokes.push(stroke(i));
        const document = drawing([...strokes]);
        whole += JSON.stringify(document).length;
        ({ id, revision } = (await designs.save(owner, id, revision, digestOf(document)))!);
      }
      const stored = await bytes();
      // Whole documents would be eleven times as much, and ever more.
      expect(stored).toBeLessThan(whole / 8);
      const read = (await designs.get(owner, id))!;
      expect(read.document).toEqual(drawing(strokes));
      expect((await designs.revision(owner, id, 60))!.document.layers[0]).toEqual(
        jasmine.objectContaining({ strokes: strokes.slice(0, 59) }),
      );
      expect(read.outline.targets).toEqual(read.document.targets);
    });

    it('shares parts between designs, saved at the same time', async () => {
      const strokes = Array.from({ length: 60 }, (_, i) => stroke(5000 + i));
      const made = await Promise.all(
        Array.from({ length: 6 }, (_, i) => designs.add(owner, digestOf(drawing(strokes, `Copy ${i}`)))),
      );
      const all = await Promise.all(made.map(({ id }) => designs.get(owner, id)));
      expect(
        all.every(
          (one, i) =>
            one!.document.name === `Copy ${i}` &&
            JSON.stringify(one!.document.layers) === JSON.stringify(drawing(strokes).layers),
        ),
      ).toBeTrue();
      const [{ n }] = await database.rows<{ n: number }>(
        'SELECT COUNT(*) AS n FROM document_part p WHERE (SELECT COUNT(*) FROM design_part d WHERE d.sha256 = p.sha256) = 6',
      );
      expect(Number(n)).toBe(Object.keys(digestOf(drawing(strokes)).parts).length);
    });

    it('is saved on top of the revision that was open, and on no other', async () => {
      const { id } = await designs.add(owner, digestOf(drawing([], 'First')));
      expect((await designs.save(owner, id, 1, digestOf(drawing([], 'Second'))))!.revision).toBe(2);
      expect(await designs.save(owner, id, 1, digestOf(drawing([], 'From an old page')))).toBeNull();
      expect(await designs.save(owner, id, 3, digestOf(drawing([], 'From nowhere')))).toBeNull();
      const { revision, document } = (await designs.get(owner, id))!;
      expect([revision, document.name]).toEqual([2, 'Second']);
    });

    it('is another seller’s for nobody but that seller', async () => {
      await database.change("INSERT IGNORE INTO seller (id, name) VALUES ('two', 'Another')");
      const { id } = await designs.add('two', digestOf(drawing([])));
      expect(await designs.get(owner, id)).toBeNull();
      expect(await designs.save(owner, id, 1, digestOf(drawing([])))).toBeNull();
      expect(await designs.remove(owner, id)).toBeFalse();
      expect((await designs.list(owner)).some((one) => one.id === id)).toBeFalse();
      expect((await designs.get('two', id))!.id).toBe(id);
    });
  });
});
