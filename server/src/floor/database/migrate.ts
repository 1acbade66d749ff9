import { StartError } from '../basics/start-error.js';
import { readFile, readdir } from 'node:fs/promises';
import type { Database, Queryable } from './database.js';

const FOLDER = new URL('../../../migrations/', import.meta.url);
const LOCK_SECONDS = 60;

/**
 * What MariaDB says of a statement that was done already, by a first try that was killed before it could write that
 * down.
 */
const DONE_ALREADY = new Set([
  'ER_TABLE_EXISTS_ERROR',
  'ER_DUP_FIELDNAME',
  'ER_DUP_KEYNAME',
  'ER_FK_DUP_NAME',
  'ER_DUP_CONSTRAINT_NAME',
  'ER_CANT_DROP_FIELD_OR_KEY',
]);

/** The database cannot be used by this program; the message is for whoever starts it. */
export class WrongDatabaseError extends StartError {}

/**
 * Brings the database to the newest layout. Several processes may call it at once: one migrates, the others wait. The
 * lock is a row that is held by a
 * transaction of its own, so it ends with the process that holds it, and it holds on every kind of cluster. How far a
 * migration came is written down after
 * each statement: one that was killed goes on where it was.
 * @throws WrongDatabaseError when a newer program has used this database, or when another process holds it for too long
 */
export async function migrate(database: Database): Promise<void> {
  const names = (await readdir(FOLDER)).filter((name) => name.endsWith('.sql')).sort();
  await database.onOneConnection(async (within) => {
    // A large table takes its time to be changed.
    await within.rowsOnce('SET SESSION max_statement_time = 0', []);
    await within.rowsOnce(
      'CREATE TABLE IF NOT EXISTS migration_lock (id TINYINT UNSIGNED NOT NULL PRIMARY KEY) ENGINE=InnoDB',
      [],
    );
    // Looked for first: to insert what another process has locked would wait for it here already.
    if (!(await within.rowsOnce('SELECT id FROM migration_lock', [])).length)
      await within.rowsOnce('INSERT IGNORE INTO migration_lock (id) VALUES (1)', []);
    await locked(database, async (isHeld) => {
      const applied = await appliedSoFar(within);
      const newer = [...applied].filter((name) => !names.includes(name)).sort();
      if (newer.length) {
        const layout = newer.at(-1)!.replace('.sql', '');
        throw new WrongDatabaseError(
          `This database was last used by a newer version of Kettle Sheet (it has the layout ${layout}). Start that version. Nothing was changed.`,
        );
      }
      for (const name of names.filter((one) => !applied.has(one))) await apply(within, name, isHeld);
    });
  });
}

/** Runs `work` while this process holds the lock. `work` is told how to make sure that it still does. */
async function locked(database: Database, work: (isHeld: () => Promise<unknown>) => Promise<void>): Promise<void> {
  await database.onOneConnection(async (holder) => {
    await holder.rowsOnce(`SET SESSION innodb_lock_wait_timeout = ${LOCK_SECONDS}`, []);
    await holder.rowsOnce('START TRANSACTION', []);
    try {
      await holder
        .rowsOnce('SELECT id FROM migration_lock WHERE id = 1 FOR UPDATE', [])
        .catch((error: { code?: string }) => {
          if (error.code !== 'ER_LOCK_WAIT_TIMEOUT') throw error;
          throw new WrongDatabaseError(
            `Another process has been changing the layout of this database for more than ${LOCK_SECONDS} seconds. Wait until it is done, then start again.`,
          );
        });
      // The connection that holds the lock must live: when it is gone, so is the lock, and this throws.
      await work(() => holder.rowsOnce('SELECT 1', []));
    } finally {
      await holder.rowsOnce('COMMIT', []).catch(() => undefined);
    }
  });
}

async function appliedSoFar(within: Queryable): Promise<Set<string>> {
  await within.rowsOnce(
    'CREATE TABLE IF NOT EXISTS migration (name VARCHAR(100) NOT NULL PRIMARY KEY, applied_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB',
    [],
  );
  await within.rowsOnce(
    'CREATE TABLE IF NOT EXISTS migration_begun (name VARCHAR(100) NOT NULL PRIMARY KEY, statements INT UNSIGNED NOT NULL) ENGINE=InnoDB',
    [],
  );
  return new Set((await within.rows<{ name: string }>('SELECT name FROM migration')).map((row) => row.name));
}

async function apply(within: Queryable, name: string, isHeld: () => Promise<unknown>): Promise<void> {
  const [begun] = await within.rows<{ statements: number }>('SELECT statements FROM migration_begun WHERE name = ?', [
    name,
  ]);
  const statements = statementsOf(await readFile(new URL(name, FOLDER), 'utf8'));
  for (let at = begun?.statements ?? 0; at < statements.length; at++) {
    await isHeld();
    await within.rowsOnce(statements[at], []).catch((error: { code?: string }) => {
      if (!DONE_ALREADY.has(error.code ?? '')) throw error;
    });
    await within.change('REPLACE INTO migration_begun (name, statements) VALUES (?, ?)', [name, at + 1]);
  }
  await within.change('INSERT INTO migration (name) VALUES (?)', [name]);
  await within.change('DELETE FROM migration_begun WHERE name = ?', [name]);
}

/** Statements of a migration file, in order. */
export const statementsOf = (sql: string): string[] =>
  sql
    .replace(/^--.*$/gm, '')
    .split(/;\s*$/m)
    .map((one) => one.trim())
    .filter(Boolean);
