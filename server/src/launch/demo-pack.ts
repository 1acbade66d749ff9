import { cp, mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { readDump } from './dump.js';
import { DEMO_PACK } from '../floor/files/shipped.js';

/** Held while the demo is being read in: whoever finds it begins anew, since what is there is half of it. */
const COMING = 'demo_coming';
/** Folders of local copies that are packed along, so that the first look at the sheet draws nothing. */
export const PACKED_COPIES = ['miniatures', 'thumbnails'];

/** When the pack was made: what happened in it happened that long before. */
export interface PackFacts {
  readonly packedAt: string;
}

/**
 * Reads the demo as it was made beforehand (`npm run demo:pack`) into a database that holds nothing yet, with its times
 * moved to today. A process that was killed while it did so is followed by one that begins anew.
 * @param url an account that may make tables
 * @param cache folder of local copies
 * @returns false when the database holds something already, which is left alone
 * @throws Error when the pack cannot be read; the database is as empty as it was
 */
export async function unpackDemo(
  url: string,
  cache: string,
  { signal, pack = DEMO_PACK }: { signal?: AbortSignal; pack?: string } = {},
): Promise<boolean> {
  const connection = await mysql.createConnection({ uri: url, timezone: 'Z' });
  try {
    // Two programs that are started on one database at once: the second one waits, and finds it whole.
    await connection.query("SELECT GET_LOCK('kettle demo', -1)");
    const tables = await tablesOf(connection);
    if (tables.length && !tables.includes(COMING)) return false;
    await dropAll(connection, tables);
    await connection.query('CREATE TABLE ?? (id TINYINT)', [COMING]);
    try {
      await readDump(url, join(pack, 'database.sql.gz'), signal);
      const { packedAt } = JSON.parse(await readFile(join(pack, 'pack.json'), 'utf8')) as PackFacts;
      await moveTimes(connection, Math.round((Date.now() - Date.parse(packedAt)) / 1000));
      for (const name of PACKED_COPIES) {
        await mkdir(join(cache, name), { recursive: true, mode: 0o700 });
        // What is there already is the same picture, and another program may be reading it.
        await cp(join(pack, name), join(cache, name), { recursive: true, force: false });
      }
    } catch (error) {
      await dropAll(connection, await tablesOf(connection));
      throw error;
    }
    await connection.query('DROP TABLE ??', [COMING]);
    return true;
  } finally {
    await connection.end();
  }
}

async function tablesOf(connection: mysql.Connection): Promise<string[]> {
  const [rows] = await connection.query<mysql.RowDataPacket[]>('SHOW TABLES');
  return rows.map((row) => String(Object.values(row)[0]));
}

async function dropAll(connection: mysql.Connection, tables: readonly string[]): Promise<void> {
  await connection.query('SET FOREIGN_KEY_CHECKS = 0');
  // The mark goes last: whoever is killed before that leaves it behind.
  for (const name of [...tables].sort((a, b) => Number(a === COMING) - Number(b === COMING)))
    await connection.query('DROP TABLE ??', [name]);
}

/** Moves every time in the database on by as many seconds. */
async function moveTimes(connection: mysql.Connection, seconds: number): Promise<void> {
  const [columns] = await connection.query<mysql.RowDataPacket[]>(
    `SELECT TABLE_NAME AS of, COLUMN_NAME AS name FROM information_schema.COLUMNS
     WHERE TABLE_SCHEMA = DATABASE() AND DATA_TYPE IN ('datetime', 'timestamp') AND GENERATION_EXPRESSION IS NULL`,
  );
  for (const table of new Set(columns.map(({ of }) => of as string))) {
    const names = columns.filter(({ of }) => of === table).map(({ name }) => name as string);
    await connection.query(`UPDATE ?? SET ${names.map(() => '?? = ?? + INTERVAL ? SECOND').join(', ')}`, [
      table,
      ...names.flatMap((name) => [name, name, seconds]),
    ]);
  }
}
