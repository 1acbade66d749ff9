import type { Page } from '@playwright/test';
import { emptyDesign } from '@kettle/core/model';
import { JUDGEMENT_VERSION } from '@kettle/core/checks';
import { loadRequirements, SELLER, type RunningServer } from '@kettle/server';
import { against, measureOf, type Row } from './timing.js';

const [DESIGNS, TARGETS, FILES, ROUNDS] = [10_000, 12, 60_000, 5];

/** The job sheet with 10,000 designs on 12 targets each and 60,000 files. */
export async function sheet(page: Page, server: RunningServer): Promise<Row[]> {
  await fill(server);
  const { address } = server;
  // A seller who was here before: the program itself is in the browser's cache.
  await page.goto(`${address}/requirements`);
  await page.locator('.preview').waitFor();
  const first: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    await page.goto('about:blank');
    const start = performance.now();
    await page.goto(address);
    await page.locator('ks-sheet-cell').first().waitFor();
    first.push(performance.now() - start);
    // The next round begins when this one has come to its end.
    await page.locator(`[aria-rowcount="${DESIGNS + 1}"]`).waitFor({ timeout: 120_000 });
    await page.waitForTimeout(500);
  }
  await page.waitForTimeout(3000);
  const longest: number[] = [];
  for (let round = 0; round < ROUNDS; round++) longest.push(await scrolled(page));
  return [
    against(
      `Job sheet of ${DESIGNS} designs × ${TARGETS} targets with ${FILES} files: first content`,
      measureOf(first),
      700,
    ),
    against('Longest task while scrolling it (none over 50 ms shows as 0)', measureOf(longest), 50),
  ];
}

/** Scrolls sixty frames at 120 px each and answers the longest task of the page, ms. */
const scrolled = (page: Page): Promise<number> =>
  page.evaluate(async () => {
    let most = 0;
    const observer = new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) most = Math.max(most, entry.duration);
    });
    observer.observe({ type: 'longtask' });
    const scroll = document.querySelector('.scroll')!;
    for (let i = 0; i < 60; i++) {
      scroll.scrollTop += 120;
      await new Promise(requestAnimationFrame);
    }
    await new Promise((resolve) => setTimeout(resolve, 500));
    observer.disconnect();
    return most;
  });

/**
 * Writes designs, what was found of them, and files straight into the database: making them one by one would take
 * hours.
 */
export async function fill({ house }: RunningServer): Promise<void> {
  await loadRequirements(house);
  const ids = (await house.requirements.list(SELLER.owner)).slice(0, TARGETS).map((one) => one.id);
  while (ids.length < TARGETS) {
    const [like] = await house.requirements.list(SELLER.owner);
    ids.push((await house.requirements.add(SELLER.owner, { ...like, name: `More ${ids.length}` })).id);
  }
  const { database } = house;
  const document = JSON.stringify({
    ...emptyDesign('Design'),
    targets: ids.map((requirementId) => ({ requirementId })),
  });
  const run = (sql: string, values: (string | number)[] = []): Promise<object[]> => database.rowsOnce(sql, values);
  await run(
    `INSERT INTO design (id, owner, revision, name, layers) SELECT CONCAT('d', seq), 'one', 1, CONCAT('Design ', seq), 1 FROM seq_1_to_${DESIGNS}`,
  );
  await run(
    `INSERT INTO design_revision (design_id, revision, document) SELECT CONCAT('d', seq), 1, ? FROM seq_1_to_${DESIGNS}`,
    [document],
  );
  for (const [i, id] of ids.entries()) {
    await run(
      `INSERT INTO design_target (design_id, requirement_id, position, revision, requirement_revision, engine, recipe, printable)
       SELECT CONCAT('d', seq), ?, ?, 1, 1, ?, UNHEX(SHA2(CONCAT(seq, ' ', ?), 256)), 1 FROM seq_1_to_${DESIGNS}`,
      [id, i + 1, JUDGEMENT_VERSION, id],
    );
  }
  await run("INSERT INTO blob_file (sha256, bytes) VALUES (UNHEX(SHA2('bench', 256)), 1)");
  const each = FILES / DESIGNS;
  for (const id of ids.slice(0, each)) {
    await run(
      `INSERT INTO output (id, owner, kind, design_id, revision, about, recipe, sha256, filename, media_type, bytes, accepted, record)
       SELECT LEFT(MD5(CONCAT(seq, ?)), 24), 'one', 'print-file', CONCAT('d', seq), 1, ?, UNHEX(SHA2(CONCAT(seq, ' ', ?), 256)), UNHEX(SHA2('bench', 256)),
         'x.png', 'image/png', 1, 1, '{"certificate":[]}' FROM seq_1_to_${DESIGNS}`,
      [id, id, id],
    );
  }
  await run('ANALYZE TABLE design, design_target, output');
}
