import { join } from 'node:path';
import { openHouse } from './house.js';
import { openLog } from './log.js';
import { placesFrom } from './outside/places.js';
import { BLANKS, ROOT } from './launch/places.js';

// A second worker against the same database: KETTLE_DB_URL=… npm run worker

const databaseUrl = process.env['KETTLE_DB_URL'];
if (!databaseUrl) {
  console.error('Set KETTLE_DB_URL to the address of the database that the application uses.');
  process.exit(1);
}
const house = await openHouse({
  databaseUrl,
  ownerUrl: process.env['KETTLE_DB_OWNER_URL'],
  log: openLog(null, 'warn'),
  cache: process.env['KETTLE_CACHE'] ?? join(ROOT, 'var', `cache-worker-${process.pid}`),
  blanks: BLANKS,
  ...(process.env['KETTLE_MARKETS'] ? { markets: placesFrom(process.env['KETTLE_MARKETS']) } : {}),
  ...(process.env['KETTLE_EXPORTERS'] ? { exporters: Number(process.env['KETTLE_EXPORTERS']) } : {}),
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
