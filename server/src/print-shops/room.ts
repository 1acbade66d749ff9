import { printShopSchema } from '@kettle/contract';
import type { PrintShopFields } from '@kettle/core/orders';
import type { DesignRoom } from '../designs/room.js';
import { OwnFieldsStore } from '../floor/database/own-fields.js';
import { PRINT_SHOPS } from '../floor/files/shipped.js';
import { OwnThings } from '../floor/database/own-things.js';
import type { MakingRoom } from '../making/room.js';
import type { Ground } from '../render/render-pools.js';
import { ShopOrderStore } from './shop-order-store.js';
import { shopOrderKind } from './shop-order.js';
import { ShopOrderService } from './shop-orders.js';

const SHOP_WORDS = { code: 'print-shop', name: 'print shop', folder: PRINT_SHOPS, schema: printShopSchema };

export async function openPrintShops(house: Ground & DesignRoom & MakingRoom) {
  const { database, log, kinds } = house;
  const shopOrderStore = new ShopOrderStore(database);
  const shopStore = new OwnFieldsStore<PrintShopFields>(database, 'print_shop');
  const printShops = await OwnThings.open(SHOP_WORDS, shopStore, log);
  const known = { ...house, shopOrderStore, printShops };
  kinds.push(shopOrderKind(known));
  return { printShops, shopOrders: new ShopOrderService(known) };
}

export type PrintShopRoom = Awaited<ReturnType<typeof openPrintShops>>;
