import { cp, mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { versionsOf } from '@kettle/core/document';
import { SELLER } from './floor/basics/caller.js';
import { PACKED_COPIES, type PackFacts } from './launch/demo-pack.js';
import { backup } from './launch/dump.js';
import { liveOn, settled } from './launch/demo-life.js';
import { loadDesigns, loadRequirements } from './launch/load-demo.js';
import { startMariaDb } from './launch/mariadb.js';
import { BLANKS, DEMO_PACK } from './floor/files/shipped.js';
import { startMarkets } from './launch/markets.js';
import { startServer } from './launch/server.js';

// npm run demo:pack: makes the demo of its sources, every file and picture of it, and packs it for those who start it.

const folder = await mkdtemp(join(tmpdir(), 'kettle-pack-'));
const database = await startMariaDb(join(folder, 'mariadb'), { quick: true });
const cache = join(folder, 'cache');
// Nobody shops while it is packed: what was sold is told by the demo itself.
process.env['STAND_IN_SHOPPERS'] = '0';
const markets = await startMarkets();
if (!markets) throw new Error('The simulated markets did not start.');
const server = await startServer({
  databaseUrl: database.rootUrl,
  cache,
  blanks: BLANKS,
  page: null,
  port: 0,
  markets: markets.places,
});
markets.answerTo(server.address);
const { house, address } = server;
try {
  await loadRequirements(house);
  await loadDesigns(house);
  await liveOn(house);
  await settled(house);
  const { rows } = await house.sheet.sheet(SELLER);
  for (const { designId, revision } of rows)
    for (const picture of [`miniature?size=160&r=${revision}`, `strip?r=${revision}`]) {
      const { ok } = await fetch(`${address}/api/designs/${designId}/${picture}`);
      if (!ok) throw new Error(`${designId} has no ${picture}`);
    }
  // What a press makes of each print is known before anybody opens its design.
  for (const { designId } of rows) {
    const { document } = await house.designs.get(SELLER, designId);
    for (const target of document.targets)
      for (const version of versionsOf(target))
        await house.measures.of(SELLER, designId, target.requirementId, version);
  }
  for (const { id } of house.blanks.all) await house.blanks.thumbnail(SELLER, id);
  await house.workers.stop();
  await house.keeper.stop();
  await rm(DEMO_PACK, { recursive: true, force: true });
  await mkdir(DEMO_PACK, { recursive: true });
  await backup(database.rootUrl, join(DEMO_PACK, 'database.sql.gz'));
  for (const name of PACKED_COPIES) await cp(join(cache, name), join(DEMO_PACK, name), { recursive: true });
  await writeFile(
    join(DEMO_PACK, 'pack.json'),
    `${JSON.stringify({ packedAt: new Date().toISOString() } satisfies PackFacts)}\n`,
  );
} finally {
  await server.stop();
  markets.stop();
  await database.stop();
  await rm(folder, { recursive: true, force: true });
}
