import { StartError } from '../floor/basics/start-error.js';
import { existsSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { join } from 'node:path';
import { ROOT } from '../floor/files/shipped.js';
import { isAlive } from './running.js';

const LOOKS_EVERY_MS = 50;

/** The process that builds the page while everything else is got ready; 0 for none, when the page is built already. */
export class PageBuild {
  constructor(private readonly pid: number) {}

  /** Waits for the page as long as it takes. @throws Error when it could not be built */
  async done(signal: AbortSignal): Promise<void> {
    if (!this.pid) return;
    while (await isAlive(this.pid)) await pause(LOOKS_EVERY_MS, undefined, { signal });
    if (!existsSync(join(ROOT, 'var/built-page')))
      throw new StartError('The page could not be built. Why stands above, and in var/page.log.');
  }

  end(): void {
    try {
      if (this.pid) process.kill(this.pid, 'SIGTERM');
    } catch {
      // It has ended by itself.
    }
  }
}
