import { readFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';

/** Share of the machine's cores that others keep busy before a part, from which on its figures are not to be judged. */
const TOO_BUSY = 0.15;
const LOOK_MS = 1500;

/** Ticks of all cores so far: idle ones, and all. */
async function ticks(): Promise<{ idle: number; all: number }> {
  const fields = (await readFile('/proc/stat', 'utf8')).split('\n')[0].trim().split(/\s+/).slice(1).map(Number);
  return { idle: fields[3] + fields[4], all: fields.slice(0, 8).reduce((sum, one) => sum + one, 0) };
}

/** Share of the machine that is busy with something else, while this process waits. 0 to 1. */
export async function busyShare(): Promise<number> {
  const before = await ticks();
  await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  const after = await ticks();
  return Math.max(0, 1 - (after.idle - before.idle) / Math.max(1, after.all - before.all));
}

/** What is said of a part that was measured on a busy machine, or null. */
export const tooBusy = (share: number): string | null =>
  share <= TOO_BUSY
    ? null
    : `The machine was too busy to judge: ${Math.round(share * availableParallelism() * 10) / 10} of its ${availableParallelism()} cores were at work for others before this part began.`;
