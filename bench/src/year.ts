import { mkdtemp, readdir, rm, stat, utimes, writeFile, mkdir } from 'node:fs/promises';
import { randomBytes } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { emptyDesign, type DesignDocument, type Stroke } from '@kettle/core/model';
import { freehandLayer, shapeLayer } from '@kettle/core/drawing';
import { ENGINE_VERSION } from '@kettle/core/recipes';
import { BLANKS, loadRequirements, PAGE, SELLER, startMariaDb, startServer } from '@kettle/server';

// npm run year: a year of five sellers' work at high speed. Saves, files, pictures and deletions go through the stores
// as in life; then everything is made a
// day older, and the keeper has its round. Prints how large tables, disk caches and a browser's storage are as the
// year goes by.

const DAYS = Number(process.argv[2] ?? 365);
const EVERY = 30;
const SELLERS = 5;
/** What a seller does in a day. */
const DAY = { designs: 0.4, saves: 6, strokes: 2, files: 2, pictures: 1, artwork: 1 } as const;
/** Designs a seller keeps on the sheet: older ones are taken off. */
const KEPT_DESIGNS = 40;
const DAY_MS = 24 * 3600 * 1000;

const folder = await mkdtemp(join(tmpdir(), 'kettle-year-'));
const mariaDb = await startMariaDb(join(folder, 'mariadb'), { quick: true });
const cache = join(folder, 'cache');
const server = await startServer({
  databaseUrl: mariaDb.rootUrl,
  cache,
  blanks: BLANKS,
  page: PAGE,
  port: 0,
  work: false,
});
const { house } = server;
const { database } = house;
await loadRequirements(house);
const requirements = (await house.requirements.list(SELLER.owner)).slice(0, 4).map((one) => one.id);

interface Kept {
  id: string;
  revision: number;
  document: DesignDocument;
  strokes: Stroke[];
}
const sheets: Kept[][] = Array.from({ length: SELLERS }, () => []);
let count = 0;

const chance = (expected: number): number => Math.floor(expected) + (Math.random() < expected % 1 ? 1 : 0);
const stroke = (): Stroke => ({
  points: Array.from({ length: 600 }, (_, i) => Math.round((i * 0.13 + Math.random()) * 100) / 100),
  size: 2,
  hardness: 1,
  opacity: 1,
  hex: '#1f2b4d',
  erase: false,
});

async function day(sheet: Kept[]): Promise<void> {
  for (let i = 0; i < chance(DAY.designs); i++) {
    const document: DesignDocument = {
      ...emptyDesign(`Design ${++count}`),
      targets: requirements.map((requirementId) => ({ requirementId })),
      layers: [
        shapeLayer('a', 'star', { width: 355, height: 406 }, '#f2bd4b'),
        { ...freehandLayer('f', stroke()), strokes: [] },
      ],
    };
    const { id, revision } = await house.designs.add(SELLER, document);
    sheet.push({ id, revision, document, strokes: [] });
  }
  if (!sheet.length) return;
  const recent = (): Kept => sheet[Math.max(0, sheet.length - 1 - Math.floor(Math.random() * 6))];
  for (let i = 0; i < DAY.saves; i++) {
    const one = recent();
    if (i < DAY.strokes && one.strokes.length < 400) one.strokes = [...one.strokes, stroke()];
    one.document = {
      ...one.document,
      name: `${one.document.name.split(' (')[0]} (${i})`,
      layers: [one.document.layers[0], { ...one.document.layers[1], strokes: one.strokes } as never],
    };
    one.revision = (await house.designs.save(SELLER, one.id, one.revision, one.document)).revision;
  }
  for (let i = 0; i < DAY.files; i++) await make('print-file', recent(), requirements[i % requirements.length], 30_000);
  for (let i = 0; i < DAY.pictures; i++) await make('picture', recent(), 'tee-front', 15_000);
  for (let i = 0; i < DAY.artwork; i++) {
    const path = join(cache, 'art');
    await writeFile(path, randomBytes(20_000));
    const blob = await house.blobs.put(path);
    await database.change(
      "INSERT INTO asset (id, owner, sha256, filename, bytes, mode, facts) VALUES (?, 'one', UNHEX(?), 'art.png', ?, 'sRGB', '{}')",
      [randomBytes(12).toString('hex'), blob.sha256, blob.bytes],
    );
  }
  if (sheet.length > KEPT_DESIGNS) await house.designs.remove(SELLER, sheet.shift()!.id);
}

/**
 * A file or a picture of random bytes, kept as a worker keeps one, with the run that made it and the copies on the
 * disk that looking at it leaves.
 */
async function make(kind: string, { id, revision }: Kept, about: string, bytes: number): Promise<void> {
  const path = join(cache, 'made');
  await writeFile(path, randomBytes(bytes));
  const blob = await house.blobs.put(path);
  const job = await house.jobs.addBatch(SELLER.owner, { kind: 'print-files', design: { id, revision } }, [
    { kind: 'year', engine: ENGINE_VERSION, payload: {} },
  ]);
  const output = await house.outputStore.add({
    owner: SELLER.owner,
    kind,
    designId: id,
    revision,
    about,
    recipe: randomBytes(32).toString('hex'),
    ...blob,
    filename: 'x.png',
    mediaType: 'image/png',
    accepted: true,
    record: kind === 'picture' ? { request: {} } : { certificate: [] },
  });
  const claimed = (await house.jobs.claim('year', [{ kind: 'year', engine: ENGINE_VERSION }]))!;
  await house.jobs.finish(claimed.id, 'year', output.id);
  if ((await house.jobs.get(SELLER.owner, job.id))!.state !== 'done') throw new Error('A run of the year did not end.');
  for (const name of ['miniatures', 'renditions']) {
    await mkdir(join(cache, name), { recursive: true });
    await writeFile(join(cache, name, randomBytes(8).toString('hex')), randomBytes(20_000));
  }
}

