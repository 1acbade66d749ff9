import { SELLER } from '@kettle/server';
import { mkdtemp } from 'node:fs/promises';
import { once } from 'node:events';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { test as base, expect, type Page } from '@playwright/test';
import {
  BLANKS,
  PAGE,
  loadRequirements,
  openPools,
  poolsOf,
  startServer,
  unpackDemo,
  type RenderPools,
  type RunningServer,
} from '@kettle/server';
import { FreshDatabases } from '@kettle/server/testing';
import {
  createLarkpost,
  Faults,
  HOBNAIL,
  openLarkpost,
  PrintShop,
  Quillmere,
  SEAMWIDE,
  type Trade,
} from '@kettle/stand-ins';
import type { PrintShopWay } from '@kettle/core/orders';
import type { Express } from 'express';
import { shared } from './shared.js';

export interface Stage {
  readonly databases: FreshDatabases;
  readonly folder: string;
  /** Processes that all servers of this run draw with, and the folder of copies that they share. */
  readonly pools: RenderPools;
  readonly cache: string;
}

/**
 * A database for each test, an application per test (empty) or per run (with the demo), and the simulated marketplace.
 */
export const test = base.extend<{ app: RunningServer }, { stage: Stage; demo: RunningServer; larkpost: string }>({
  stage: [
    // eslint-disable-next-line no-empty-pattern
    async ({}, use) => {
      const { folder, rootUrl } = shared();
      const cache = join(folder, 'copies');
      const pools = await openPools(cache);
      await use({ databases: new FreshDatabases(rootUrl), folder, pools, cache });
      for (const pool of poolsOf(pools)) pool.close();
    },
    { scope: 'worker', timeout: 120_000 },
  ],

  demo: [
    async ({ stage }, use) => {
      let address = '';
      const markets = await openMarkets(() => address);
      const databaseUrl = await stage.databases.empty();
      await unpackDemo(databaseUrl, stage.cache);
      const server = await serve(stage, { databaseUrl, markets: markets.places });
      ({ address } = server);
      await use(server);
      await server.stop();
      markets.close();
    },
    { scope: 'worker', timeout: 180_000 },
  ],

  // `KETTLE_SLOW=4 bin/test e2e`: the page as on a machine that computes four times as slowly.
  page: async ({ page }, use) => {
    const times = Number(process.env['KETTLE_SLOW'] ?? 1);
    if (times > 1)
      await (await page.context().newCDPSession(page)).send('Emulation.setCPUThrottlingRate', { rate: times });
    lookFirst(page);
    await use(page);
  },

  app: async ({ stage }, use) => {
    const server = await serve(stage);
    await loadRequirements(server.house);
    await use(server);
    await server.stop();
  },

  larkpost: [
    // eslint-disable-next-line no-empty-pattern
    async ({}, use) => {
      const server = createLarkpost().listen(0, '127.0.0.1');
      await new Promise((resolve) => server.once('listening', resolve));
      await use(`http://127.0.0.1:${(server.address() as AddressInfo).port}`);
      server.close();
    },
    { scope: 'worker' },
  ],
});

/** The simulated markets and the print shop on ports of their own. @param shopAt address of the application, once it has one */
export async function openMarkets(shopAt: () => string) {
  const [token, secret] = ['a-shop', 'between-us'];
  const servers: Server[] = [];
  const listen = async (app: Express): Promise<string> => {
    const server = app.listen(0, '127.0.0.1');
    servers.push(server);
    await once(server, 'listening');
    return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  };
  let larkpostAt = '';
  const larkpost = openLarkpost({ token, address: () => larkpostAt, faults: new Faults() });
  const quillmere = new Quillmere({ token, secret, answersTo: () => `${shopAt()}/answers/ticket`, looksFor: 10 });
  larkpostAt = await listen(larkpost.app);
  const shopped = (trade: Trade, way: string): PrintShop =>
    new PrintShop(trade, { token, secret, answersTo: () => `${shopAt()}/answers/${way}`, looksFor: 10 });
  const hobnail = shopped(HOBNAIL, 'print-shop');
  const seamwide = shopped(SEAMWIDE, 'transfer-shop');
  const places = new Map<PrintShopWay | 'one-call' | 'ticket', { address: string; token: string; secret: string }>([
    ['one-call', { address: larkpostAt, token, secret }],
    ['ticket', { address: await listen(quillmere.app()), token, secret }],
    ['print-shop', { address: await listen(hobnail.app()), token, secret }],
    ['transfer-shop', { address: await listen(seamwide.app()), token, secret }],
  ]);
  return {
    larkpost,
    quillmere,
    hobnail,
    seamwide,
    places,
    close(): void {
      for (const server of servers) {
        server.closeAllConnections();
        server.close();
      }
    },
  };
}

/** A server on a database of its own. With a `cache` or `exporters` of its own, its processes are its own too. */
export const serve = async (
  { databases, folder, pools, cache }: Stage,
  more: Partial<Parameters<typeof startServer>[0]> = {},
): Promise<RunningServer> =>
  startServer({
    databaseUrl: more.databaseUrl ?? (await databases.fresh()),
    ...(more.cache || more.exporters ? { cache: await mkdtemp(join(folder, 'cache-')) } : { cache, pools }),
    blanks: BLANKS,
    page: PAGE,
    port: 0,
    ...more,
  });

