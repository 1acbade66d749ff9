import { shopStepSchema, type ShopStep } from '@kettle/contract';
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { PrintShopWay } from '@kettle/core';
import { OutsideLine, type OutsidePlaces } from '../outside/line.js';
import { StoppedError } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import { SHOP_ORDER, SHOP_ORDER_ENGINE } from '../services/shop-orders.js';
import { askShop, sendToShop } from '../shops/print-shop.js';
import type { BlobStore } from '../stores/blobs.js';
import type { CallStore } from '../stores/calls.js';
import type { ShopOrderStore } from '../stores/shop-orders.js';
import type { JobKind } from './job-kind.js';

/** What orders are sent with. */
export interface ShopHouse {
  readonly shopOrders: ShopOrderStore;
  readonly calls: CallStore;
  readonly blobs: BlobStore;
  readonly places: OutsidePlaces;
  /** How a print shop is reached; null for one that is gone or that files are carried to. */
  readonly shopWay: (owner: string, shopId: string) => Promise<PrintShopWay | null>;
  /** Folder for what is on its way. */
  readonly cache: string;
}

/** Sends a print file to its shop, or asks for the answer. May be killed anywhere and done again: the shop has one order. */
export const shopOrderKind = ({ shopOrders, calls, blobs, places, shopWay, cache }: ShopHouse): JobKind<ShopStep> => ({
  kind: SHOP_ORDER,
  engine: SHOP_ORDER_ENGINE,
  lane: 'calls',
  payload: shopStepSchema,
  async run({ orderId, what }, { who, signal, progress }) {
    const order = await shopOrders.get(who.owner, orderId);
    if (!order) throw new ProblemError(404, 'no-such-order', 'What was to be sent is gone, with its design.');
    const way = await shopWay(who.owner, order.shopId);
    const place = way && places.get(way);
    if (!place) throw new ProblemError(409, 'not-connected', `${order.shop} is not connected. Nothing was sent.`);
    const line = new OutsideLine(order.shop, place, calls.recordOf({ shopOrderId: order.id }), signal);
    try {
      let remoteId = order.remoteId;
      if (what === 'send') {
        const { file } = order.rounds.at(-1)!;
        if (order.state !== 'looking') await shopOrders.become(order.id, 'sending');
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
        await shopOrders.sent(order, remoteId);
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
      await shopOrders.answered(order, { state, remarks: kept, price, days }, pictures);
      return order.id;
    } catch (error) {
      if (signal.aborted) throw new StoppedError('stopped');
      if (error instanceof ProblemError && what === 'send') await shopOrders.become(order.id, 'failed', error.message);
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
