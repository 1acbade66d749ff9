import type { Failure, Job } from '@kettle/contract';
import type { Caller } from '../floor/basics/caller.js';
import type { JobKind } from '../floor/queue/job-kind.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { FailureStore, StoredFailure } from '../floor/queue/failure-store.js';
import type { DesignService } from '../designs/designs.js';
import type { OutputService } from './outputs.js';

/** Names of the runs that make some kinds of outputs; the others are called as their kind. */
const RUNS: Readonly<Record<string, Job['kind']>> = { 'print-file': 'print-files', picture: 'pictures', clip: 'clips' };

/** What was asked for of a design and could not be made: kept where it belongs until it is made or dismissed. */
export class FailureService {
  constructor(
    private readonly designs: DesignService,
    private readonly store: FailureStore,
    private readonly outputs: OutputService,
    private readonly kinds: readonly JobKind[],
  ) {}

  async of(who: Caller, designId: string): Promise<Failure[]> {
    await this.designs.get(who, designId);
    return (await this.store.of(designId)).map(({ step: _step, ...failure }) => failure);
  }

  /** Asks for it again, of the design as it is now. What it says stays until it is made. */
  async again(who: Caller, designId: string, id: string): Promise<Job> {
    const design = await this.designs.get(who, designId);
    const { kind, step } = await this.get(designId, id);
    const output = this.kinds.find((one) => one.kind === kind)!;
    return this.outputs.queue(who, { kind: RUNS[kind] ?? kind, design }, [
      { kind, engine: output.engine, payload: { ...step, revision: design.revision } },
    ]);
  }

  async dismiss(who: Caller, designId: string, id: string): Promise<void> {
    await this.designs.get(who, designId);
    // Made or dismissed elsewhere meanwhile: it is gone, as was wished.
    await this.store.dismiss(designId, id);
  }

  private async get(designId: string, id: string): Promise<StoredFailure> {
    const found = (await this.store.of(designId)).find((one) => one.id === id);
    if (!found) throw new ProblemError(404, 'no-such-failure', 'This was made or dismissed in the meantime.');
    return found;
  }
}
