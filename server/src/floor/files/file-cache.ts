import { mkdir, stat, utimes } from 'node:fs/promises';
import { dirname } from 'node:path';
import { asker } from '../safety/asker.js';

/** How old the last use of a file may be before another one is written down: the keeper goes by it. */
const USED_MS = 3_600_000;

interface Making {
  readonly done: Promise<void>;
  readonly left: AbortController;
  /** How many still wait for it. */
  waiting: number;
}

/**
 * Small files that are made when they are first asked for. Two who ask at once wait for the same making; what nobody
 * waits for any more is not begun.
 */
export class FileCache {
  private readonly making = new Map<string, Making>();

  /**
   * Path of the file, made by `make` when it is not there.
   * @param make is told by its signal when everybody who waited has left
   */
  async path(path: string, make: (left: AbortSignal) => Promise<unknown>): Promise<string> {
    const found = await stat(path).catch(() => null);
    if (found) {
      const now = new Date();
      if (now.getTime() - found.mtimeMs > USED_MS) await utimes(path, now, now).catch(() => undefined);
      return path;
    }
    const before = this.making.get(path);
    if (before?.left.signal.aborted) {
      await before.done.catch(() => undefined);
      return this.path(path, make);
    }
    const one = before ?? this.begin(path, make);
    await this.waitFor(one);
    return path;
  }

  private begin(path: string, make: (left: AbortSignal) => Promise<unknown>): Making {
    const left = new AbortController();
    // What it asks for itself is waited for as long as somebody waits for it.
    const done = asker
      .run(left.signal, () => mkdir(dirname(path), { recursive: true }).then(() => make(left.signal)))
      .then(() => undefined)
      .finally(() => this.making.delete(path));
    const one = { done, left, waiting: 0 };
    this.making.set(path, one);
    return one;
  }

  private async waitFor(one: Making): Promise<void> {
    const signal = asker.getStore();
    one.waiting++;
    const leave = (): void => {
      if (--one.waiting === 0) one.left.abort();
    };
    if (signal?.aborted) leave();
    else signal?.addEventListener('abort', leave);
    await one.done.finally(() => signal?.removeEventListener('abort', leave));
  }
}
