import type { DesignRoom } from '../designs/room.js';
import { FailureStore } from '../floor/queue/failure-store.js';
import type { Ground } from '../render/render-pools.js';
import type { RequirementRoom } from '../requirements/room.js';
import { FailureService } from './failures.js';
import { makeStep } from './make-step.js';
import type { OutputKind } from './output-kind.js';
import { OutputStore } from './output-store.js';
import { OutputService } from './outputs.js';
import { printFileKind } from './print-file.js';
import { proofSheetKind } from './proof-sheet.js';

export function openMaking(house: Ground & RequirementRoom & DesignRoom) {
  const { database, kinds, reader, profiles, designs } = house;
  const outputStore = new OutputStore(database);
  const outputs = new OutputService({ ...house, outputStore });
  /** From now on the queue makes outputs of a kind. */
  const makes = <Step, Recipe extends object, Facts>(kind: OutputKind<Step, Recipe, Facts>): void => {
    kinds.push(makeStep(kind as unknown as OutputKind, { ...house, outputStore }));
  };
  makes(printFileKind(reader, profiles));
  makes(proofSheetKind(reader, outputStore));
  return {
    outputStore,
    outputs,
    makes,
    failures: new FailureService(designs, new FailureStore(database), outputs, kinds),
  };
}

export type MakingRoom = ReturnType<typeof openMaking>;
