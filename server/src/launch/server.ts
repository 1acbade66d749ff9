import { StartError } from '../floor/basics/start-error.js';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { createApp } from '../app/app.js';
import type { GuestLimits } from '../floor/http/guest-guards.js';
import { openHouse, type House } from '../app/house.js';
import type { RenderPools } from '../render/render-pools.js';
import type { Log } from '../floor/basics/log.js';
import type { OutsidePlaces } from '../floor/outside/line.js';
import type { DiskGuard } from '../floor/files/disk.js';

export interface ServerOptions {
  readonly databaseUrl: string;
  readonly ownerUrl?: string;
  readonly log?: Log;
  readonly disk?: DiskGuard;
  readonly cache: string;
  readonly blanks: string;
  readonly page: string | null;
  /** 0 for any free port. */
  readonly port: number;
  readonly host?: string;
  readonly hosts?: readonly string[];
  readonly password?: string;
  readonly proxy?: string;
  /** See `createApp`. A token has at least 16 letters. */
  readonly metrics?: string;
  readonly exporters?: number;
  /** False for a server that leaves the queue to other workers. */
  readonly work?: boolean;
  readonly mostUploadBytes?: number;
  /** See `createApp`. */
  readonly checkAnswers?: boolean;
  /** How often guests may do what; as usual when absent. */
  readonly guestLimits?: GuestLimits;
  /** Where markets are reached. */
  readonly markets?: OutsidePlaces;
  /** Processes that are shared with other servers on the same cache. */
  readonly pools?: RenderPools;
  /** What is done before anybody is answered. */
  readonly prepare?: (house: House) => Promise<void>;
}

export interface RunningServer {
  readonly address: string;
  readonly house: House;
  stop(): Promise<void>;
}

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1']);

/** Starts the application on a MariaDB that already answers. */
export async function startServer({
  databaseUrl,
  ownerUrl,
  cache,
  blanks,
  page,
  port,
  host = '127.0.0.1',
  hosts = [],
  password,
  proxy,
  metrics,
  work = true,
  mostUploadBytes,
  log,
  disk,
  exporters,
  markets,
  guestLimits,
  checkAnswers,
  pools,
  prepare,
}: ServerOptions): Promise<RunningServer> {
  if (!LOOPBACK.has(host) && !password)
    throw new StartError('To listen beyond this machine, set KETTLE_PASSWORD first.');
  // Other names than this machine's own are reached through a proxy, by anybody.
  if (hosts.length && !password)
    throw new StartError(
      'KETTLE_NAMES makes this server reachable under other names, by whoever reaches the proxy in front of it. Set KETTLE_PASSWORD first.',
    );
  if (metrics && metrics !== '1' && metrics.length < 16)
    throw new StartError('KETTLE_METRICS is 1, or a token of at least 16 letters.');
  const house = await openHouse({
    databaseUrl,
    ownerUrl,
    cache,
    blanks,
    mostUploadBytes,
    log,
    disk,
    exporters,
    markets,
    pools,
  });
  let server: Server;
  try {
    await prepare?.(house);
    server = createServer(
      await createApp(house, {
        page,
        hosts: LOOPBACK.has(host) ? hosts : [host, ...hosts],
        password,
        proxy,
        metrics,
        guestLimits,
        checkAnswers,
      }),
    );
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, host, resolve);
    });
  } catch (error) {
    // Nothing of a start that failed goes on.
    await house.close();
    throw error;
  }
  if (work) house.workers.start();
  house.keeper.start();
  const found = server.address() as AddressInfo;
  return {
    address: `http://${host === '127.0.0.1' ? 'localhost' : host}:${found.port}`,
    house,
    async stop() {
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      // The step in hand is drawn to its end or given back by its lease; the render processes stop either way.
      const stopped = house.workers.stop();
      await Promise.race([stopped, new Promise((resolve) => setTimeout(resolve, 2000))]);
      await house.close();
    },
  };
}
