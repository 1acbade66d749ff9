import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { Database, isDatabaseAway } from './floor/database/database.js';
import { openHouse } from './app/house.js';
import { openLog } from './floor/basics/log.js';
import { placesFrom } from './floor/outside/places.js';
import { BLANKS, ROOT } from './floor/files/shipped.js';
import { sentenceOf } from './launch/sentence-of.js';

// A second worker against the same database: KETTLE_DB_URL=… npm run worker

const databaseUrl = process.env['KETTLE_DB_URL'];
if (!databaseUrl) {
  console.error('Set KETTLE_DB_URL to the address of the database that the application uses.');
  process.exit(1);
}
/** Longest wait between two tries to reach the database, ms. */
const MOST_WAIT = 15_000;

/** Waits for a database that is away or slow: it may be started after its workers. */
async function untilItAnswers(url: string): Promise<void> {
  const database = new Database(url);
  try {
    for (let wait = 500; ; wait = Math.min(MOST_WAIT, wait * 2)) {
      try {
        await database.rows('SELECT 1');
        return;
      } catch (error) {
        if (!isDatabaseAway(error)) throw error;
        console.error(`The database does not answer. It is asked again in ${wait / 1000} s.`);
        await pause(wait);
      }
    }
  } finally {
    await database.close();
  }
}

const house = await untilItAnswers(databaseUrl)
  .then(() =>
    openHouse({
      databaseUrl,
      ownerUrl: process.env['KETTLE_DB_OWNER_URL'],
      log: openLog(null, 'warn'),
      cache: process.env['KETTLE_CACHE'] ?? join(ROOT, 'var', `cache-worker-${process.pid}`),
      blanks: BLANKS,
      ...(process.env['KETTLE_MARKETS'] ? { markets: placesFrom(process.env['KETTLE_MARKETS']) } : {}),
      ...(process.env['KETTLE_EXPORTERS'] ? { exporters: Number(process.env['KETTLE_EXPORTERS']) } : {}),
    }),
  )
  .catch((error: unknown) => {
    console.error(sentenceOf(error) ?? error);
    process.exit(1);
  });
house.workers.start();
console.log('Worker ready.');
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.once(signal, () => {
    void house.workers
      .stop()
      .then(() => house.close())
      .then(() => process.exit(0));
  });
}
