import type { Ground } from '../render/render-pools.js';
import { FontStore } from './font-store.js';
import { LetteringService } from './lettering.js';

export function openLettering(ground: Ground) {
  const fontStore = new FontStore(ground.database);
  return { fontStore, lettering: new LetteringService({ ...ground, fontStore }) };
}

export type LetteringRoom = ReturnType<typeof openLettering>;
