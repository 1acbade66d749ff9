import type { AnySchema } from 'yup';
import type { Caller } from '../basics/caller.js';

/** Which queue a step stands in: what somebody waits for does not wait behind what takes long. */
export type Lane = 'soon' | 'export' | 'calls';

/** What a handler has besides its payload. */
export interface JobContext<Pool = unknown> {
  /** Whose run it is. */
  readonly who: Caller;
  /** Given up when the step is cancelled or the worker stops. */
  readonly signal: AbortSignal;
  /** Says how far the step is, 0 to 1. */
  readonly progress: (share: number) => void;
  /** Ids of what the stages before this one made, in the order of their steps. */
  readonly before: () => Promise<readonly string[]>;
  /** Processes of the step's lane. */
  readonly pool: Pool;
}

/** One kind of step in the queue. Registered in its room. */
export interface JobKind<Payload = unknown, Pool = unknown> {
  readonly kind: string;
  readonly engine: number;
  readonly lane: Lane;
  /** Checked when a step is claimed: what was written by another version may be anything. */
  readonly payload: AnySchema;
  /** Does the step and answers the id of its result. @throws ProblemError with a sentence for the seller */
  run(payload: Payload, context: JobContext<Pool>): Promise<string>;
}
