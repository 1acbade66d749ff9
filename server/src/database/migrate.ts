import { readFile, readdir } from 'node:fs/promises';
import type { Database } from './database.js';

const FOLDER = new URL('../../migrations/', import.meta.url);
const LOCK_SECONDS = 60;

/** What MariaDB says of a statement that was done already, by a first try that was killed before it could write that down. */
const DONE_ALREADY = new Set(['ER_TABLE_EXISTS_ERROR', 'ER_DUP_FIELDNAME', 'ER_DUP_KEYNAME', 'ER_FK_DUP_NAME', 'ER_DUP_CONSTRAINT_NAME']);

/** The database cannot be used by this program; the message is for whoever starts it. */
export class WrongDatabaseError extends Error {}

/**
 * Brings the database to the newest layout. Several processes may call it at once: one migrates, the others wait. A migration that was killed goes on where it was.
 * @throws WrongDatabaseError when a newer program has used this database, or when another process holds it for too long
 */
export async function migrate(database: Database): Promise<void> {
  const names = (await readdir(FOLDER)).filter((name) => name.endsWith('.sql')).sort();
  await database.onOneConnection(async (within) => {
    const [{ held }] = await within.rows<{ held: number | null }>(`SELECT GET_LOCK(CONCAT(DATABASE(), '.migrate'), ${LOCK_SECONDS}) AS held`);
    if (Number(held) !== 1) throw new WrongDatabaseError(`Another process has been changing the layout of this database for more than ${LOCK_SECONDS} seconds. Wait until it is done, then start again.`);
    try {
      await within.rowsOnce('CREATE TABLE IF NOT EXISTS migration (name VARCHAR(100) NOT NULL PRIMARY KEY, applied_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB', []);
      const applied = new Set((await within.rows<{ name: string }>('SELECT name FROM migration')).map((row) => row.name));
      const newer = [...applied].filter((name) => !names.includes(name));
      if (newer.length) throw new WrongDatabaseError(`This database was last used by a newer version of Kettle Sheet (it has the layout ${newer.sort().at(-1)!.replace('.sql', '')}). Start that version. Nothing was changed.`);
      for (const name of names.filter((one) => !applied.has(one))) {
        for (const statement of statementsOf(await readFile(new URL(name, FOLDER), 'utf8'))) {
          await within.rowsOnce(statement, []).catch((error: { code?: string }) => { if (!DONE_ALREADY.has(error.code ?? '')) throw error; });
        }
        await within.change('INSERT INTO migration (name) VALUES (?)', [name]);
      }
    } finally {
      await within.rows("SELECT RELEASE_LOCK(CONCAT(DATABASE(), '.migrate'))");
    }
  });
}

const statementsOf = (sql: string): string[] => sql.replace(/^--.*$/gm, '').split(/;\s*$/m).map((one) => one.trim()).filter(Boolean);