const TIMES: Readonly<Record<string, readonly string[]>> = {
  design_revision: ['saved_at'],
  design: ['deleted_at'],
  batch: ['created_at', 'changed_at'],
  output: ['made_at'],
  blob_file: ['created_at'],
  asset: ['created_at'],
  document_part: ['touched_at'],
  keeper_note: ['done_at'],
};

/** Makes everything a day older. */
async function nightfall(): Promise<void> {
  for (const [table, columns] of Object.entries(TIMES)) {
    await database.rowsOnce(
      `UPDATE ${table} SET ${columns.map((column) => `${column} = DATE_SUB(${column}, INTERVAL 1 DAY)`).join(', ')}`,
      [],
    );
  }
  for (const path of await filesIn(cache)) {
    const { mtimeMs } = await stat(path);
    await utimes(path, new Date(mtimeMs - DAY_MS), new Date(mtimeMs - DAY_MS));
  }
  await database.change("UPDATE keeper_turn SET until = '2000-01-01'");
  await house.keeper.run();
}

async function filesIn(path: string): Promise<string[]> {
  const entries = await readdir(path, { withFileTypes: true });
  return (
    await Promise.all(
      entries.map((entry) => (entry.isDirectory() ? filesIn(join(path, entry.name)) : [join(path, entry.name)])),
    )
  ).flat();
}

async function sizes(): Promise<(string | number)[]> {
  const [row] = await database.rows<
    Record<string, number>
  >(`SELECT (SELECT COUNT(*) FROM design) AS designs, (SELECT COUNT(*) FROM design_revision) AS revisions,
    (SELECT ROUND(SUM(LENGTH(document)) / 1e6, 1) FROM design_revision) AS documents,
    (SELECT ROUND(COALESCE(SUM(LENGTH(data)), 0) / 1e6, 1) FROM document_part) AS parts,
    (SELECT COUNT(*) FROM output) AS outputs,
    (SELECT ROUND(SUM(bytes) / 1e6, 1) FROM blob_file) AS files, (SELECT COUNT(*) FROM job) AS jobs, (SELECT COUNT(*) FROM keeper_note) AS notes`);
  let disk = 0;
  for (const path of await filesIn(cache)) disk += (await stat(path)).size;
  return [...Object.values(row).map(Number), (disk / 1e6).toFixed(1)];
}

// What a browser keeps: a design is worked on each month; a month later what it wrote is a month older.
const browser = await chromium.launch({
  executablePath: process.env['CHROME_BIN'] ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });

async function browserMonth(): Promise<[string, number]> {
  const [one] = sheets[0].slice(-1);
  await page.goto(`${server.address}/designs/${one.id}/artwork`);
  await page.locator('[data-layer="a"]').click();
  await page.locator('ks-stage .table').focus();
  for (let i = 0; i < 40; i++) await page.keyboard.press(i % 2 ? 'Shift+ArrowLeft' : 'Shift+ArrowRight', { delay: 20 });
  await page.keyboard.press('Shift+ArrowDown');
  while ((await house.designs.get(SELLER, one.id)).revision === one.revision) await page.waitForTimeout(100);
  await page.locator('.stations small').filter({ hasText: 'saved' }).waitFor();
  one.revision = (await house.designs.get(SELLER, one.id)).revision;
  one.document = (await house.designs.get(SELLER, one.id)).document;
  await page.waitForTimeout(500);
  // The next month begins in a new tab, as in life; the sweep of old logs is given the time it has there.
  await page.evaluate(() => {
    sessionStorage.clear();
  });
  return page.evaluate(async (month) => {
    const open = indexedDB.open('kettle-undo');
    const base = await new Promise<IDBDatabase>((resolve) => {
      open.onsuccess = () => resolve(open.result);
    });
    const done = <T>(request: IDBRequest<T>): Promise<T> =>
      new Promise((resolve) => {
        request.onsuccess = () => resolve(request.result);
      });
    const stores = Array.from(base.objectStoreNames);
    const change = base.transaction(stores, 'readwrite');
    let rows = 0;
    for (const name of stores) rows += await done(change.objectStore(name).count());
    const logs = change.objectStore('logs');
    for (const key of await done(logs.getAllKeys())) {
      const log = (await done(logs.get(key))) as { at: number };
      await done(logs.put({ ...log, at: log.at - month }, key));
    }
    base.close();
    const used = Object.entries(localStorage).reduce((sum, [key, value]) => sum + key.length + value.length, 0);
    return [`${rows} rows`, used] as [string, number];
  }, 30 * DAY_MS);
}

console.log(
  '| day | designs | revisions | documents MB | parts MB | outputs | files MB | runs’ steps | notes | disk cache MB | browser: undo | browser: drafts, characters |\n|---|---|---|---|---|---|---|---|---|---|---|---|',
);
for (let now = 1; now <= DAYS; now++) {
  for (const sheet of sheets) await day(sheet);
  await nightfall();
  if (now % EVERY === 0 || now === DAYS)
    console.log(`| ${now} | ${[...(await sizes()), ...(await browserMonth())].join(' | ')} |`);
}
await browser.close();
await server.stop();
await mariaDb.stop();
await rm(folder, { recursive: true, force: true });
process.exit(0);
