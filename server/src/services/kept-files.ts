import { mkdir, stat, utimes } from 'node:fs/promises';
import { dirname } from 'node:path';

/** How old the last use of a file may be before another one is written down: the keeper goes by it. */
const USED_MS = 3_600_000;

/** Small files that are made when they are first asked for. Two who ask at once wait for the same making. */
export class KeptFiles {
  private readonly making = new Map<string, Promise<void>>();

  /** Path of the file, made by `make` when it is not there. */
  async path(path: string, make: () => Promise<unknown>): Promise<string> {
    const found = await stat(path).catch(() => null);
    if (found) {
      const now = new Date();
      if (now.getTime() - found.mtimeMs > USED_MS) await utimes(path, now, now).catch(() => undefined);
      return path;
    }
    let one = this.making.get(path);
    if (!one) {
      one = mkdir(dirname(path), { recursive: true })
        .then(make)
        .then(() => undefined)
        .finally(() => this.making.delete(path));
      this.making.set(path, one);
    }
    await one;
    return path;
  }
}
