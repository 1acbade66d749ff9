import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { SELLER } from '../floor/basics/caller.js';
import { DEMO_DESIGNS, DEMO_REQUIREMENTS } from '@kettle/demo';
import type { SheetRow } from '@kettle/contract';
import { refuseRequirement } from '@kettle/contract';
import { demandedCanvas, emptyDesign } from '@kettle/core/model';
import { versionsOf } from '@kettle/core/document';
import { unpackDemo } from './demo-pack.js';
import { DEMO_PACK } from '../floor/files/shipped.js';
import { loadDesigns, loadDesignsPatiently, loadRequirements } from './load-demo.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { emptyDatabase, freshDatabase, freshFolder, testServer, until, serverForAll } from '../testing/test-house.js';
import type { RunningServer } from './server.js';

describe('the demo', () => {
  const { server } = serverForAll({ work: false });
  let rows: readonly SheetRow[] = [];
  beforeAll(async () => {
    await loadRequirements(server.house);
    await loadDesigns(server.house);
    await loadDesigns(server.house);
    // How a print is seen on cloth is measured after it was saved.
    const isMeasured = (all: readonly SheetRow[]) =>
      all.some(({ cells }) => cells.some((cell) => cell.finding?.startsWith('Vanishes on')));
    rows = await until(async () => (await server.house.sheet.sheet(SELLER)).rows, isMeasured);
  });
  const finding = (name: string, requirementId: string) =>
    rows.find((row) => row.name === name)?.cells.find((cell) => cell.requirementId === requirementId)?.finding;

  it('has six designs, once, and at least eight requirements of five channels in different shapes, DPI and modes', () => {
    expect(rows.map((row) => row.name)).toEqual(DEMO_DESIGNS.map((design) => design.name));
    expect(rows.length).toBe(6);
    expect(DEMO_REQUIREMENTS.length).toBeGreaterThanOrEqual(8);
    expect(new Set(DEMO_REQUIREMENTS.map((one) => one.channel)).size).toBe(5);
    expect(new Set(DEMO_REQUIREMENTS.map((one) => one.dpi)).size).toBeGreaterThanOrEqual(3);
    expect(new Set(DEMO_REQUIREMENTS.map((one) => one.mode))).toEqual(new Set(['rgb', 'grey', 'cmyk']));
    expect(
      new Set(
        DEMO_REQUIREMENTS.map((one) => {
          const { widthPx, heightPx } = demandedCanvas(one);
          return Math.round((10 * widthPx) / heightPx);
        }),
      ).size,
    ).toBeGreaterThanOrEqual(5);
  });

  it('keeps the rules it teaches', () => {
    for (const { id, ...fields } of DEMO_REQUIREMENTS) expect(refuseRequirement(fields)).withContext(id).toBeNull();
  });

  it('gives the findings something to say', () => {
    expect(finding('Cumulus Appreciation', 'larkpost-tee')).toBe('White box');
    expect(finding('Rain Gauge Regulars', 'larkpost-tee')).toBe('Soft print');
    expect(finding('Barometer Falling', 'hobnail-chest')).toBe('Vanishes on Soot');
    expect(finding('Mostly Drizzle', 'larkpost-tee')).toBeNull();
  });

  it('waits with its print files until a worker is there', async () => {
    const states = new Set((await server.house.jobs.lively(60)).map(({ job }) => job.state));
    expect(states).toEqual(new Set(['queued']));
    expect(rows.every((row) => row.cells.every((cell) => cell.state !== 'ready'))).toBeTrue();
  });

  it('comes whole although people work already, one of its files fails, and one of its designs was left half made', async () => {
    const { house, ...busy } = await testServer({ work: false });
    try {
      await loadRequirements(house);
      await house.designs.add(SELLER, emptyDesign('My own'));
      const half = DEMO_DESIGNS.find(({ orders }) => orders)!;
      // The design is there then, and its orders are not.
      const addRun = house.printRuns.add.bind(house.printRuns);
      let refused = 0;
      spyOn(house.printRuns, 'add').and.callFake((...all) => {
        if (!refused++) throw new ProblemError(507, 'disk-full', 'No room.');
        return addRun(...all);
      });
      const [failing] = DEMO_DESIGNS[0].layers;
      const takeIn = house.assets.takeIn.bind(house.assets);
      let sentence: string | undefined;
      let tries = 0;
      spyOn(house.assets, 'takeIn').and.callFake((who, bytes, name) => {
        if (name !== failing.file) return takeIn(who, bytes, name);
        if (!tries++) throw new ProblemError(422, 'too-slow', 'This picture took too long.');
        sentence = house.remarks.get('demo');
        return takeIn(who, bytes, name);
      });
      await loadDesignsPatiently(house, new AbortController().signal, [1]);
      expect(sentence).toBe(
        `Not all of the demo could be loaded. “${DEMO_DESIGNS[0].name}”: This picture took too long. “${half.name}”: No room. It is tried again by itself.`,
      );
      expect([...house.remarks]).toEqual([]);
      const found = (await house.sheet.sheet(SELLER)).rows;
      expect(found.map(({ name }) => name).sort()).toEqual(['My own', ...DEMO_DESIGNS.map(({ name }) => name)].sort());
      const { designId } = found.find(({ name }) => name === half.name)!;
      expect((await house.printRuns.list(SELLER, designId)).length).toBe(1);
    } finally {
      await busy.stop();
    }
  });

  describe('as it was made beforehand', () => {
    let packed: RunningServer;
    let databaseUrl: string;
    let cache: string;
    beforeAll(async () => {
      [databaseUrl, cache] = [await emptyDatabase(), await freshFolder()];
      // What a start that was killed in the middle leaves behind.
      const connection = await mysql.createConnection(databaseUrl);
      await connection.query('CREATE TABLE demo_coming (id TINYINT)');
      await connection.query('CREATE TABLE design (half TINYINT)');
      await connection.end();
      expect(await unpackDemo(databaseUrl, cache)).toBeTrue();
      packed = await testServer({ databaseUrl, cache, work: false });
    });
    afterAll(() => packed.stop());

    /** What a design is, without the ids that are new each time it is made. */
    const contents = async ({ house }: RunningServer) =>
      Promise.all(
        (await house.designs.list(SELLER)).map(async ({ id, document }) => {
          const without = JSON.stringify({ id, document }, (key, value: unknown) =>
            key === 'keptAs' ||
            key === 'about' ||
            key === 'layerId' ||
            (key === 'id' && typeof value === 'string' && !value.startsWith('demo-'))
              ? undefined
              : value,
          );
          const art = document.layers.flatMap((layer) => (layer.kind === 'picture' ? layer.assetId : []));
          const files = await Promise.all(art.map((asset) => house.assets.get(SELLER, asset)));
          // Its client asked for a change since, and got it.
          const since = without.replace('"turn":9', '"turn":8');
          return files.reduce((text, asset) => text.replaceAll(asset.id, asset.sha256), since);
        }),
      );

    it('is what its sources make, and what `npm run demo:pack` has to make anew otherwise', async () => {
      expect(await contents(packed)).toEqual(await contents(server));
      const demands = async ({ house }: RunningServer) => house.requirements.list(SELLER.owner);
      expect((await demands(packed)).map(({ revision: _, ...one }) => one)).toEqual(
        (await demands(server)).map(({ revision: _, ...one }) => one),
      );
    });

    it('has every file that is asked for made, as this version makes it, and leaves nothing to do', async () => {
      // But for the run that somebody holds.
      expect((await packed.house.jobs.lively(1)).map(({ job }) => job.state)).toEqual(['paused']);
      const found = (await packed.house.sheet.sheet(SELLER)).rows;
      for (const demo of DEMO_DESIGNS) {
        const { cells } = found.find((row) => row.name === demo.name)!;
        for (const { requirementId, state } of cells) {
          const name = `${demo.name}, ${requirementId}: ${state}`;
          if (!demo.made.includes(requirementId)) expect(['not-made', 'needs-work']).withContext(name).toContain(state);
          else if (demo.moved) expect(state).withContext(name).toBe('out-of-date');
          else expect(['ready', 'needs-work']).withContext(name).toContain(state);
        }
      }
    });

    it('has lived: it shows one of each that a shop comes to in six weeks', async () => {
      const { house } = packed;
      const id = (name: string) => `demo-${name.toLowerCase().replaceAll(' ', '-')}`;
      const [fog, isobars, barometer, regulars] = [
        'Fog Signal',
        'Isobars',
        'Barometer Falling',
        'Rain Gauge Regulars',
      ].map(id);
      const document = async (one: string) => (await house.designs.get(SELLER, one)).document;
      expect((await document(regulars)).clips!.map(({ scenes }) => scenes.length)).toEqual([3]);
      const taken = (await document(id('Cumulus Appreciation'))).targets.flatMap(({ accepted }) => accepted ?? []);
      expect(taken.map(({ code }) => code)).toEqual(['white-box']);
      const { sales } = await house.history.became(SELLER, null);
      const weeks = (Date.now() - Math.min(...sales.map(({ at }) => Date.parse(at)))) / (7 * 86_400_000);
      expect(weeks).toBeGreaterThan(5);
      expect(weeks).toBeLessThan(7);
      expect(new Set(sales.map(({ currency }) => currency))).toEqual(new Set(['GBP', 'EUR']));
      expect(sales.every(({ earned }) => earned !== null)).toBeTrue();
      const publications = await Promise.all(
        [fog, isobars, regulars].map((one) => house.publications.of(SELLER.owner, one)),
      );
      expect(publications.map((all) => all.map(({ state }) => state))).toEqual([['live'], ['live'], ['refused']]);
      expect(JSON.stringify(publications[2][0].reasons)).toContain('below our minimum of 3.00 GBP');
      const [page] = await house.clientPages.list(SELLER, barometer);
      expect(page.words.map(({ kind, pin }) => `${kind}${pin ? ' at a place' : ''}`)).toEqual([
        'comment at a place',
        'change',
        'answer',
        'approval',
      ]);
      expect([page.approval?.kind, page.changedSince]).toEqual(['approval', true]);
      const told = [...(await house.shopOrders.list(SELLER, fog)), ...(await house.shopOrders.list(SELLER, regulars))];
      expect(told.map(({ state }) => state).sort()).toEqual(['mend', 'yes']);
      // A print shop that wants something mended takes nothing from a listing that is live.
      const [row] = await house.sheet.rows(SELLER, [fog]);
      expect(row.cells.find(({ requirementId }) => requirementId === 'larkpost-tee')!.listing).toBe('live');
      const [run] = await house.printRuns.list(SELLER, regulars);
      expect(run.interests.reduce((sum, one) => sum + one.copies, 0)).toBe(run.worthFrom - 1);
      expect((await house.blanks.of(SELLER)).filter(({ own }) => own).map(({ name }) => name)).toEqual([
        'Shirt at the door',
      ]);
      const sewn = await house.database.rows(
        "SELECT id FROM output WHERE kind = 'picture' AND design_id = ? AND JSON_VALUE(record, '$.request.areaId') = 'panel-front'",
        [isobars],
      );
      expect(sewn.length).toBe(1);
      const [held] = await house.jobs.lively(1);
      expect([held.job.state, held.job.done, held.job.total]).toEqual(['paused', 0, 3]);
    });

    it('knows what presses make of each print, so that nobody who opens a design waits for it', async () => {
      const { house } = packed;
      const known = async () =>
        (await house.database.rows<{ count: number }>('SELECT COUNT(*) AS count FROM press_measure', []))[0].count;
      const before = await known();
      expect(before).toBeGreaterThan(10);
      for (const { id, document } of await house.designs.list(SELLER))
        for (const target of document.targets)
          for (const version of versionsOf(target)) await house.measures.of(SELLER, id, target.requirementId, version);
      expect(await known()).toBe(before);
    });

    it('brings every picture of the sheet along', async () => {
      const names = async () => (await readdir(join(cache, 'miniatures'))).sort();
      const before = await names();
      for (const { designId, revision } of (await packed.house.sheet.sheet(SELLER)).rows)
        for (const picture of [`miniature?size=160&r=${revision}`, `strip?r=${revision}`])
          expect((await fetch(`${packed.address}/api/designs/${designId}/${picture}`)).status).toBe(200);
      expect(await names()).toEqual(before);
    });

    it('happened lately, whenever it was packed', async () => {
      const [{ days }] = await packed.house.database.rows<{ days: number }>(
        'SELECT TIMESTAMPDIFF(DAY, MAX(noted_at), UTC_TIMESTAMP()) AS days FROM interest',
      );
      expect(days).toBeGreaterThanOrEqual(0);
      expect(days).toBeLessThan(3);
    });

    it('leaves an empty database when it cannot be read, and says so', async () => {
      const [url, pack] = [await emptyDatabase(), await freshFolder()];
      const dump = await readFile(join(DEMO_PACK, 'database.sql.gz'));
      await writeFile(join(pack, 'database.sql.gz'), dump.subarray(0, dump.length / 2));
      await expectAsync(unpackDemo(url, cache, { pack })).toBeRejected();
      expect(await unpackDemo(url, cache))
        .withContext('as if nothing had been there')
        .toBeTrue();
    });

    it('is not laid over what is there', async () => {
      expect(await unpackDemo(databaseUrl, cache)).toBeFalse();
      expect(await unpackDemo(await freshDatabase(), cache)).toBeFalse();
    });
  });
});
