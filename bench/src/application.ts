import { SELLER } from '@kettle/server';
import { spawn } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium, type Page } from '@playwright/test';
import { emptyDesign, SAME_SIZE_TOP, type DesignDocument } from '@kettle/core';
import { artworkPath } from '@kettle/demo';
import { BLANKS, Database, loadDesigns, loadRequirements, PAGE, startMariaDb, startServer, type RunningServer } from '@kettle/server';
import { dragOfThirty } from './drag.js';
import { largeDrawing } from './large-drawing.js';
import { printOfThirty } from './print-of-thirty.js';
import { median, type Row } from './timing.js';

const ARGS = ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-quic'];
const WORKER = fileURLToPath(new URL('../../server/dist/worker.js', import.meta.url));

/** Measures the running application on a database of its own. */
export async function benchApplication(): Promise<Row[]> {
  const folder = await mkdtemp(join(tmpdir(), 'kettle-bench-'));
  const mariaDb = await startMariaDb(join(folder, 'mariadb'), { quick: true });
  const create = async (name: string): Promise<string> => {
    const root = new Database(mariaDb.rootUrl);
    await root.rowsOnce(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`, []);
    await root.close();
    return mariaDb.rootUrl.replace(/\/kettle$/, `/${name}`);
  };
  const serve = async (name: string, work = true): Promise<RunningServer> => startServer({ databaseUrl: await create(name), cache: join(folder, name), blanks: BLANKS, page: PAGE, port: 0, work });
  const browser = await chromium.launch({ executablePath: process.env['CHROME_BIN'] ?? '/usr/bin/chromium', args: ARGS });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const rows: Row[] = [];
    const demo = await serve('kettle_demo');
    await loadRequirements(demo.house);
    await loadDesigns(demo.house);
    await untilIdle(demo);
    rows.push(...await dragOnShirt(page, demo), ...await dragOfThirty(page, demo), ...await printOfThirty(demo));
    await demo.stop();
    const large = await serve('kettle_large', false);
    rows.push(...await largeSheet(page, large));
    await large.stop();
    rows.push(await largeDrawing(await create('kettle_drawing'), join(folder, 'kettle_drawing')));
    rows.push(await twoWorkers((name) => serve(name, false), folder, mariaDb.rootUrl));
    return rows;
  } finally {
    await browser.close();
    await mariaDb.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

async function untilIdle({ house }: RunningServer): Promise<void> {
  while ((await house.jobs.lively(1)).some(({ job }) => job.state === 'queued' || job.state === 'running')) await new Promise((resolve) => setTimeout(resolve, 100));
}

/** Art dragged on a shirt, seen at 1000 × 1000. */
async function dragOnShirt(page: Page, { address, house }: RunningServer): Promise<Row[]> {
  const design = (await house.designs.list(SELLER)).find((one) => one.document.name === 'Mostly Drizzle')!;
  await page.goto(`${address}/designs/${design.id}/mockups`);
  await page.waitForFunction(() => Number(document.querySelector('[data-frame-ms]')?.getAttribute('data-frame-ms') ?? 0) > 0);
  await page.waitForTimeout(1500);
  // One move for each frame of the screen, made inside the page, so that the test's own pace is not measured.
  const { gaps, drawing } = await page.evaluate(async () => {
    const shown = document.querySelector('[data-frame-ms]')!;
    const [svg, path] = [shown.querySelector('svg')!, shown.querySelector<SVGPathElement>('path.art')!];
    const box = path.getBoundingClientRect();
    const at = (type: string, x: number, y: number) => new PointerEvent(type, { clientX: x, clientY: y, pointerId: 1, bubbles: true, cancelable: true });
    path.setPointerCapture = () => undefined;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const times: number[] = [];
    const drawing: number[] = [];
    new MutationObserver(() => { times.push(performance.now()); drawing.push(Number(shown.getAttribute('data-frame-ms'))); }).observe(shown, { attributes: true, attributeFilter: ['data-frame-ms'] });
    path.dispatchEvent(at('pointerdown', x, y));
    for (let i = 0; i < 150; i++) {
      await new Promise(requestAnimationFrame);
      svg.dispatchEvent(at('pointermove', x + 30 * Math.sin(i / 9), y + 30 * Math.cos(i / 9)));
    }
    svg.dispatchEvent(at('pointerup', x, y));
    return { gaps: times.slice(1).map((time, i) => time - times[i]), drawing };
  });
  const row = (what: string, value: number): Row => ({ what, measured: `${value.toFixed(1)} ms`, against: '33 ms', ratio: (value / 33).toFixed(2), budget: '≤ 1.00', kept: value <= 33 });
  return [
    row(`Preview 1000 × 1000 while dragging: drawing a frame (median of ${drawing.length})`, median(drawing)),
    row('The same: from one shown frame to the next', median(gaps)),
  ];
}

/** The job sheet with 2,000 designs on 8 targets each. */
async function largeSheet(page: Page, { address, house }: RunningServer): Promise<Row[]> {
  await loadRequirements(house);
  const targets = (await house.requirements.list(SELLER.owner)).slice(0, 8).map((one) => ({ requirementId: one.id }));
  const asset = await house.assets.takeIn(SELLER, createReadStream(artworkPath('mostly-drizzle-cloud.svg')), 'cloud.svg');
  const design = (i: number): DesignDocument => ({
    ...emptyDesign(`Design ${i}`), targets,
    layers: [{ kind: 'picture', id: 'a', name: 'Cloud', assetId: asset.id, opacity: 1, hidden: false, place: { x: 150 + (i % 50), y: 160, width: 250, height: 162, turn: 0, flipX: false, flipY: false } }],
  });
  for (let i = 0; i < 2000; i += 50) await Promise.all(Array.from({ length: 50 }, (_, k) => house.designs.add(SELLER, design(i + k))));
  // A seller who was here before: the program itself is in the browser's cache.
  await page.goto(`${address}/requirements`);
  await page.locator('.preview').waitFor();
  const start = performance.now();
  await page.goto(address);
  await page.locator('ks-sheet-cell').first().waitFor();
  const first = performance.now() - start;
  await page.locator('[aria-rowcount="2001"]').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(2000);
  const longest = await page.evaluate(async () => {
    let most = 0;
    new PerformanceObserver((list) => { for (const entry of list.getEntries()) most = Math.max(most, entry.duration); }).observe({ type: 'longtask' });
    const scroll = document.querySelector('.scroll')!;
    for (let i = 0; i < 60; i++) { scroll.scrollTop += 120; await new Promise(requestAnimationFrame); }
    await new Promise((resolve) => setTimeout(resolve, 500));
    return most;
  });
  return [
    { what: 'Job sheet of 2,000 designs × 8 targets: first content', measured: `${Math.round(first)} ms`, against: '1000 ms', ratio: (first / 1000).toFixed(2), budget: '≤ 1.00', kept: first <= 1000 },
    { what: 'Longest task while scrolling it (none over 50 ms shows as 0)', measured: `${Math.round(longest)} ms`, against: '50 ms', ratio: (longest / 50).toFixed(2), budget: '≤ 1.00', kept: longest <= 50 },
  ];
}

/** Twelve targets of one design with one worker process and with two. */
async function twoWorkers(serve: (name: string) => Promise<RunningServer>, folder: string, rootUrl: string): Promise<Row> {
  const seconds: number[] = [];
  for (const workers of [1, 2]) {
    const name = `kettle_workers_${workers}`;
    const server = await serve(name);
    const asset = await server.house.assets.takeIn(SELLER, createReadStream(artworkPath('fog-signal.png')), 'fog-signal.png');
    const requirementIds: string[] = [];
    for (let i = 0; i < 12; i++) {
      requirementIds.push((await server.house.requirements.add(SELLER.owner, {
        channel: 'Bench', name: `Target ${i}`, product: '', width: 3600 + 20 * i, height: 4200 + 20 * i, unit: 'px', dpi: 300, mode: 'rgb', transparency: 'required', fileTypes: ['png'], maxBytes: null, sizeRule: 'exact', safeInsetMm: 0,
        placement: { ...SAME_SIZE_TOP, rule: 'fit' }, colourways: [{ name: 'White', hex: '#FFFFFF' }], note: '',
      })).id);
    }
    const design = await server.house.designs.add(SELLER, {
      ...emptyDesign('Twelve', { width: 304.8, height: 355.6 }), targets: requirementIds.map((requirementId) => ({ requirementId })),
      layers: [{ kind: 'picture', id: 'a', name: 'Lighthouse', assetId: asset.id, opacity: 1, hidden: false, place: { x: 152, y: 177, width: 300, height: 350, turn: 0, flipX: false, flipY: false } }],
    });
    const env = { ...process.env, KETTLE_DB_URL: rootUrl.replace(/\/kettle$/, `/${name}`) };
    const children = await Promise.all(Array.from({ length: workers }, async (_, i) => {
      const child = spawn(process.execPath, [WORKER], { env: { ...env, KETTLE_CACHE: join(folder, `${name}-${i}`) }, stdio: ['ignore', 'pipe', 'inherit'] });
      await new Promise((resolve) => child.stdout.once('data', resolve));
      return child;
    }));
    const start = performance.now();
    const job = await server.house.outputs.askForPrintFiles(SELLER, design.id, requirementIds);
    while ((await server.house.outputs.job(SELLER, job.id)).state !== 'done') await new Promise((resolve) => setTimeout(resolve, 50));
    seconds.push((performance.now() - start) / 1000);
    for (const child of children) child.kill('SIGKILL');
    await server.stop();
  }
  const faster = seconds[0] / seconds[1];
  return { what: `Twelve targets, two workers against one (${availableParallelism()} cores)`, measured: `${seconds[1].toFixed(1)} s`, against: `one worker: ${seconds[0].toFixed(1)} s`, ratio: `${faster.toFixed(2)} × faster`, budget: '≥ 1.70 ×', kept: faster >= 1.7 };
}
