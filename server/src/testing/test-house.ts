import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Job } from '@kettle/contract';
import {
  emptyDesign,
  SAME_SIZE_TOP,
  type DesignDocument,
  type PictureLayer,
  type RequirementFields,
} from '@kettle/core/model';
import { openPools, poolsOf, type RenderPools } from '../render/render-pools.js';
import { startMariaDb, type RunningMariaDb } from '../launch/mariadb.js';
import { ownFolder } from '../launch/own-folder.js';
import { BLANKS } from '../floor/files/shipped.js';
import { startServer, type RunningServer, type ServerOptions } from '../launch/server.js';
import { databaseFolder, FreshDatabases } from './fresh-databases.js';

let mariaDb: Promise<RunningMariaDb> | null = null;
let databases: FreshDatabases | null = null;
let pools: Promise<RenderPools> | null = null;
let folder = '';
let databasesIn = '';

/** The MariaDB of this test run, started on first use and stopped when the process ends. */
export async function testMariaDb(): Promise<RunningMariaDb> {
  mariaDb ??= (async () => {
    folder = await ownFolder(tmpdir(), 'kettle-test');
    databasesIn = await databaseFolder();
    const running = await startMariaDb(databasesIn, { quick: true });
    databases = new FreshDatabases(running.rootUrl);
    return running;
  })();
  return mariaDb;
}

afterAll(async () => {
  if (pools) for (const pool of poolsOf(await pools)) pool.close();
  const running = await mariaDb;
  [mariaDb, pools] = [null, null];
  await running?.stop();
  for (const one of [folder, databasesIn]) if (one) await rm(one, { recursive: true, force: true });
});

/** Address of a database that holds nothing at all. */
export const emptyDatabase = (): Promise<string> => testMariaDb().then(() => databases!.empty());

/** Address of a database that holds nothing but its layout. */
export const freshDatabase = (): Promise<string> => testMariaDb().then(() => databases!.fresh());

export const freshFolder = (): Promise<string> => testMariaDb().then(() => mkdtemp(join(folder, 'case-')));

/** The processes that all servers of this run draw with, and their folder of local copies. */
async function sharedPools(): Promise<{ cache: string; pools: RenderPools }> {
  await testMariaDb();
  const cache = join(folder, 'shared-copies');
  pools ??= openPools(cache);
  return { cache, pools: await pools };
}

/** A server on a database of its own. With a `cache` or `exporters` of its own, its processes are its own too. */
export async function testServer(options: Partial<ServerOptions> = {}): Promise<RunningServer> {
  return startServer({
    databaseUrl: options.databaseUrl ?? (await freshDatabase()),
    ...(options.cache || options.exporters ? { cache: await freshFolder() } : await sharedPools()),
    blanks: BLANKS,
    page: null,
    port: 0,
    checkAnswers: true,
    ...options,
  });
}

/** A small requirement: 2 × 2.4 in at 100 DPI, so 200 × 240 px. */
export const smallTee = (change: Partial<RequirementFields> = {}): RequirementFields => ({
  channel: 'Larkpost Market',
  name: 'Small tee',
  product: 'T-shirt',
  width: 2,
  height: 2.4,
  unit: 'in',
  dpi: 100,
  mode: 'rgb',
  transparency: 'required',
  fileTypes: ['png'],
  maxBytes: 5_000_000,
  sizeRule: 'exact',
  safeInsetMm: 2,
  placement: SAME_SIZE_TOP,
  colourways: [
    { name: 'Harbour', hex: '#1F2B4D' },
    { name: 'Chalk', hex: '#F5F3EE' },
  ],
  note: '',
  ...change,
});

/**
 * A design with one picture of 25.4 × 25.4 mm, its top left corner 12.7 mm from the left and the top of a field as
 * large as {@link smallTee}.
 */
export function smallDesign(
  assetId: string,
  requirementIds: readonly string[],
  place: Partial<PictureLayer['place']> = {},
): DesignDocument {
  return {
    ...emptyDesign('Fog Signal', { width: 50.8, height: 60.96 }),
    targets: requirementIds.map((requirementId) => ({ requirementId })),
    layers: [
      {
        kind: 'picture',
        id: 'one',
        name: 'Lighthouse',
        assetId,
        opacity: 1,
        hidden: false,
        place: { x: 25.4, y: 25.4, width: 25.4, height: 25.4, turn: 0, flipX: false, flipY: false, ...place },
      },
    ],
  };
}

