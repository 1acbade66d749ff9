import type { DesignRoom } from '../designs/room.js';
import type { MakingRoom } from '../making/room.js';
import type { MockupRoom } from '../mockups/room.js';
import type { Ground } from '../render/render-pools.js';
import type { RequirementRoom } from '../requirements/room.js';
import { PackageStore } from './package-store.js';
import { PackageService } from './packages.js';

export function openPackages(house: Ground & RequirementRoom & DesignRoom & MakingRoom & MockupRoom) {
  return { packages: new PackageService({ ...house, packageStore: new PackageStore(house.database) }) };
}

export type PackageRoom = ReturnType<typeof openPackages>;
