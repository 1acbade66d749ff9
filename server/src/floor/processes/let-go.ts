import { setImmediate } from 'node:timers/promises';

/**
 * Lets go of pictures that nobody names any more, before others are made that are as large. What libraries hold is
 * freed a turn after it was found to be unused.
 */
export async function letGo(): Promise<void> {
  (globalThis as { gc?: () => void }).gc?.();
  await setImmediate();
}
