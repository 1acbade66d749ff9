import type { DesignRoom } from '../designs/room.js';
import type { ListingRoom } from '../listings/room.js';
import type { MockupRoom } from '../mockups/room.js';
import type { Ground } from '../render/render-pools.js';
import type { RequirementRoom } from '../requirements/room.js';
import { SheetService } from './sheet.js';

export function openSheet(house: Ground & RequirementRoom & DesignRoom & MockupRoom & ListingRoom) {
  return { sheet: new SheetService(house) };
}

export type SheetRoom = ReturnType<typeof openSheet>;