/** Calls the server and answers status and JSON body. */
export function caller(address: string) {
  return async (
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
    // eslint-disable-next-line @typescript-eslint/no-explicit-any
  ): Promise<{ status: number; body: any; headers: Headers }> => {
    const raw = body instanceof Uint8Array;
    const response = await fetch(address + path, {
      method,
      headers: { ...(body && !raw ? { 'Content-Type': 'application/json' } : {}), ...headers },
      body: raw ? Buffer.from(body) : body === undefined ? undefined : JSON.stringify(body),
    });
    const text = await response.text();
    return {
      status: response.status,
      headers: response.headers,
      body: /json/.test(response.headers.get('Content-Type') ?? '') ? JSON.parse(text) : text,
    };
  };
}

/** Asks until the condition holds; fails with the last answer after a generous time. */
export async function until<T>(ask: () => Promise<T>, holds: (value: T) => boolean, seconds = 300): Promise<T> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const value = await ask();
    if (holds(value)) return value;
    if (Date.now() > end)
      throw new Error(`Waited ${seconds} s in vain; the last answer was ${JSON.stringify(value).slice(0, 400)}`);
    await new Promise((resolve) => setTimeout(resolve, 40));
  }
}

export const isOver = (job: Job): boolean => !['queued', 'running', 'paused'].includes(job.state);

/** A design with art and a target, of which nothing is made. */
export async function readyDesign(
  call: ReturnType<typeof caller>,
  change: Partial<RequirementFields> = {},
): Promise<{ readonly id: string; readonly requirementId: string }> {
  const art = Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><circle cx="4.5" cy="4.5" r="4.5" fill="#f2bd4b"/></svg>',
  );
  const asset = await call('POST', '/api/assets', art, { 'Content-Type': 'image/svg+xml', 'X-Filename': 'disc.svg' });
  const requirementId = (await call('POST', '/api/requirements', smallTee(change))).body.id as string;
  const id = (await call('POST', '/api/designs', smallDesign(asset.body.id, [requirementId]))).body.id as string;
  return { id, requirementId };
}

/** A design with its print file and a listing picture made: ready to be handed to anybody. */
export async function finishedDesign(
  call: ReturnType<typeof caller>,
  change: Partial<RequirementFields> = {},
): Promise<{ readonly id: string; readonly requirementId: string }> {
  const { id, requirementId } = await readyDesign(call, change);
  await made(call, `/api/designs/${id}/print-files`, { requirementIds: [requirementId] });
  await made(call, `/api/designs/${id}/pictures`, {
    blankId: 'tee-front',
    requirementId,
    colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
    size: 1200,
    format: 'jpeg',
  });
  return { id, requirementId };
}

/** Asks for something to be made and waits until it is. */
export async function made(call: ReturnType<typeof caller>, path: string, body?: unknown): Promise<Job> {
  const { status, body: answer } = await call('POST', path, body);
  if (status !== 202) throw new Error(`${path}: ${status} ${JSON.stringify(answer)}`);
  const job = await until(async () => (await call('GET', `/api/jobs/${answer.jobId}`)).body as Job, isOver);
  if (job.state !== 'done') throw new Error(`${path}: ${job.state} ${job.message}`);
  return job;
}

/** One server for all specifications of a suite, which is stopped after the last, and a way to call it. */
export function serverForAll(options: Partial<ServerOptions> = {}) {
  let started: RunningServer;
  beforeAll(async () => {
    started = await testServer(options);
  });
  afterAll(() => started.stop());
  const server: RunningServer = {
    get address() {
      return started.address;
    },
    get house() {
      return started.house;
    },
    stop: () => started.stop(),
  };
  const call: ReturnType<typeof caller> = (...of) => caller(started.address)(...of);
  return { server, call };
}

/** A yellow disc on nothing, a drawing of 100 units each way. */
export const DISC = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><circle cx="50" cy="50" r="50" fill="#f2bd4b"/></svg>',
);
