import type { DesignRoom } from '../designs/room.js';
import type { ListingRoom } from '../listings/room.js';
import type { MakingRoom } from '../making/room.js';
import type { MockupRoom } from '../mockups/room.js';
import type { Ground } from '../render/render-pools.js';
import { ClientPageStore } from './client-page-store.js';
import { ClientPageService } from './client-pages.js';

export function openClients(house: Ground & DesignRoom & MakingRoom & MockupRoom & ListingRoom) {
  return { clientPages: new ClientPageService({ ...house, clientPageStore: new ClientPageStore(house.database) }) };
}

export type ClientRoom = ReturnType<typeof openClients>;
