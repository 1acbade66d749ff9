import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { loadDesigns, loadRequirements } from './launch/load-demo.js';
import { startMariaDb } from './launch/mariadb.js';
import { BLANKS, PAGE, ROOT } from './launch/places.js';
import { startServer } from './launch/server.js';

// Started by bin/start: MariaDB, the application with its worker, and the demo data. `--empty` leaves the designs out.

const empty = process.argv.includes('--empty');
const folder = process.env['KETTLE_VAR'] ?? join(ROOT, 'var');
const profile = empty ? 'empty' : 'demo';
const given = process.env['KETTLE_DB_URL'];
const database = given ? { url: given, stop: async () => undefined } : await startMariaDb(join(folder, profile, 'mariadb'));

const port = Number(process.env['KETTLE_PORT'] ?? 4310);
const options = {
  databaseUrl: database.url, cache: join(folder, profile, 'cache'), blanks: BLANKS, page: existsSync(PAGE) ? PAGE : null,
  host: process.env['KETTLE_HOST'], password: process.env['KETTLE_PASSWORD'], hosts: (process.env['KETTLE_NAMES'] ?? '').split(',').filter(Boolean),
};
// A second checkout may hold the usual port: any free one will do, and the line below says which.
const server = await startServer({ ...options, port }).catch((error: NodeJS.ErrnoException) => {
  if (error.code !== 'EADDRINUSE' || process.env['KETTLE_PORT']) throw error;
  return startServer({ ...options, port: 0 });
});

let stopping = false;
const stop = async (): Promise<void> => {
  if (stopping) return;
  stopping = true;
  console.log('\nStopping.');
  await server.stop();
  await database.stop();
  process.exit(0);
};
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop());

// The small pictures of the blanks are made ahead, one after the other, so that the first look at the mockups does not wait for them.
const warm = (async () => { for (const blank of server.house.blanks.all) await server.house.blanks.thumbnail(blank.id, server.house.viewPool, server.house.cache); })();
warm.catch(() => undefined);

await loadRequirements(server.house);
if (!empty) await loadDesigns(server.house);
console.log(`Kettle Sheet is at ${server.address} (Ctrl-C stops it)`);
