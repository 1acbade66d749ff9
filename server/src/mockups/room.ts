import type { ArtworkRoom } from '../artwork/room.js';
import type { DesignRoom } from '../designs/room.js';
import type { MakingRoom } from '../making/room.js';
import type { Ground } from '../render/render-pools.js';
import { BlankPackStore } from './blank-pack-store.js';
import { BlankService } from './blanks.js';
import { MockupFileService } from './mockup-files.js';
import { OwnBlankService } from './own-blanks.js';
import { PictureOutputService } from './picture-outputs.js';
import { PictureSetStore } from './picture-set-store.js';
import { PictureSetService } from './picture-sets.js';
import { pictureKind, PictureRecipes } from './picture.js';

/** Folders of what ships. */
export interface MockupFolders {
  readonly blanks: string;
  readonly pictureSets: string;
}

export async function openMockups(house: Ground & ArtworkRoom & DesignRoom & MakingRoom, folders: MockupFolders) {
  const { database, blobs, pools, cache, log, reader, designStore, makes } = house;
  const blanks = await BlankService.open(folders.blanks, new BlankPackStore(database), blobs, pools.view, cache, log);
  const pictureRecipes = new PictureRecipes(reader, blanks);
  const store = new PictureSetStore(database);
  const pictureSets = await PictureSetService.open(folders.pictureSets, store, designStore, pictureRecipes, log);
  makes(pictureKind(pictureRecipes));
  const known = { ...house, blanks, pictureRecipes, pictureSets };
  return {
    blanks,
    pictureRecipes,
    pictureSets,
    ownBlanks: new OwnBlankService(known),
    pictureOutputs: new PictureOutputService(known),
    mockupFiles: new MockupFileService(known),
  };
}

export type MockupRoom = Awaited<ReturnType<typeof openMockups>>;
