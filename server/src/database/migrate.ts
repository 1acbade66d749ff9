import { readFile, readdir } from 'node:fs/promises';
import type { Database } from './database.js';

const FOLDER = new URL('../../migrations/', import.meta.url);

/** Brings the database to the newest layout. Several processes may call it at once: one migrates, the others wait. */
export async function migrate(database: Database): Promise<void> {
  await database.script('CREATE TABLE IF NOT EXISTS migration (name VARCHAR(100) NOT NULL PRIMARY KEY, applied_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB');
  const names = (await readdir(FOLDER)).filter((name) => name.endsWith('.sql')).sort();
  await database.transaction(async (within) => {
    await within.rows("SELECT GET_LOCK('kettle-migrate', 60)");
    try {
      const applied = new Set((await within.rows<{ name: string }>('SELECT name FROM migration')).map((row) => row.name));
      for (const name of names.filter((one) => !applied.has(one))) {
        await database.script(await readFile(new URL(name, FOLDER), 'utf8'));
        await within.change('INSERT INTO migration (name) VALUES (?)', [name]);
      }
    } finally {
      await within.rows("SELECT RELEASE_LOCK('kettle-migrate')");
    }
  });
}
