import { emptyDesign, type DesignDocument } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { JUDGEMENT_VERSION } from '@kettle/core/checks';
import sharp from 'sharp';
import { SELLER } from '../floor/basics/caller.js';
import { PAGE_SQL, TARGETS_SQL } from '../designs/sheet-store.js';
import { caller, smallTee, serverForAll } from '../testing/test-house.js';

const { owner } = SELLER;
const DESIGNS = 2000;

describe('the sheet after a year', () => {
  const { server } = serverForAll({ work: false });
  const requirements: string[] = [];
  beforeAll(async () => {
    const { house } = server;
    for (let i = 0; i < 12; i++)
      requirements.push((await house.requirements.add(owner, smallTee({ name: `Target ${i}` }))).id);
    const document = JSON.stringify({
      ...emptyDesign('Design'),
      targets: requirements.map((requirementId) => ({ requirementId })),
    });
    const run = (sql: string, values: (string | number)[] = []) => house.database.rowsOnce(sql, values);
    await run(
      `INSERT INTO design (id, owner, revision, name, layers) SELECT CONCAT('d', seq), 'one', 1, CONCAT('Design ', seq), 1 FROM seq_1_to_${DESIGNS}`,
    );
    await run(
      `INSERT INTO design_revision (design_id, revision, document) SELECT CONCAT('d', seq), 1, ? FROM seq_1_to_${DESIGNS}`,
      [document],
    );
    for (const [i, id] of requirements.entries()) {
      await run(
        `INSERT INTO design_target (design_id, requirement_id, position, revision, requirement_revision, engine, recipe, printable)
         SELECT CONCAT('d', seq), ?, ?, 1, 1, ?, UNHEX(SHA2(CONCAT(seq, ' ', ?), 256)), 1 FROM seq_1_to_${DESIGNS}`,
        [id, i + 1, JUDGEMENT_VERSION, id],
      );
    }
    // What could not be made of one target of every design.
    await run(
      `INSERT INTO failure (id, design_id, kind, about, asked, step, sentence)
       SELECT CONCAT('x', seq), CONCAT('d', seq), 'print-file', ?, UNHEX(SHA2(seq, 256)), '{}', 'Why.' FROM seq_1_to_${DESIGNS}`,
      [requirements[11]],
    );
    await run("INSERT INTO blob_file (sha256, bytes) VALUES (UNHEX(SHA2('x', 256)), 1)");
  });

  /** Files for half of all targets: the first of them follow what was found, the others something older. */
  const addFiles = async (each: number, from: number): Promise<void> => {
    for (const [i, id] of requirements.slice(0, 6).entries()) {
      for (let n = from; n < from + each; n++) {
        await server.house.database.rowsOnce(
          `INSERT INTO output (id, owner, kind, design_id, revision, about, recipe, sha256, filename, media_type, bytes, accepted, record)
           SELECT LEFT(MD5(CONCAT(seq, ' ', ?, ' ', ?)), 24), 'one', 'print-file', CONCAT('d', seq), 1, ?, UNHEX(SHA2(CONCAT(seq, ' ', ?), 256)), UNHEX(SHA2('x', 256)), 'x.png', 'image/png', 1, 1, '{}'
           FROM seq_1_to_${DESIGNS}`,
          [i, n, id, n === 0 ? id : `${id} ${n}`],
        );
      }
    }
    await server.house.database.rowsOnce('ANALYZE TABLE design, design_target, output, failure', []);
  };

  /** Rows that a statement read in all of its tables, as the database counted them. */
  const readBy = async (sql: string, values: (string | number | string[])[]): Promise<number> => {
    const [row] = await server.house.database.rowsOnce<{ ANALYZE: string | object }>(
      `ANALYZE FORMAT=JSON ${sql}`,
      values,
    );
    const text = typeof row.ANALYZE === 'string' ? row.ANALYZE : JSON.stringify(row.ANALYZE);
    return [...text.matchAll(/"r_loops": ?(\d+).*?"r_rows": ?([\d.]+)/gs)].reduce(
      (sum, [, loops, rows]) => sum + Number(loops) * Number(rows),
      0,
    );
  };

  it('is opened by four queries, that read no more when there are ten times as many files', async () => {
    const { database, sheet } = server.house;
    const page = Array.from({ length: 24 }, (_, i) => `d${i + 1}`);
    await addFiles(1, 0);
    const few = await readBy(TARGETS_SQL, [page]);
    await addFiles(9, 1);
    const many = await readBy(TARGETS_SQL, [page]);
    expect(few).toBeGreaterThanOrEqual(24 * 12);
    expect(many).toBeLessThanOrEqual(few);
    const explained = await database.rowsOnce<{ table: string; type: string; key: string }>(`EXPLAIN ${TARGETS_SQL}`, [
      page,
    ]);
    expect(explained.map(({ table, type, key }) => [table, type, key])).toEqual([
      ['t', 'range', 'PRIMARY'],
      ['f', 'eq_ref', 'output_recipe'],
      ['x', 'ref', 'failure_of'],
    ]);
    const asked = [
      spyOn(database, 'rows').and.callThrough(),
      spyOn(database, 'rowsOnce').and.callThrough(),
      spyOn(database, 'change').and.callThrough(),
    ];
    const { rows, total } = await sheet.sheet(SELLER, 0, 24);
    expect(asked.reduce((sum, spy) => sum + spy.calls.count(), 0)).toBe(4);
    expect([total, rows.length, rows[0].cells.length]).toEqual([DESIGNS, 24, 12]);
    expect(rows[0].cells.map((cell) => cell.finding)).toEqual([...Array(11).fill(null), 'Could not be made']);
    expect(rows[0].cells.map((cell) => cell.state)).toEqual([...Array(6).fill('ready'), ...Array(6).fill('not-made')]);
  });

  it('finds its last page in an index', async () => {
    const pages = await readBy(PAGE_SQL, [owner, owner, 24, DESIGNS - 24]);
    // The count and the place of the page go over the index once each; no row before the page is read for more.
    expect(pages).toBeLessThan(3 * DESIGNS);
    expect((await server.house.sheet.sheet(SELLER, DESIGNS - 24, 24)).rows.at(-1)!.name).toBe(`Design ${DESIGNS}`);
  });

  it('answers the rows that an event is about, as they are now', async () => {
    const call = caller(server.address);
    const before = (await call('GET', '/api/sheet?designs=d5,d7,none')).body;
    expect(before.rows.map((row: { designId: string }) => row.designId)).toEqual(['d5', 'd7']);
    const { document, revision } = (await call('GET', '/api/designs/d7')).body as {
      document: DesignDocument;
      revision: number;
    };
    await call(
      'PUT',
      '/api/designs/d7',
      { ...document, name: 'Renamed', targets: document.targets.slice(0, 2) },
      { 'If-Match': `"${revision}"` },
    );
    const [row] = (await call('GET', '/api/sheet?designs=d7')).body.rows;
    expect([row.name, row.revision, row.cells.map((cell: { state: string }) => cell.state)]).toEqual([
      'Renamed',
      2,
      ['not-begun', 'not-begun'],
    ]);
    await call('DELETE', '/api/designs/d7');
    expect((await call('GET', '/api/sheet?designs=d7')).body.rows).toEqual([]);
  });

  it('judges anew what a changed requirement is about', async () => {
    const call = caller(server.address);
    const { revision, id: _id, ...fields } = (await call('GET', `/api/requirements/${requirements[0]}`)).body;
    await call(
      'PUT',
      `/api/requirements/${requirements[0]}`,
      { ...fields, note: 'Changed' },
      { 'If-Match': `"${revision}"` },
    );
    const [row] = (await call('GET', '/api/sheet?designs=d9')).body.rows;
    // No document of these designs has a layer: judged, all of them want work or are not begun; nothing that was found
    // before is shown.
    expect(row.cells[0].finding).toBe('No artwork yet');
    const [kept] = await server.house.database.rows<{ requirement_revision: number }>(
      "SELECT requirement_revision FROM design_target WHERE design_id = 'd9' AND requirement_id = ?",
      [requirements[0]],
    );
    expect(kept.requirement_revision).toBe(2);
  });

  it('shows all targets of a row in one picture, each in the middle of its own box', async () => {
    const call = caller(server.address);
    const wide = (await call('POST', '/api/requirements', smallTee({ name: 'Wide', width: 4, height: 1 }))).body.id;
    const field = { width: 50.8, height: 60.96 };
    const document: DesignDocument = {
      ...emptyDesign('Strip', field),
      layers: [shapeLayer('a', 'rectangle', field, '#c2552b')].map((layer) => ({
        ...layer,
        place: { ...layer.place, x: 25.4, y: 30.48, width: 400, height: 400 },
      })),
      targets: [{ requirementId: requirements[1] }, { requirementId: 'nobody-knows' }, { requirementId: wide }],
    };
    const { id } = (await call('POST', '/api/designs', document)).body;
    const { data, info } = await sharp(await (await fetch(`${server.address}/api/designs/${id}/strip`)).arrayBuffer())
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([2 * 148, 116]);
    const alpha = (x: number, y: number): number => data[(y * info.width + x) * 4 + 3];
    // 5:6 fills the height of the first box, 4:1 the width of the second; the canvas is covered to its edges, and
    // nothing lies beyond.
    expect([alpha(74, 2), alpha(74, 113), alpha(20, 58), alpha(74 - 50, 58)]).toEqual([255, 255, 0, 0]);
    expect([alpha(148 + 2, 58), alpha(148 + 145, 58), alpha(148 + 74, 58 - 24), alpha(148 + 74, 58 + 24)]).toEqual([
      255, 255, 0, 0,
    ]);
  });
});
