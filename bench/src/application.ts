import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import {
  BLANKS,
  Database,
  loadDesigns,
  loadRequirements,
  PAGE,
  startMariaDb,
  startServer,
  type RunningServer,
} from '@kettle/server';

const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-quic',
];

/** The application on a database of its own, as a part of the bench needs it. */
export interface Application {
  readonly folder: string;
  readonly rootUrl: string;
  /** Address of a new, empty database. */
  create(name: string): Promise<string>;
  serve(name: string, work?: boolean): Promise<RunningServer>;
  /** A server with the demo's data, all of its files made. */
  demo(): Promise<RunningServer>;
  page(): Promise<Page>;
}

/** Gives the application to `use` and takes everything away afterwards. */
export async function withApplication<T>(use: (application: Application) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'kettle-bench-'));
  const mariaDb = await startMariaDb(join(folder, 'mariadb'), { quick: true });
  const servers: RunningServer[] = [];
  const browser = await chromium.launch({
    executablePath: process.env['CHROME_BIN'] ?? '/usr/bin/chromium',
    args: ARGS,
  });
  const create = async (name: string): Promise<string> => {
    const root = new Database(mariaDb.rootUrl);
    await root.rowsOnce(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`, []);
    await root.close();
    return mariaDb.rootUrl.replace(/\/kettle$/, `/${name}`);
  };
  const serve = async (name: string, work = true): Promise<RunningServer> => {
    const server = await startServer({
      databaseUrl: await create(name),
      cache: join(folder, name),
      blanks: BLANKS,
      page: PAGE,
      port: 0,
      work,
    });
    servers.push(server);
    return server;
  };
  const demo = async (): Promise<RunningServer> => {
    const server = await serve('kettle_demo');
    await loadRequirements(server.house);
    await loadDesigns(server.house);
    while ((await server.house.jobs.lively(1)).some(({ job }) => job.state === 'queued' || job.state === 'running'))
      await new Promise((resolve) => setTimeout(resolve, 100));
    return server;
  };
  try {
    return await use({
      folder,
      rootUrl: mariaDb.rootUrl,
      create,
      serve,
      demo,
      page: () => browser.newPage({ viewport: { width: 1280, height: 800 } }),
    });
  } finally {
    await browser.close();
    for (const server of servers) await server.stop().catch(() => undefined);
    await mariaDb.stop();
    await rm(folder, { recursive: true, force: true });
  }
}
