import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createRequire } from 'node:module';
import { createCanvas, GlobalFonts } from '@napi-rs/canvas';
import sharp from 'sharp';
import { SELLER } from '../floor/basics/caller.js';
import type { RunningServer } from '../launch/server.js';
import { inspect } from '../render/artwork/inspect.js';
import { cutsOf } from '../render/text/font-cuts.js';
import { unpackFont } from '../render/text/font-file.js';
import {
  caller,
  freshDatabase,
  freshFolder,
  isOver,
  smallDesign,
  smallTee,
  testServer,
  until,
} from '../testing/test-house.js';

/** A font with a weight axis that does not ship. */
const PUBLIC_SANS = createRequire(import.meta.url).resolve(
  '@fontsource-variable/public-sans/files/public-sans-latin-wght-normal.woff2',
);
const FAMILY = 'Public Sans Thin';
const words = (weight: number, family = FAMILY): Buffer =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 60"><text x="10" y="45" font-size="40" font-weight="${weight}" font-family="${family}, serif">Mostly Drizzle</text></svg>`,
  );

/** Where ink is, from the left, as shares of a picture's width. */
async function inkSpan(png: Buffer): Promise<{ from: number; to: number }> {
  const { data, info } = await sharp(png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const columns = [...Array(info.width).keys()].filter((x) =>
    [...Array(info.height).keys()].some((y) => data[(y * info.width + x) * 4 + 3] > 100),
  );
  return { from: columns[0] / info.width, to: (columns.at(-1)! + 1) / info.width };
}

/** How much of a drawing is ink, 0 to 255. */
async function inkOf(svg: string): Promise<number> {
  const { data } = await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  let sum = 0;
  for (let i = 3; i < data.length; i += 4) sum += data[i];
  return (sum * 4) / data.length;
}

describe('live text in a font of the seller’s own', () => {
  it('is told while nobody knows the font, and drawn in it by every process once one of them was given it', async () => {
    const databaseUrl = await freshDatabase();
    // Two servers of one database, each with local copies and processes of its own.
    const servers: RunningServer[] = [];
    for (const _one of [1, 2]) servers.push(await testServer({ databaseUrl, cache: await freshFolder() }));
    try {
      const [here, there] = servers.map(({ address }) => caller(address));
      const name = (of: string) => ({ 'X-Filename': of, 'Content-Type': 'application/octet-stream' });
      const { body: asset } = await here('POST', '/api/assets', words(100, 'public sans THIN'), name('words.svg'));
      expect(asset.liveText).toEqual(['public sans THIN']);
      const { body: requirement } = await there('POST', '/api/requirements', smallTee());
      const { body: design } = await there('POST', '/api/designs', smallDesign(asset.id, [requirement.id]));
      const print = async () => {
        const { body } = await there('POST', `/api/designs/${design.id}/print-files`, {
          requirementIds: [requirement.id],
        });
        const job = await until(async () => (await there('GET', `/api/jobs/${body.jobId}`)).body, isOver);
        expect(job.state).withContext(job.message).toBe('done');
        const { id } = job.results[0] as { id: string };
        const file = await fetch(`${servers[1].address}/api/print-files/${id}/content`);
        return {
          accepted: (await there('GET', `/api/print-files/${id}`)).body.accepted as boolean,
          ...(await inkSpan(Buffer.from(await file.arrayBuffer()))),
        };
      };
      const before = await print();
      expect((await here('POST', '/api/fonts', await readFile(PUBLIC_SANS), name('public-sans.woff2'))).status).toBe(
        201,
      );
      const found = (await there('GET', `/api/assets/${asset.id}`)).body;
      expect([found.liveText, found.ownFamilies]).toEqual([undefined, [FAMILY]]);
      const after = await print();
      expect(after.accepted).toBeTrue();
      // How wide the letters are, by a text engine that has no part in this.
      const plain = join(await freshFolder(), 'thin.ttf');
      await writeFile(plain, (await cutsOf(await unpackFont(await readFile(PUBLIC_SANS))))[0]);
      GlobalFonts.registerFromPath(plain, 'Said By Another');
      const context = createCanvas(10, 10).getContext('2d');
      context.font = '40px "Said By Another"';
      const { actualBoundingBoxLeft, actualBoundingBoxRight } = context.measureText('Mostly Drizzle');
      const perUnit = (after.to - after.from) / (actualBoundingBoxLeft + actualBoundingBoxRight);
      // The drawing is 400 units wide and lies on part of the canvas.
      const { width } = design.document.layers[0].place;
      const canvasMm = (requirement.unit === 'in' ? 25.4 : 1) * requirement.width;
      expect(Math.abs(perUnit * 400 - width / canvasMm)).toBeLessThan(0.02);
      expect(Math.abs(before.to - after.to)).toBeGreaterThan(0.01);
    } finally {
      for (const server of servers) await server.stop();
    }
  });

  it('is set in the fonts of whose drawing it is, though another seller has a family of the same name', async () => {
    const folder = await freshFolder();
    await mkdir(folder, { recursive: true });
    const cuts = await cutsOf(await unpackFont(await readFile(PUBLIC_SANS)));
    expect(cuts.length).toBe(9);
    const drawing = join(folder, 'words.svg');
    await writeFile(drawing, words(400));
    const drawn: string[] = [];
    for (const [i, cut] of [cuts[0], cuts[8]].entries()) {
      const path = join(folder, `${i}.ttf`);
      await writeFile(path, cut);
      const out = join(folder, `${i}.svg`);
      const { facts } = await inspect(drawing, { shipped: [], own: [{ family: FAMILY, path }] }, out);
      expect([facts.liveText, facts.ownFamilies]).toEqual([undefined, [FAMILY]]);
      drawn.push(await readFile(out, 'utf8'));
    }
    expect(drawn.map((svg) => svg.includes('<text'))).toEqual([false, false]);
    const [thin, black] = await Promise.all(drawn.map(inkOf));
    expect(black / thin).toBeGreaterThan(2);
  });

  it('goes with all faces of its family, or alone, and no other seller’s goes with it', async () => {
    const server = await testServer({ cache: await freshFolder() });
    try {
      const call = caller(server.address);
      const cuts = await cutsOf(await unpackFont(await readFile(PUBLIC_SANS)));
      const ids: string[] = [];
      for (const cut of cuts.slice(0, 3)) {
        const { body } = await call('POST', '/api/fonts', cut, {
          'X-Filename': 'cut.ttf',
          'Content-Type': 'application/octet-stream',
        });
        ids.push(...(body.faces as { id: string }[]).map(({ id }) => id).filter((id) => !ids.includes(id)));
      }
      const own = async (): Promise<string[]> =>
        ((await call('GET', '/api/fonts')).body as { faces: { id: string }[] }[])
          .flatMap(({ faces }) => faces.map(({ id }) => id))
          .filter((id) => ids.includes(id));
      expect((await own()).length).toBe(3);
      const other = 'own-of-another';
      const { fontStore, database } = server.house;
      await database.change("INSERT INTO seller (id, name) VALUES ('another-seller', 'Another')");
      const [{ sha256 }] = await fontStore.list(SELLER.owner);
      await fontStore.add(
        'another-seller',
        { sha256, filename: 'x.ttf', family: FAMILY, weight: 400, scripts: [] },
        other,
      );
      expect((await call('DELETE', `/api/fonts/${ids[0]}`)).status).toBe(204);
      expect((await own()).length).toBe(2);
      expect((await call('DELETE', `/api/fonts/${other}?of=family`)).status).toBe(404);
      expect((await call('DELETE', `/api/fonts/${ids[1]}?of=family`)).status).toBe(204);
      expect(await own()).toEqual([]);
      expect((await fontStore.list('another-seller')).map(({ id }) => id)).toEqual([other]);
    } finally {
      await server.stop();
    }
  });

  it('finds each weight of a font with an axis', async () => {
    const folder = await freshFolder();
    const ink: number[] = [];
    for (const weight of [100, 400, 900]) {
      const drawing = join(folder, `${weight}.svg`);
      await writeFile(drawing, words(weight));
      await inspect(drawing, { shipped: [], own: [{ family: FAMILY, path: PUBLIC_SANS }] }, `${drawing}.out`);
      ink.push(await inkOf(await readFile(`${drawing}.out`, 'utf8')));
    }
    expect(ink[1] / ink[0]).toBeGreaterThan(1.5);
    expect(ink[2] / ink[1]).toBeGreaterThan(1.4);
  });
});
