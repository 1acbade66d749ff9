import type { ArtworkRoom } from '../artwork/room.js';
import { DesignProcessor } from '../documents/design-processor.js';
import type { LetteringRoom } from '../lettering/room.js';
import type { Ground } from '../render/render-pools.js';
import type { RequirementRoom } from '../requirements/room.js';
import { ClothMeasureService } from './cloth-measures.js';
import { DesignFileService } from './design-files.js';
import { DesignReader } from './design-reader.js';
import { DesignStore } from './design-store.js';
import { DesignService } from './designs.js';
import { TargetChecks } from './target-checks.js';
import { MeasureStore } from './measure-store.js';
import { SheetStore } from './sheet-store.js';

export function openDesigns(house: Ground & RequirementRoom & LetteringRoom & ArtworkRoom) {
  const { database, blobs, pools, assets, lettering, log } = house;
  const processor = new DesignProcessor(pools.think);
  const designStore = new DesignStore(database);
  const sheetStore = new SheetStore(database);
  const measureStore = new MeasureStore(database);
  const onCloths = new ClothMeasureService(measureStore, blobs, pools.measure);
  const known = { ...house, processor, designStore, sheetStore, onCloths };
  const checks = new TargetChecks(known);
  const designs = new DesignService({ ...known, checks });
  // What was judged of a picture no longer holds when other letters stand in it, or when it was looked at anew.
  const forget = (): void => checks.forget();
  lettering.onChange((who) => assets.lookAgainAtText(who, forget));
  void assets
    .measureAgain(forget)
    .catch((error: unknown) => log.warn({ err: error }, 'artwork could not be measured again'));
  return {
    processor,
    designStore,
    sheetStore,
    measureStore,
    onCloths,
    checks,
    designs,
    reader: new DesignReader(known),
    designFiles: new DesignFileService({ ...known, designs }),
  };
}

export type DesignRoom = ReturnType<typeof openDesigns>;
