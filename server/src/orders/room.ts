import type { DesignRoom } from '../designs/room.js';
import type { MakingRoom } from '../making/room.js';
import type { MockupRoom } from '../mockups/room.js';
import type { PrintShopRoom } from '../print-shops/room.js';
import type { Ground } from '../render/render-pools.js';
import { PrintRunStore } from './print-run-store.js';
import { PrintRunService } from './print-runs.js';

export function openOrders(house: Ground & DesignRoom & MakingRoom & MockupRoom & PrintShopRoom) {
  return { printRuns: new PrintRunService({ ...house, printRunStore: new PrintRunStore(house.database) }) };
}

export type OrderRoom = ReturnType<typeof openOrders>;
