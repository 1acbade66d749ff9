import { open, readFile, rm } from 'node:fs/promises';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';

/** Who holds a folder: the process, when it began, and where it can be reached once it can. */
interface Holder {
  readonly pid: number;
  readonly begun: string;
  readonly address: string | null;
}

/**
 * When a process began, in the kernel's ticks: a number that was given to another process since does not pass for it
 * (proc(5), stat, field 22).
 */
const begunOf = async (pid: number): Promise<string | null> => (await statOf(pid))[19] ?? null;

/** Whether a process is there and has not ended, even if nobody has asked yet how. */
export async function isAlive(pid: number): Promise<boolean> {
  const [state] = await statOf(pid);
  return !!state && state !== 'Z';
}

/** What the kernel says of a process from its state on; empty when there is none. */
async function statOf(pid: number): Promise<string[]> {
  const stat = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => '');
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ');
}

/** A claim on a folder, until it is let go or its process ends. */
export interface Claim {
  reachedAt(address: string): Promise<void>;
  letGo(): Promise<void>;
}

/**
 * Claims a folder for this process. Two programs on one folder would stop each other's database.
 * @returns the claim, or where the living one runs (null while it is still starting)
 */
export async function claimFolder(folder: string): Promise<{ claim: Claim } | { runsAt: string | null }> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const path = join(folder, 'running.json');
  const own: Holder = { pid: process.pid, begun: (await begunOf(process.pid)) ?? '', address: null };
  const write = async (holder: Holder, flag: 'wx' | 'w'): Promise<void> => {
    const file = await open(path, flag, 0o600);
    try {
      await file.writeFile(JSON.stringify(holder));
    } finally {
      await file.close();
    }
  };
  for (let tries = 0; ; tries++) {
    try {
      await write(own, 'wx');
      return {
        claim: { reachedAt: (address) => write({ ...own, address }, 'w'), letGo: () => rm(path, { force: true }) },
      };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST' || tries > 5) throw error;
    }
    const holder = await readFile(path, 'utf8')
      .then((text) => JSON.parse(text) as Holder)
      .catch(() => null);
    if (holder && (await begunOf(holder.pid)) === holder.begun) return { runsAt: holder.address };
    // Its owner was killed, or died while writing it.
    await rm(path, { force: true });
  }
}
