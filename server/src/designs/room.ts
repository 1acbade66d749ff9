import type { ArtworkRoom } from '../artwork/room.js';
import { Deriver } from '../documents/deriver.js';
import type { LetteringRoom } from '../lettering/room.js';
import type { Ground } from '../render/render-pools.js';
import type { RequirementRoom } from '../requirements/room.js';
import { ClothMeasureService } from './cloth-measures.js';
import { DesignFileService } from './design-files.js';
import { DesignReader } from './design-reader.js';
import { DesignStore } from './design-store.js';
import { DesignService } from './designs.js';
import { Judge } from './judge.js';
import { MeasureStore } from './measure-store.js';
import { SheetStore } from './sheet-store.js';

export function openDesigns(house: Ground & RequirementRoom & LetteringRoom & ArtworkRoom) {
  const { database, blobs, pools, assets, lettering, log } = house;
  const deriver = new Deriver(pools.think);
  const designStore = new DesignStore(database);
  const sheetStore = new SheetStore(database);
  const measureStore = new MeasureStore(database);
  const onCloths = new ClothMeasureService(measureStore, blobs, pools.measure);
  const known = { ...house, deriver, designStore, sheetStore, onCloths };
  const judge = new Judge(known);
  const designs = new DesignService({ ...known, judge });
  // What was judged of a picture no longer holds when other letters stand in it, or when it was looked at anew.
  const forget = (): void => judge.forget();
  lettering.onChange((who) => assets.lookAgainAtText(who, forget));
  void assets
    .measureAgain(forget)
    .catch((error: unknown) => log.warn({ err: error }, 'artwork could not be measured again'));
  return {
    deriver,
    designStore,
    sheetStore,
    measureStore,
    onCloths,
    judge,
    designs,
    reader: new DesignReader(known),
    designFiles: new DesignFileService({ ...known, designs }),
  };
}

export type DesignRoom = ReturnType<typeof openDesigns>;
