import type { DesignRoom } from '../designs/room.js';
import type { ListingRoom } from '../listings/room.js';
import type { MakingRoom } from '../making/room.js';
import type { Ground } from '../render/render-pools.js';
import { askSalesKind } from './ask-sales.js';
import { HistoryStore } from './history-store.js';
import { HistoryService } from './history.js';

export function openRecord(house: Ground & DesignRoom & MakingRoom & ListingRoom) {
  const historyStore = new HistoryStore(house.database);
  const history = new HistoryService({ ...house, historyStore });
  house.kinds.push(askSalesKind({ ...house, history, historyStore }));
  return { history };
}

export type RecordRoom = ReturnType<typeof openRecord>;
