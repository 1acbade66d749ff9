import { rename, rm } from 'node:fs/promises';

let written = 0;

/**
 * Writes a file that is there whole or not at all, whoever else writes the same one meanwhile: it comes under a name of
 * its own, ending in `.part`, and is moved to its place once it is whole.
 * @param write writes it to the path it is given
 * @throws whatever kept it from being written; nothing of it is left then
 */
export async function wholeFile<T>(path: string, write: (coming: string) => Promise<T>): Promise<T> {
  const coming = `${path}.${process.pid}-${++written}.part`;
  try {
    const answer = await write(coming);
    await rename(coming, path);
    return answer;
  } catch (error) {
    await rm(coming, { force: true }).catch(() => undefined);
    throw error;
  }
}