export { expect };

/** A picture to work with: a disc and a square, so that left, right, top and bottom can be told. */
export const ART = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 100"><circle cx="50" cy="50" r="50" fill="#f2bd4b"/><rect x="120" y="10" width="80" height="80" fill="#e8e4da"/></svg>',
);
export const ART_FILE = { name: 'fog-signal.svg', mimeType: 'image/svg+xml', buffer: ART };

/** What was just done is seen: the page shows it one turn after it was done, and says what it said before until then. */
export const seen = (page: Page): Promise<void> =>
  page.evaluate(() => new Promise((resolve) => setTimeout(() => setTimeout(resolve))));

/** No hand presses before it has seen what it did last: {@link seen} comes before every press of a mouse or a key. */
function lookFirst(page: Page): void {
  const first = (of: object, names: readonly string[]): void => {
    for (const name of names) {
      const act = (Reflect.get(of, name) as (...given: unknown[]) => Promise<void>).bind(of);
      Reflect.set(of, name, async (...given: unknown[]) => {
        // A page that goes away shows nothing any more.
        await seen(page).catch(() => undefined);
        return act(...given);
      });
    }
  };
  first(page.mouse, ['click', 'dblclick', 'down', 'up']);
  first(page.keyboard, ['press', 'down']);
}

/** Waits until what was just done is saved. */
export async function saved(page: Page): Promise<void> {
  await seen(page);
  await expect(page.locator('.stations small')).toHaveText(/^saved /);
}

/** Answers the question what an empty canvas is for. */
export async function chooseCanvas(page: Page, name = 'Tee, front'): Promise<void> {
  await page.getByRole('dialog').getByRole('button', { name }).first().click();
}

/** Opens a fresh design made of {@link ART} and waits until it is drawn and saved. */
export async function openNewDesign(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await page.locator('ks-sheet-page input[aria-label="Artwork files"]').setInputFiles(ART_FILE);
  await expect(page.locator('.stations h1')).toHaveText('Fog signal');
  await expect(page.locator('.paper')).toBeVisible();
  await saved(page);
}

export const openDemo = async (page: Page, demo: RunningServer, name: string, station: string): Promise<string> => {
  const design = (await demo.house.designs.list(SELLER)).find((one) => one.document.name === name)!;
  await page.goto(`${demo.address}/designs/${design.id}/${station}`);
  await expect(page.locator('.stations h1')).toHaveText(name);
  return design.id;
};

const copies: { readonly demo: RunningServer; readonly id: string }[] = [];

/** Takes away what {@link openCopy} made: other tests count the designs of the demo. */
export async function forgetCopies(): Promise<void> {
  for (const { demo, id } of copies.splice(0)) await demo.house.designs.remove(SELLER, id);
}

/**
 * Opens a copy of a demo design, so that what a test does to it is nobody else’s. Call {@link forgetCopies} after each
 * test.
 */
export async function openCopy(page: Page, demo: RunningServer, name: string, station: string): Promise<string> {
  const found = (await demo.house.designs.list(SELLER)).find((one) => one.document.name === name)!;
  const { document } = await demo.house.designs.get(SELLER, found.id);
  const { id } = await demo.house.designs.add(SELLER, { ...document, name: `${name}, a copy` });
  copies.push({ demo, id });
  await page.goto(`${demo.address}/designs/${id}/${station}`);
  await expect(page.locator('.stations h1')).toHaveText(`${name}, a copy`);
  return id;
}

/** A number typed into a field of the details. */
export async function fill(page: Page, label: string, value: string): Promise<void> {
  await page.getByRole('textbox', { name: label }).fill(value);
  await page.keyboard.press('Enter');
}

export const numberOf = async (page: Page, label: string): Promise<number> =>
  Number(await page.getByRole('textbox', { name: label }).inputValue());

/** Hands that never touch the mouse. */
export const keyboard = (page: Page) => ({
  async press(keys: string, times = 1): Promise<void> {
    for (let i = 0; i < times; i++) await page.keyboard.press(keys);
  },
  /** Tabs until the focus is on something of that name. */
  async tabTo(name: RegExp): Promise<void> {
    for (let i = 0; i < 110; i++) {
      const label = await page.evaluate(() => {
        const at = document.activeElement as HTMLElement;
        return (at.getAttribute('aria-label') ?? at.closest('label')?.textContent ?? at.textContent ?? '').trim();
      });
      if (name.test(label)) return;
      await page.keyboard.press('Tab');
    }
    throw new Error(`Tab never came to ${name}`);
  },
});

/** Walks by the tab key until what has the focus is called so. */
export async function tabTo(page: Page, name: RegExp): Promise<void> {
  for (let steps = 0; steps < 120; steps++) {
    await page.keyboard.press('Tab');
    const found = await page.evaluate(() => {
      const at = document.activeElement as HTMLElement | null;
      return [at?.getAttribute('aria-label'), at?.closest('label')?.textContent, at?.textContent].find(Boolean) ?? '';
    });
    if (name.test(found.trim())) return;
  }
  throw new Error(`Nothing that is called ${name} can be reached by the tab key.`);
}
