import { clipRequirementSchema } from '@kettle/contract';
import type { ClipRequirementFields } from '@kettle/core/clip';
import type { DesignRoom } from '../designs/room.js';
import { OwnFieldsStore } from '../floor/database/own-fields.js';
import { CLIP_REQUIREMENTS, MUSIC } from '../floor/files/shipped.js';
import { OwnThings } from '../floor/database/own-things.js';
import type { MakingRoom } from '../making/room.js';
import type { MockupRoom } from '../mockups/room.js';
import type { Ground } from '../render/render-pools.js';
import { clipKind } from './clip.js';
import { ClipService } from './clips.js';
import { MusicStore } from './music-store.js';
import { MusicService } from './music.js';

/** How requirements for clips are spoken of. */
export const CLIP_REQUIREMENT_WORDS = {
  code: 'requirement',
  name: 'requirement for clips',
  folder: CLIP_REQUIREMENTS,
  schema: clipRequirementSchema,
};

export async function openClips(house: Ground & DesignRoom & MakingRoom & MockupRoom) {
  const { database, blobs, pools, cache, log, makes, pictureRecipes } = house;
  const music = await MusicService.open(MUSIC, new MusicStore(database), blobs, pools.intake, cache);
  const store = new OwnFieldsStore<ClipRequirementFields>(database, 'clip_requirement');
  makes(clipKind(pictureRecipes, music));
  return {
    music,
    clips: new ClipService(house),
    clipRequirements: await OwnThings.open(CLIP_REQUIREMENT_WORDS, store, log),
  };
}

export type ClipRoom = Awaited<ReturnType<typeof openClips>>;
