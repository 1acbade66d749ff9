import type { Floor } from '../floor/floor.js';
import { DISK_DUTIES } from './disk-duties.js';
import { DUTIES } from './duties.js';
import { KeeperStore } from './keeper-store.js';
import { Keeper } from './keeper.js';

export function openKeeper({ database, cache, log }: Floor) {
  const onDisk = DISK_DUTIES.map((duty) => duty(cache));
  return { keeper: new Keeper(new KeeperStore(database), [...DUTIES], onDisk, log) };
}
