import { chmod, mkdir } from 'node:fs/promises';
import { Database } from './database/database.js';
import { migrate } from './database/migrate.js';
import { SettingStore } from './database/setting-store.js';
import { BlobStore } from './files/blob-store.js';
import { DiskGuard } from './files/disk.js';
import { silentLog, type Log } from './basics/log.js';
import { CallStore } from './outside/call-store.js';
import type { OutsidePlaces } from './outside/line.js';
import type { JobKind } from './queue/job-kind.js';
import { JobStore } from './queue/job-store.js';
import { JobWatch } from './queue/job-watch.js';

/** Where a process finds its things. */
export interface FloorOptions {
  readonly databaseUrl: string;
  /** An account that may change the layout of the database, used for that alone; the same one when absent. */
  readonly ownerUrl?: string;
  /** Folder for local copies; it may be emptied at any time. */
  readonly cache: string;
  readonly log?: Log;
  readonly disk?: DiskGuard;
  /** Where markets and print shops are reached. */
  readonly markets?: OutsidePlaces;
}

/** What every room stands on: the database at its newest layout, files, the queue, and the way outside. */
export async function openFloor({
  databaseUrl,
  ownerUrl = databaseUrl,
  cache,
  log = silentLog,
  disk = new DiskGuard(cache),
  markets = new Map(),
}: FloorOptions) {
  // Copies of sellers' work are nobody else's business on a shared machine.
  await mkdir(cache, { recursive: true, mode: 0o700 });
  await chmod(cache, 0o700);
  const owner = new Database(ownerUrl);
  await migrate(owner).finally(() => owner.close());
  const database = new Database(databaseUrl);
  await disk.start();
  const jobs = new JobStore(database);
  // Each room adds the kinds of steps that it can do.
  const kinds: JobKind[] = [];
  return {
    database,
    log,
    disk,
    cache,
    markets,
    jobs,
    kinds,
    watch: new JobWatch(jobs),
    blobs: new BlobStore(database, cache),
    settings: new SettingStore(database),
    calls: new CallStore(database),
  };
}

export type Floor = Awaited<ReturnType<typeof openFloor>>;
