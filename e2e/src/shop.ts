import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { emptyDesign, SAME_SIZE_TOP } from '@kettle/core/model';
import { Database, type RunningServer } from '@kettle/server';
import { ART, expect, openMarkets, serve, type Stage } from './kettle.js';

const WORKER = join(import.meta.dirname, '../../server/dist/worker.js');
/** What the listing of the finished design says. */
export const TEXT =
  'A disc and a square for everybody who keeps a gauge at the end of the garden and looks at it before breakfast.';

/** A shop with one finished design, and both markets and the print shop beside it. */
export class Shop {
  app!: RunningServer;
  designId = '';
  private assetId = '';
  targets: readonly string[] = [];
  private worker: ChildProcess | null = null;

  private constructor(
    private readonly stage: Stage,
    private readonly databaseUrl: string,
    private readonly markets: Awaited<ReturnType<typeof openMarkets>>,
  ) {}

  get larkpost() {
    return this.markets.larkpost;
  }

  get hobnail() {
    return this.markets.hobnail;
  }

  get quillmere() {
    return this.markets.quillmere;
  }

  /**
   * @param works whether the application itself does what is in the queue
   * @param channels that the design has a target of
   */
  static async open(stage: Stage, works: boolean, channels = ['Larkpost Market', 'Quillmere Shops']): Promise<Shop> {
    const databaseUrl = await stage.databases.fresh();
    const shop: Shop = new Shop(stage, databaseUrl, await openMarkets(() => shop.app.address));
    shop.app = await serve(stage, { databaseUrl, markets: shop.markets.places, work: works });
    if (!works) await shop.work();
    await shop.fill(channels);
    return shop;
  }

  async call<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<T> {
    const raw = Buffer.isBuffer(body);
    const response = await fetch(`${this.app.address}${path}`, {
      method,
      headers: { ...(raw ? {} : { 'Content-Type': 'application/json' }), ...headers },
      body: raw ? (body as unknown as string) : body === undefined ? undefined : JSON.stringify(body),
    });
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
    return (text ? JSON.parse(text) : {}) as T;
  }

  private async fill(channels: readonly string[]): Promise<void> {
    const asset = await this.call<{ id: string }>('POST', '/api/assets', ART, {
      'Content-Type': 'image/svg+xml',
      'X-Filename': 'art.svg',
    });
    const requirement = (channel: string) =>
      this.call<{ id: string }>('POST', '/api/requirements', {
        channel,
        name: 'Small tee',
        product: 'T-shirt',
        width: 2,
        height: 2.4,
        unit: 'in',
        // The print shop's heads want more than the markets do.
        dpi: channel === 'Hobnail Direct Print' ? 200 : 100,
        mode: 'rgb',
        transparency: 'required',
        fileTypes: ['png'],
        maxBytes: 5_000_000,
        sizeRule: 'exact',
        safeInsetMm: 2,
        placement: SAME_SIZE_TOP,
        colourways: [{ name: 'Harbour', hex: '#1F2B4D' }],
        note: '',
      });
    this.targets = await Promise.all(channels.map(async (channel) => (await requirement(channel)).id));
    this.assetId = asset.id;
    this.designId = await this.design('Rain Gauge Regulars');
  }

  /** A finished design: its print files and two pictures are made. */
  async design(name: string): Promise<string> {
    const { id } = await this.call<{ id: string }>('POST', '/api/designs', {
      ...emptyDesign(name, { width: 50.8, height: 60.96 }),
      targets: this.targets.map((requirementId) => ({ requirementId })),
      layers: [
        {
          kind: 'picture',
          id: 'one',
          name: 'Art',
          assetId: this.assetId,
          opacity: 1,
          hidden: false,
          place: { x: 25.4, y: 25.4, width: 40, height: 20, turn: 0, flipX: false, flipY: false },
        },
      ],
    });
    await this.make(id);
    return id;
  }

  /** Makes its print files and two pictures. */
  async make(id: string): Promise<void> {
    const jobs = [
      await this.call<{ jobId: string }>('POST', `/api/designs/${id}/print-files`, { requirementIds: this.targets }),
      await this.call<{ jobId: string }>('POST', `/api/designs/${id}/pictures`, {
        blankId: 'tee-front',
        colourways: ['#1F2B4D', '#F5F3EE'].map((hex) => ({ name: hex, hex })),
        size: 1200,
        format: 'jpeg',
      }),
    ];
    for (const { jobId } of jobs)
      await expect
        .poll(async () => (await this.call<{ state: string }>('GET', `/api/jobs/${jobId}`)).state)
        .toBe('done');
  }

  /** Starts a worker of its own, which can be killed. */
  async work(): Promise<ChildProcess> {
    const worker = spawn(process.execPath, [WORKER], {
      stdio: ['ignore', 'pipe', 'inherit'],
      env: {
        ...process.env,
        KETTLE_DB_URL: this.databaseUrl,
        KETTLE_CACHE: join(this.stage.folder, 'worker'),
        KETTLE_MARKETS: JSON.stringify(Object.fromEntries(this.markets.places)),
        KETTLE_EXPORTERS: '1',
      },
    });
    this.worker = worker;
    await once(worker.stdout, 'data');
    return worker;
  }

  /** Kills the worker, without a word. */
  async kill(): Promise<void> {
    if (!this.worker) return;
    const { worker } = this;
    this.worker = null;
    if (worker.exitCode === null && worker.signalCode === null) {
      worker.kill('SIGKILL');
      await once(worker, 'exit');
    }
    // Its lease would run out by itself, later.
    const database = new Database(this.databaseUrl);
    await database.change("UPDATE job SET lease_until = '2000-01-01' WHERE state = 'running'");
    await database.close();
  }

  async checks() {
    return (await this.call<{ checks: readonly Check[] }>('GET', `/api/designs/${this.designId}/listing`)).checks;
  }

  async stateOn(rulesId: string): Promise<string | undefined> {
    return (await this.checks()).find((one) => one.rulesId === rulesId)?.publication?.state;
  }

  /** A listing that both markets would take. */
  async write(): Promise<void> {
    const { savedRevision: revision, fields } = await this.call<{ savedRevision: number; fields: object }>(
      'GET',
      `/api/designs/${this.designId}/listing`,
    );
    const costs = (await this.call<Check[]>('GET', '/api/requirements')) as unknown as { id: string }[];
    await this.call(
      'PUT',
      `/api/designs/${this.designId}/listing`,
      {
        ...fields,
        description: TEXT,
        tags: ['rain', 'gauge', 'garden'],
        products: Object.fromEntries(costs.map(({ id }) => [id, { cost: 900 }])),
      },
      { 'If-Match': `"${revision}"` },
    );
  }

  async close(): Promise<void> {
    await this.kill();
    await this.app.stop();
    this.markets.close();
  }
}

export interface Check {
  readonly rulesId: string;
  readonly changed: readonly string[];
  readonly publication: { readonly id: string; readonly state: string; readonly reasons: { text: string }[] } | null;
}
