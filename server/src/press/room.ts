import type { DesignRoom } from '../designs/room.js';
import type { Ground } from '../render/render-pools.js';
import type { RequirementRoom } from '../requirements/room.js';
import { PressMeasureService } from './press-measures.js';

export function openPress(house: Ground & RequirementRoom & DesignRoom) {
  return { measures: new PressMeasureService(house) };
}

export type PressRoom = ReturnType<typeof openPress>;
