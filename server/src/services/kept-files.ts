import { mkdir, stat } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Small files that are made when they are first asked for. Two who ask at once wait for the same making. */
export class KeptFiles {
  private readonly making = new Map<string, Promise<void>>();

  /** Path of the file, made by `make` when it is not there. */
  async path(path: string, make: () => Promise<unknown>): Promise<string> {
    if (await stat(path).then(() => true, () => false)) return path;
    let one = this.making.get(path);
    if (!one) {
      one = mkdir(dirname(path), { recursive: true }).then(make).then(() => undefined).finally(() => this.making.delete(path));
      this.making.set(path, one);
    }
    await one;
    return path;
  }
}
