import type { Ground } from '../render/render-pools.js';
import { ProfileStore } from './profile-store.js';
import { ProfileService } from './profiles.js';
import { RequirementLibrary } from './requirement-library.js';
import { RequirementStore } from './requirement-store.js';

export function openRequirements(ground: Ground) {
  const requirements = new RequirementStore(ground.database);
  const profileStore = new ProfileStore(ground.database);
  const profiles = new ProfileService({ ...ground, requirements, profileStore });
  return { requirements, profiles, library: new RequirementLibrary(requirements, profiles) };
}

export type RequirementRoom = ReturnType<typeof openRequirements>;
