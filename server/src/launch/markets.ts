import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { MarketPlaces } from '../markets/markets.js';
import { ROOT } from './places.js';

/** The simulated markets as they run beside the demo. */
export interface RunningMarkets {
  readonly places: MarketPlaces;
  /** Says where their own answers go. */
  answerTo(address: string): void;
  stop(): void;
}

const START = join(ROOT, 'stand-ins/dist/start.js');
/** How long they may take to begin, ms. */
const PATIENCE = 15_000;

/**
 * Starts the simulated markets in a process of their own: strangers, reached over HTTP, with keys that are made anew each time.
 * Null when they do not begin: then no market is connected.
 */
export async function startMarkets(): Promise<RunningMarkets | null> {
  if (!existsSync(START)) return null;
  const [token, secret] = [randomBytes(18).toString('base64url'), randomBytes(24).toString('base64url')];
  const child = fork(START, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { PATH: process.env['PATH'], STAND_IN_TOKEN: token, STAND_IN_SECRET: secret },
  });
  const at = await new Promise<{ larkpost: string; quillmere: string } | null>((resolve) => {
    child.once('message', (message) => resolve(message as { larkpost: string; quillmere: string }));
    child.once('exit', () => resolve(null));
    child.once('error', () => resolve(null));
    setTimeout(() => resolve(null), PATIENCE).unref();
  });
  if (!at) {
    child.kill();
    return null;
  }
  return {
    places: new Map([
      ['one-call', { address: at.larkpost, token, secret }],
      ['ticket', { address: at.quillmere, token, secret }],
    ]),
    answerTo: (address) => {
      if (child.connected) child.send({ answersTo: `${address}/answers/ticket` });
    },
    stop: () => {
      if (child.connected) child.disconnect();
    },
  };
}
