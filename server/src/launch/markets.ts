import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { OutsidePlaces } from '../floor/outside/line.js';
import { ROOT } from '../floor/files/shipped.js';

/** The simulated markets and print shops as they run beside the demo. */
export interface RunningMarkets {
  readonly places: OutsidePlaces;
  /** Says where their own answers go. */
  answerTo(address: string): void;
  stop(): void;
}

/** Where they are. */
interface StandIns {
  readonly larkpost: string;
  readonly quillmere: string;
  readonly hobnail: string;
  readonly seamwide: string;
}

const START = join(ROOT, 'stand-ins/dist/start.js');
/** Seconds between two simulated shoppers. */
const SHOPPERS = '45';

/**
 * Starts the simulated markets and print shops in a process of their own: strangers, reached over HTTP, with keys that are made anew each time.
 * Null when they end before they have begun: then no market is connected.
 */
export async function startMarkets(): Promise<RunningMarkets | null> {
  if (!existsSync(START)) return null;
  const [token, secret] = [randomBytes(18).toString('base64url'), randomBytes(24).toString('base64url')];
  const child = fork(START, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      PATH: process.env['PATH'],
      STAND_IN_TOKEN: token,
      STAND_IN_SECRET: secret,
      STAND_IN_SHOPPERS: process.env['STAND_IN_SHOPPERS'] ?? SHOPPERS,
    },
  });
  const at = await new Promise<StandIns | null>((resolve) => {
    child.once('message', (message) => resolve(message as StandIns));
    child.once('exit', () => resolve(null));
    child.once('error', () => resolve(null));
  });
  if (!at) {
    child.kill();
    return null;
  }
  return {
    places: new Map([
      ['one-call', { address: at.larkpost, token, secret }],
      ['ticket', { address: at.quillmere, token, secret }],
      ['print-shop', { address: at.hobnail, token, secret }],
      ['transfer-shop', { address: at.seamwide, token, secret }],
    ]),
    answerTo: (address) => {
      if (child.connected) child.send({ answersTo: `${address}/answers` });
    },
    stop: () => {
      if (child.connected) child.disconnect();
    },
  };
}
