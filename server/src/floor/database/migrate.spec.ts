import { readFile, readdir } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import mysql from 'mysql2/promise';
import type { DesignDocument } from '@kettle/core/model';
import { restore } from '../../launch/dump.js';
import { caller, emptyDatabase, isOver, testServer, until } from '../../testing/test-house.js';
import { Database } from './database.js';
import { migrate, statementsOf, WrongDatabaseError } from './migrate.js';

const dump = (landing: string): string =>
  fileURLToPath(new URL(`../../../src/testing/dumps/${landing}-landing.sql.gz`, import.meta.url));
const MIGRATIONS = new URL('../../../migrations/', import.meta.url);

const withDatabase = async (work: (database: Database, url: string) => Promise<void>): Promise<void> => {
  const url = await emptyDatabase();
  const database = new Database(url);
  try {
    await work(database, url);
  } finally {
    await database.close();
  }
};

/** Columns of every table, which is what a layout is. */
const layoutOf = async (database: Database): Promise<string[]> =>
  (
    await database.rows<{ one: string }>(
      "SELECT CONCAT(table_name, '.', column_name, ' ', column_type, ' ', is_nullable) AS one FROM information_schema.columns WHERE table_schema = DATABASE() ORDER BY 1",
    )
  ).map((row) => row.one);

