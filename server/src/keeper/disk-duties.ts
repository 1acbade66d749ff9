import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { DiskDuty } from './duty.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const MB = 1e6;

/** What was used this lately may be on its way to somebody. */
const IN_USE_MS = 10 * 60_000;

interface Kept {
  readonly folder: string;
  readonly mostBytes: number;
  readonly mostAge: number;
}

/**
 * A folder of copies that can be made again: those not used for a time end, and those used longest ago while all
 * together take too much room.
 */
const copies =
  ({ folder, mostBytes, mostAge }: Kept) =>
  (cache: string): DiskDuty => ({
    name: folder,
    async run(now) {
      const files = (await filesIn(join(cache, folder))).sort((a, b) => b.used - a.used);
      let [total, ended, bytes] = [0, 0, 0];
      for (const file of files) {
        total += file.bytes;
        if (now - file.used < IN_USE_MS || (total <= mostBytes && now - file.used < mostAge)) continue;
        await rm(file.path, { force: true, recursive: true });
        total -= file.bytes;
        bytes += file.bytes;
        ended++;
      }
      return { ended, bytes };
    },
  });

async function filesIn(folder: string): Promise<{ path: string; bytes: number; used: number }[]> {
  const names = await readdir(folder).catch(() => []);
  const found = await Promise.all(
    names.map(async (name) => {
      const path = join(folder, name);
      const { size, mtimeMs } = await stat(path).catch(() => ({ size: -1, mtimeMs: 0 }));
      return { path, bytes: size, used: mtimeMs };
    }),
  );
  return found.filter((file) => file.bytes >= 0);
}

/**
 * Everything the keeper ends on the disk. What is under way lies in its folder for hours at most; older things were
 * left by a process that was killed.
 */
export const DISK_DUTIES: readonly ((cache: string) => DiskDuty)[] = [
  copies({ folder: 'miniatures', mostBytes: 500 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'renditions', mostBytes: 2000 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'treated', mostBytes: 4000 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'textures', mostBytes: 1000 * MB, mostAge: 7 * DAY }),
  copies({ folder: 'working', mostBytes: 1000 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'thumbnails', mostBytes: 100 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'previews', mostBytes: 1000 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'proofs', mostBytes: 200 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'blobs', mostBytes: 4000 * MB, mostAge: 60 * DAY }),
  copies({ folder: 'incoming', mostBytes: Infinity, mostAge: 6 * HOUR }),
  copies({ folder: 'outgoing', mostBytes: Infinity, mostAge: 6 * HOUR }),
  copies({ folder: 'unpacked', mostBytes: Infinity, mostAge: 6 * HOUR }),
];
