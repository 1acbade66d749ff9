import { existsSync } from 'node:fs';
import { rename, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { isMovingBlank } from '@kettle/core/mockup';
import { SELLER } from './floor/basics/caller.js';
import { unpackDemo } from './launch/demo-pack.js';
import { liveOn } from './launch/demo-life.js';
import { loadDesignsPatiently, loadRequirements } from './launch/load-demo.js';
import { startMariaDb, type RunningMariaDb } from './launch/mariadb.js';
import { BLANKS, PAGE, ROOT } from './floor/files/shipped.js';
import { placesFrom } from './floor/outside/places.js';
import { claimFolder, type Claim } from './launch/running.js';
import { startMarkets, type RunningMarkets } from './launch/markets.js';
import { PageBuild } from './launch/page-build.js';
import { sentenceOf } from './launch/sentence-of.js';
import { startServer, type RunningServer } from './launch/server.js';
import { openLog } from './floor/basics/log.js';
import { DiskGuard } from './floor/files/disk.js';

// Started by bin/start: MariaDB, the application with its worker, and the demo data. `--empty` leaves the designs out.
// The page may still be on its way (KETTLE_PAGE_BUILD is the process that builds it): the data are got ready meanwhile.

/** A log larger than this is put aside at the next start; one older one is kept. */
const MOST_LOG_BYTES = 20_000_000;

const empty = process.argv.includes('--empty');
const folder = join(process.env['KETTLE_VAR'] ?? join(ROOT, 'var'), empty ? 'empty' : 'demo');
const given = process.env['KETTLE_DB_URL'];

const begun = new AbortController();
let claim: Claim | null = null;
let database: RunningMariaDb | null = null;
let server: RunningServer | null = null;
let markets: RunningMarkets | null = null;
/** True when the demo has just come from its pack, whole. */
let unpacked = false;
const pageBuild = new PageBuild(Number(process.env['KETTLE_PAGE_BUILD'] ?? 0));

/** Ends all that was started, however far the start had come. */
async function end(code: number): Promise<never> {
  pageBuild.end();
  await server?.stop().catch(() => undefined);
  markets?.stop();
  await database?.stop().catch(() => undefined);
  await claim?.letGo();
  process.exit(code);
}
let stopping = false;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    console.log('\nStopping.');
    begun.abort();
    // A start that is under way meets the signal itself, and ends what it has begun.
    if (ready) void end(0);
  });
}
let ready = false;

const claimed = await claimFolder(folder);
if ('runsAt' in claimed) {
  console.log(
    claimed.runsAt
      ? `Kettle Sheet is already running with these data, at ${claimed.runsAt}`
      : 'Kettle Sheet is already being started with these data. Wait a moment.',
  );
  process.exit(0);
}
claim = claimed.claim;
const logFile = join(folder, 'kettle.log');
if (
  await stat(logFile).then(
    ({ size }) => size > MOST_LOG_BYTES,
    () => false,
  )
)
  await rename(logFile, `${logFile}.1`);
const log = openLog(process.env['KETTLE_LOG'] === 'stdout' ? null : logFile);
const disk = new DiskGuard(folder, true);

try {
  begun.signal.throwIfAborted();
  await disk.look();
  database = given
    ? null
    : await startMariaDb(join(folder, 'mariadb'), {
        signal: begun.signal,
        beforeRestart: () => disk.giveReserve(),
        told: (event, detail) => {
          console.error(detail);
          log[event === 'back' ? 'info' : 'error']({ event: `database-${event}` }, detail);
        },
      });
  const ownerUrl = database?.ownerUrl ?? process.env['KETTLE_DB_OWNER_URL'];
  const cache = join(folder, 'cache');
  unpacked =
    !empty &&
    (await unpackDemo(ownerUrl ?? given!, cache, { signal: begun.signal }).catch((error: unknown) => {
      begun.signal.throwIfAborted();
      console.error(
        'The demo could not be read in. It is made of its sources while you work; its pictures come one by one.',
      );
      log.error({ err: error }, 'the packed demo could not be read in');
      return false;
    }));
  const named = process.env['KETTLE_MARKETS'];
  const places = named ? placesFrom(named) : null;
  markets = places ? null : await startMarkets();
  await pageBuild.done(begun.signal);
  const wanted = process.env['KETTLE_PORT'];
  const options = {
    databaseUrl: database?.url ?? given!,
    ownerUrl,
    cache,
    blanks: BLANKS,
    page: existsSync(PAGE) ? PAGE : null,
    host: process.env['KETTLE_HOST'],
    password: process.env['KETTLE_PASSWORD'],
    hosts: (process.env['KETTLE_NAMES'] ?? '').split(',').filter(Boolean),
    proxy: process.env['KETTLE_PROXY'],
    metrics: process.env['KETTLE_METRICS'],
    log,
    disk,
    markets: places ?? markets?.places,
    ...(unpacked ? {} : { prepare: loadRequirements }),
  };
  // A second checkout may hold the usual port: any free one will do, and the line below says which.
  server = await startServer({ ...options, port: Number(wanted ?? 4310) }).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EADDRINUSE' || wanted) throw error;
    return startServer({ ...options, port: 0 });
  });
  begun.signal.throwIfAborted();
  ready = true;
} catch (error) {
  if (!begun.signal.aborted) {
    const sentence = sentenceOf(error);
    console.error(sentence ?? error);
    log.fatal({ err: error }, sentence ?? 'the start failed');
  }
  await end(begun.signal.aborted ? 0 : 1);
}
markets?.answerTo(server!.address);
await claim.reachedAt(server!.address);
console.log(`Kettle Sheet is at ${server!.address} (Ctrl-C stops it)`);

// Pictures and previews of the blanks are made ahead, one after the other, so that the first look at the mockups does
// not wait for them.
const warm = (async () => {
  const { blanks } = server!.house;
  // A database that somebody else had laid out already, and that nobody has worked in.
  if (!empty && !unpacked) {
    await loadDesignsPatiently(server!.house, begun.signal);
    if (markets) await liveOn(server!.house);
  }
  for (const blank of blanks.all) await blanks.thumbnail(SELLER, blank.id);
  for (const blank of blanks.all)
    await blanks.preview(SELLER, blank.id, { areaId: blank.areas[0].id, crop: null, size: 1000 });
  for (const blank of blanks.all.filter(isMovingBlank)) await blanks.halfFrames(SELLER, blank.id);
})();
warm.catch((error: unknown) => {
  if (!stopping) log.warn({ err: error }, 'not all of the demo and of its blanks could be made ready');
});
