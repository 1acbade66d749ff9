import type { AnySchema } from 'yup';
import type { Caller } from '../caller.js';
import type { Lane } from '../making/output-kind.js';
import type { RenderPool } from '../render/render-pool.js';

/** What a handler has besides its payload. */
export interface JobContext {
  /** Whose run it is. */
  readonly who: Caller;
  /** Given up when the step is cancelled or the worker stops. */
  readonly signal: AbortSignal;
  /** Says how far the step is, 0 to 1. */
  readonly progress: (share: number) => void;
  /** Ids of what the stages before this one made, in the order of their steps. */
  readonly before: () => Promise<readonly string[]>;
  /** Render processes of the step's lane. */
  readonly pool: RenderPool;
}

/** One kind of step in the queue. Registered once, in `job-kinds.ts`. */
export interface JobKind<Payload = unknown> {
  readonly kind: string;
  readonly engine: number;
  readonly lane: Lane;
  /** Checked when a step is claimed: what was written by another version may be anything. */
  readonly payload: AnySchema;
  /** Does the step and answers the id of its result. @throws ProblemError with a sentence for the seller */
  run(payload: Payload, context: JobContext): Promise<string>;
}
