import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { createApp } from '../app.js';
import { openHouse, type House } from '../house.js';

export interface ServerOptions {
  readonly databaseUrl: string;
  readonly cache: string;
  readonly blanks: string;
  readonly page: string | null;
  /** 0 for any free port. */
  readonly port: number;
  readonly host?: string;
  readonly hosts?: readonly string[];
  readonly password?: string;
  /** False for a server that leaves the queue to other workers. */
  readonly work?: boolean;
  readonly mostUploadBytes?: number;
}

export interface RunningServer {
  readonly address: string;
  readonly house: House;
  stop(): Promise<void>;
}

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1']);

/** Starts the application on a MariaDB that already answers. */
export async function startServer({ databaseUrl, cache, blanks, page, port, host = '127.0.0.1', hosts = [], password, work = true, mostUploadBytes }: ServerOptions): Promise<RunningServer> {
  if (!LOOPBACK.has(host) && !password) throw new Error('To listen beyond this machine, set KETTLE_PASSWORD first.');
  const house = await openHouse({ databaseUrl, cache, blanks, mostUploadBytes });
  const server = createServer(createApp(house, { page, hosts: LOOPBACK.has(host) ? hosts : [host, ...hosts], password }));
  await new Promise<void>((resolve, reject) => { server.once('error', reject); server.listen(port, host, resolve); });
  if (work) house.worker.start();
  const found = server.address() as AddressInfo;
  return {
    address: `http://${host === '127.0.0.1' ? 'localhost' : host}:${found.port}`, house,
    async stop() {
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      // The step in hand is drawn to its end or given back by its lease; the render processes stop either way.
      const stopped = house.worker.stop();
      await Promise.race([stopped, new Promise((resolve) => setTimeout(resolve, 2000))]);
      await house.close();
    },
  };
}
