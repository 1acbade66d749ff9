import { SELLER } from '../floor/basics/caller.js';
import { openFloor, type FloorOptions } from '../floor/floor.js';
import { PICTURE_SETS } from '../floor/files/shipped.js';
import type { Lane } from '../floor/queue/job-kind.js';
import { Worker, Workers } from '../floor/queue/worker.js';
import { GateStore } from '../floor/safety/gate-store.js';
import { openArtwork } from '../artwork/room.js';
import { openClients } from '../clients/room.js';
import { openClips } from '../clips/room.js';
import { openDesigns } from '../designs/room.js';
import { openKeeper } from '../keeper/room.js';
import { openLettering } from '../lettering/room.js';
import { MarketAnswers } from '../listings/market-answers.js';
import { openListings } from '../listings/room.js';
import { openMaking } from '../making/room.js';
import { openMockups } from '../mockups/room.js';
import { openOrders } from '../orders/room.js';
import { openPackages } from '../packages/room.js';
import { openPress } from '../press/room.js';
import { openPrintShops } from '../print-shops/room.js';
import { openRecord } from '../record/room.js';
import type { RenderPool } from '../render/render-pool.js';
import { openPools, poolsOf, usualExporters, type RenderPools } from '../render/render-pools.js';
import { openRequirements } from '../requirements/room.js';
import { openSheet } from '../sheet/room.js';

export interface HouseOptions extends FloorOptions {
  readonly blanks: string;
  /** Folder of the shipped picture sets. */
  readonly pictureSets?: string;
  readonly mostUploadBytes?: number;
  /** How many exports are made side by side; as many as there are cores, two at most, when absent. */
  readonly exporters?: number;
  /** Processes that are shared with other houses on the same folder of copies, and outlive this one. */
  readonly pools?: RenderPools;
}

/** All rooms of one process, each on those below it. */
export async function openHouse({
  blanks,
  pictureSets = PICTURE_SETS,
  mostUploadBytes,
  exporters = usualExporters(),
  pools: shared,
  ...options
}: HouseOptions) {
  const floor = await openFloor(options);
  const pools = shared ?? (await openPools(floor.cache, exporters));
  const ground = { ...floor, pools, mostUploadBytes };
  const asked = { ...ground, ...openRequirements(ground), ...openLettering(ground) };
  const pictured = { ...asked, ...openArtwork(asked) };
  const designed = { ...pictured, ...openDesigns(pictured) };
  const pressed = { ...designed, ...openPress(designed), ...openMaking(designed) };
  const shown = { ...pressed, ...(await openMockups(pressed, { blanks, pictureSets })) };
  const filmed = { ...shown, ...openPackages(shown), ...(await openClips(shown)) };
  const sold = { ...filmed, ...(await openListings(filmed)), ...(await openPrintShops(filmed)) };
  const house = { ...sold, ...openClients(sold), ...openOrders(sold), ...openRecord(sold), ...openSheet(sold) };

  const { database, disk, watch, jobs, kinds, log, markets, publications, channelRules, shopOrders, history } = house;
  const inLanes = (lanes: readonly Lane[], pool: RenderPool): Worker =>
    new Worker(
      jobs,
      lanes.flatMap((lane) => kinds.filter((kind) => kind.lane === lane)),
      pool,
      log,
    );
  const { keeper } = openKeeper(house);
  return {
    ...house,
    keeper,
    remarks: new Map<'demo', string>(),
    gate: new GateStore(database),
    allPools: poolsOf(pools),
    marketAnswers: new MarketAnswers(markets, publications, {
      channelsBy: async (by) =>
        (await channelRules.list(SELLER)).filter((rules) => rules.by === by).map(({ id }) => id),
      shopTold: (reference) => shopOrders.told(reference),
      sold: (by, publication, sale) => history.hear(by, publication, sale),
    }),
    workers: new Workers(jobs, [
      inLanes(['soon'], pools.soon),
      // Markets take their time: nobody else waits for them.
      inLanes(['calls'], pools.soon),
      // A row of listing pictures keeps all cores busy too, where no print file waits.
      ...Array.from({ length: exporters }, () => inLanes(['export', 'soon'], pools.make)),
    ]),
    async close(): Promise<void> {
      watch.stop();
      await keeper.stop();
      disk.stop();
      if (!shared) for (const pool of poolsOf(pools)) pool.close();
      await database.close();
    },
  };
}

export type House = Awaited<ReturnType<typeof openHouse>>;