describe('an upgrade', () => {
  for (const landing of ['first', 'second']) {
    it(`of a database as the ${landing} landing left it loses nothing, and all of it works`, async () => {
      const databaseUrl = await emptyDatabase();
      await restore(databaseUrl, dump(landing));
      const server = await testServer({ databaseUrl });
      const call = caller(server.address);
      try {
        const sheet = await call('GET', '/api/sheet');
        expect(sheet.status).withContext(JSON.stringify(sheet.body)).toBe(200);
        const { rows } = sheet.body;
        expect(rows.map((row: { name: string }) => row.name).sort()).toEqual(['Drawn by Hand', 'Fog Signal']);
        const fog = rows.find((row: { name: string }) => row.name === 'Fog Signal');
        expect([fog.layers, fog.pictures, fog.cells.length, fog.revision]).toEqual([2, 1, 2, 5]);
        // It was changed after its files were made: they are there, and out of date.
        expect(
          fog.cells.map((cell: { state: string; printFileId: string }) => [cell.state, cell.printFileId !== null]),
        ).toEqual([
          ['out-of-date', true],
          ['needs-work', true],
        ]);
        const files = (await call('GET', `/api/designs/${fog.designId}/print-files`)).body;
        expect(
          files.map((file: { accepted: boolean; certificate: unknown[] }) => [
            file.accepted,
            file.certificate.length > 5,
          ]),
        ).toEqual([
          [true, true],
          [true, true],
        ]);
        expect((await fetch(`${server.address}/api/print-files/${files[0].id}/content`)).status).toBe(200);
        const [picture] = (await call('GET', `/api/designs/${fog.designId}/pictures`)).body;
        expect([
          picture.blankId,
          picture.format,
          (await fetch(`${server.address}/api/pictures/${picture.id}/content`)).status,
        ]).toEqual(['sticker', 'jpeg', 200]);
        // Every revision is there, and a document stored whole is saved on in pieces.
        const revisions = (await call('GET', `/api/designs/${fog.designId}/revisions`)).body;
        expect(revisions.map((one: { revision: number; name: string | null }) => [one.revision, one.name])).toEqual([
          [5, null],
          [4, null],
          [3, null],
          [2, 'As sold'],
          [1, null],
        ]);
        const drawn = rows.find((row: { name: string }) => row.name === 'Drawn by Hand');
        const { document } = (await call('GET', `/api/designs/${drawn.designId}`)).body as { document: DesignDocument };
        const saved = await call(
          'PUT',
          `/api/designs/${drawn.designId}`,
          { ...document, name: 'Drawn on' },
          { 'If-Match': `"${drawn.revision}"` },
        );
        expect([saved.status, saved.body.document.layers]).toEqual([200, document.layers as never]);
        const again = await call('POST', `/api/designs/${fog.designId}/print-files`, {
          requirementIds: [fog.cells[0].requirementId],
        });
        expect((await until(async () => (await call('GET', `/api/jobs/${again.body.jobId}`)).body, isOver)).state).toBe(
          'done',
        );
        // What waited while the program was renewed is made when its step can be read, and asked for again when not.
        const waiting = await until(async () => (await call('GET', '/api/jobs/waiting')).body, isOver);
        expect([waiting.state, waiting.message]).toEqual(
          landing === 'second'
            ? ['done', '']
            : ['cancelled', jasmine.stringContaining('Press the button again') as never],
        );
      } finally {
        await server.stop();
      }
    });
  }

  it('ends in the layout of a new database, wherever it was killed', async () => {
    let wanted: string[] = [];
    await withDatabase(async (database) => {
      await migrate(database);
      wanted = await layoutOf(database);
    });
    const names = (await readdir(MIGRATIONS)).filter((name) => name.endsWith('.sql')).sort();
    const all = (
      await Promise.all(
        names.map(async (name) =>
          statementsOf(await readFile(new URL(name, MIGRATIONS), 'utf8')).map((statement) => ({ name, statement })),
        ),
      )
    ).flat();
    const last = names.at(-1)!;
    const firstOfLast = all.findIndex((one) => one.name === last);
    // Killed after a statement of the last migration was done and before that was written down: the worst moment, at
    // every third statement.
    for (let killed = firstOfLast; killed < all.length; killed += 3) {
      await withDatabase(async (database) => {
        await database.rowsOnce(
          'CREATE TABLE migration (name VARCHAR(100) NOT NULL PRIMARY KEY, applied_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB',
          [],
        );
        await database.rowsOnce(
          'CREATE TABLE migration_begun (name VARCHAR(100) NOT NULL PRIMARY KEY, statements INT UNSIGNED NOT NULL) ENGINE=InnoDB',
          [],
        );
        for (const { statement } of all.slice(0, killed + 1)) await database.rowsOnce(statement, []);
        for (const name of names.slice(0, -1)) await database.change('INSERT INTO migration (name) VALUES (?)', [name]);
        await database.change('INSERT INTO migration_begun (name, statements) VALUES (?, ?)', [
          last,
          killed - firstOfLast,
        ]);
        await migrate(database);
        expect(await layoutOf(database))
          .withContext(all[killed].statement.slice(0, 60))
          .toEqual(wanted);
      });
    }
  });

  it('is taken over from a start that was killed while it held the lock', async () => {
    await withDatabase(async (database, url) => {
      await migrate(database);
      const [{ n }] = await database.rows<{ n: number }>('SELECT COUNT(*) AS n FROM migration');
      // Who holds the lock is gone in the middle, as a killed process is: its connection breaks off.
      const holder = await mysql.createConnection(url);
      await holder.query('START TRANSACTION');
      await holder.query('SELECT id FROM migration_lock WHERE id = 1 FOR UPDATE');
      let over = false;
      const second = migrate(database).then(() => {
        over = true;
      });
      const waits =
        "SELECT id FROM information_schema.processlist WHERE info LIKE 'SELECT id FROM migration_lock%FOR UPDATE' AND db = DATABASE()";
      await until(
        async () => database.rows(waits),
        (rows) => rows.length > 0,
      );
      expect(over).toBeFalse();
      holder.destroy();
      await second;
      expect(Number((await database.rows<{ n: number }>('SELECT COUNT(*) AS n FROM migration'))[0].n)).toBe(Number(n));
    });
  });

  it('is refused by a program that is older than the database', async () => {
    await withDatabase(async (database) => {
      await migrate(database);
      await database.change("INSERT INTO migration (name) VALUES ('999-later.sql')");
      await expectAsync(migrate(database)).toBeRejectedWithError(WrongDatabaseError, /999-later/);
    });
  });
});
