import { shopStepSchema, type ShopStep } from '@kettle/contract';
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { PrintShopFields } from '@kettle/core/orders';
import { OutsideLine, type OutsidePlaces } from '../floor/outside/line.js';
import { StoppedError } from '../floor/processes/process-pool.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { SHOP_ORDER, SHOP_ORDER_ENGINE } from './shop-orders.js';
import { askShop, sendToShop } from './print-shop.js';
import type { OwnThings } from '../floor/database/own-things.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { CallStore } from '../floor/outside/call-store.js';
import type { ShopOrderStore } from './shop-order-store.js';
import type { JobKind } from '../floor/queue/job-kind.js';

/** What orders are sent with. */
export interface ShopDeps {
  readonly shopOrderStore: ShopOrderStore;
  readonly calls: CallStore;
  readonly blobs: BlobStore;
  readonly markets: OutsidePlaces;
  readonly printShops: OwnThings<PrintShopFields>;
  /** Folder for what is on its way. */
  readonly cache: string;
}

/** Sends a print file to its shop, or asks for the answer. May be killed anywhere and done again: the shop has one order. */
export const shopOrderKind = ({
  shopOrderStore,
  calls,
  blobs,
  markets,
  printShops,
  cache,
}: ShopDeps): JobKind<ShopStep> => ({
  kind: SHOP_ORDER,
  engine: SHOP_ORDER_ENGINE,
  lane: 'calls',
  payload: shopStepSchema,
  async run({ orderId, what }, { who, signal, progress }) {
    const order = await shopOrderStore.get(who.owner, orderId);
    if (!order) throw new ProblemError(404, 'no-such-order', 'What was to be sent is gone, with its design.');
    // One that is gone, or that files are carried to, is not reached.
    const way = (await printShops.find(who, order.shopId))?.by;
    const place = way && markets.get(way);
    if (!place) throw new ProblemError(409, 'not-connected', `${order.shop} is not connected. Nothing was sent.`);
    const line = new OutsideLine(order.shop, place, calls.recordOf({ shopOrderId: order.id }), signal);
    try {
      let remoteId = order.remoteId;
      if (what === 'send') {
        const { file } = order.rounds.at(-1)!;
        if (order.state !== 'looking') await shopOrderStore.become(order.id, 'sending');
        remoteId = await sendToShop(
          {
            reference: order.id,
            round: order.round,
            sheet: order.sheet,
            file,
            content: async () => readFile(await blobs.localPath(file.sha256)),
          },
          line,
        );
        await shopOrderStore.sent(order, remoteId);
        progress(0.8);
      }
      if (!remoteId) return order.id;
      // What was sent may be answered at once, and what told us of an answer may have come before we knew of the order.
      const { state, remarks, price, days } = await askShop(remoteId, order.round, line);
      if (state === 'looking') return order.id;
      const kept = [];
      for (const { picture, ...remark } of remarks)
        kept.push({ ...remark, picture: picture && (await put(picture, blobs, cache)) });
      const pictures = kept.flatMap(({ picture }) => picture ?? []);
      await shopOrderStore.answered(order, { state, remarks: kept, price, days }, pictures);
      return order.id;
    } catch (error) {
      if (signal.aborted) throw new StoppedError('stopped');
      if (error instanceof ProblemError && what === 'send')
        await shopOrderStore.become(order.id, 'failed', error.message);
      throw error;
    }
  },
});

/** Keeps a picture by its content. */
async function put(bytes: Buffer, blobs: BlobStore, cache: string): Promise<string> {
  const folder = join(cache, 'outgoing');
  const path = join(folder, `${randomUUID()}.png`);
  await mkdir(folder, { recursive: true });
  try {
    await writeFile(path, bytes);
    return (await blobs.put(path)).sha256;
  } finally {
    await rm(path, { force: true });
  }
}
