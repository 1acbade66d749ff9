import { existsSync } from 'node:fs';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';

/**
 * A new folder of this process, `name-pid-…`. Those of the same name whose process was killed before it could take them
 * away are taken away first.
 * @param name letters and hyphens
 */
export async function ownFolder(parent: string, name: string): Promise<string> {
  const ours = new RegExp(`^${name}-(\\d+)-`);
  for (const one of await readdir(parent)) {
    const pid = ours.exec(one)?.[1];
    if (pid && !existsSync(`/proc/${pid}`)) await rm(join(parent, one), { recursive: true, force: true });
  }
  return mkdtemp(join(parent, `${name}-${process.pid}-`));
}
