import { databaseFolder } from '@kettle/server/testing';
import { ownFolder, startMariaDb } from '@kettle/server';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';

/** What all processes of a run share: one MariaDB, and one folder of local copies, so that each is drawn once. */
export interface Shared {
  readonly rootUrl: string;
  readonly folder: string;
}

const NAME = 'KETTLE_E2E_SHARED';

/** What {@link open} made, in a process that was started after it. */
export const shared = (): Shared => JSON.parse(process.env[NAME]!) as Shared;

/** Called once before all tests. @returns what is called after them */
export default async function open(): Promise<() => Promise<void>> {
  const folder = await ownFolder(tmpdir(), 'kettle-e2e');
  const databases = await databaseFolder();
  const mariaDb = await startMariaDb(databases, { quick: true });
  process.env[NAME] = JSON.stringify({ rootUrl: mariaDb.rootUrl, folder } satisfies Shared);
  return async () => {
    await mariaDb.stop();
    for (const one of [folder, databases]) await rm(one, { recursive: true, force: true });
  };
}
