import { refuse } from '@kettle/contract';
import { hostname } from 'node:os';
import { isDatabaseAway } from '../database/database.js';
import type { Log } from '../basics/log.js';
import { DiedError, StoppedError } from '../processes/process-pool.js';
import { machineSentence, ProblemError } from '../basics/problem-error.js';
import { newId } from '../database/ids.js';
import { MOST_ATTEMPTS, MOST_LAPSES, type ClaimedJob, type JobStore } from './job-store.js';
import type { JobKind } from './job-kind.js';

/** How often a claim is renewed and a cancel noticed. */
const HEARTBEAT_MS = 1000;
/** How often it is looked whether another process left something to do. What this process asks for is told at once. */
const LOOK_MS = 1000;
/** How often progress is written down at most. */
const PROGRESS_MS = 300;

const GIVEN_UP =
  `This was tried ${MOST_ATTEMPTS} times, and each time the process that draws it ended before it was done. ` +
  'That is most often a lack of memory: look at the largest picture of the design, or make files one after the other. The design is safe.';
const NOT_UNDERSTOOD =
  'This step was written down by another version of Kettle Sheet and is not understood. Press the button again.';

/**
 * Takes steps of some kinds from the queue one by one. Any number of workers, in any number of processes, may share
 * one database.
 */
export class Worker {
  private readonly name = `${hostname()} ${process.pid} ${newId()}`;
  private stopping = false;
  private halt = new AbortController();
  private running: Promise<void> = Promise.resolve();
  private wake: () => void = () => undefined;
  /** True when there may be something to do since it was looked last. */
  private told = true;

  /** @param kinds what it can do; of several, those named first are taken first */
  constructor(
    private readonly jobs: JobStore,
    private readonly kinds: readonly JobKind[],
    private readonly pool: unknown,
    private readonly log: Log,
  ) {}

  start(): void {
    this.stopping = false;
    this.halt = new AbortController();
    this.running = this.loop();
  }

  /** Looks for work, now or as soon as the step in hand is over. */
  nudge(): void {
    this.told = true;
    this.wake();
  }

  /** Ends at once: the step in hand goes back to the queue, and its drawing is stopped. */
  async stop(): Promise<void> {
    this.stopping = true;
    this.halt.abort();
    this.nudge();
    await this.running;
  }

  private async loop(): Promise<void> {
    while (!this.stopping) {
      let job: ClaimedJob | null = null;
      this.told = false;
      try {
        job = await this.jobs.claim(this.name, this.kinds);
        if (job) await this.work(job);
      } catch (error) {
        // A database that is away comes back; the lease hands the step to whoever asks first.
        if (!isDatabaseAway(error)) this.log.error({ err: error }, 'the worker met what it did not foresee');
      }
      if (!job && !this.told) await new Promise<void>((resolve) => (this.wake = resolve));
    }
  }

  private async work(job: ClaimedJob): Promise<void> {
    if (job.attempts > MOST_ATTEMPTS || job.lapses > MOST_LAPSES) {
      await this.jobs.fail(job.id, this.name, GIVEN_UP);
      return;
    }
    const stop = new AbortController();
    const halt = (): void => stop.abort();
    const { signal } = this.halt;
    signal.addEventListener('abort', halt);
    if (signal.aborted) halt();
    const beat = setInterval(() => {
      this.jobs.heartbeat(job.id, this.name).then(
        (mine) => {
          if (!mine) stop.abort();
        },
        () => undefined,
      );
    }, HEARTBEAT_MS);
    try {
      await this.jobs.finish(job.id, this.name, await this.run(job, stop.signal));
    } catch (error) {
      await this.broke(job, error);
    } finally {
      clearInterval(beat);
      signal.removeEventListener('abort', halt);
    }
  }

  private run(job: ClaimedJob, signal: AbortSignal): Promise<string> {
    const kind = this.kinds.find((one) => one.kind === job.kind)!;
    const wrong = refuse(kind.payload, job.payload);
    if (wrong) {
      this.log.warn({ job: job.id, kind: job.kind, wrong }, 'the payload of a step is not as its kind demands');
      throw new ProblemError(422, 'not-understood', NOT_UNDERSTOOD);
    }
    let told = 0;
    const progress = (share: number): void => {
      if (Date.now() - told < PROGRESS_MS) return;
      told = Date.now();
      this.jobs.progress(job.id, this.name, share).catch(() => undefined);
    };
    return kind.run(job.payload, {
      who: { owner: job.owner },
      signal,
      progress,
      before: () => this.jobs.before(job),
      pool: this.pool,
    });
  }

  /** What becomes of a step that did not come to its end. */
  private async broke(job: ClaimedJob, error: unknown): Promise<void> {
    if (error instanceof StoppedError) {
      // Cancelled steps are no longer this worker's: giving them back changes nothing.
      await this.jobs.giveBack(job.id, this.name, false);
      return;
    }
    if (isDatabaseAway(error)) throw error;
    if (error instanceof DiedError) {
      this.log.warn({ job: job.id, attempt: job.attempts }, 'the process that draws a step died');
      if (job.attempts >= MOST_ATTEMPTS) await this.jobs.fail(job.id, this.name, GIVEN_UP);
      else await this.jobs.giveBack(job.id, this.name, true);
      return;
    }
    const sentence = machineSentence(error) ?? (error instanceof ProblemError ? error.message : null);
    if (!sentence) this.log.error({ err: error, job: job.id }, 'a step met what it did not foresee');
    await this.jobs.fail(
      job.id,
      this.name,
      sentence ?? 'Something went wrong in making this file. The design is safe; try again.',
    );
  }
}

/**
 * Workers of a process, one for each lane: what somebody waits for does not wait behind what takes long. They are told
 * when this process changes the queue; one look for all of them finds what others have left there.
 */
export class Workers {
  private timer: NodeJS.Timeout | null = null;
  private hush: () => void = () => undefined;

  constructor(
    private readonly jobs: JobStore,
    private readonly all: readonly Worker[],
  ) {}

  start(): void {
    this.hush = this.jobs.onChange((mayBeTaken) => {
      if (mayBeTaken) this.nudge();
    });
    for (const worker of this.all) worker.start();
    this.lookAgain();
  }

  async stop(): Promise<void> {
    this.hush();
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    await Promise.all(this.all.map((worker) => worker.stop()));
  }

  private nudge(): void {
    for (const worker of this.all) worker.nudge();
  }

  private lookAgain(): void {
    this.timer = setTimeout(() => {
      void this.jobs
        // A database that is away comes back.
        .hasOpenSteps()
        .catch(() => false)
        .then((open) => {
          if (open) this.nudge();
          if (this.timer) this.lookAgain();
        });
    }, LOOK_MS);
  }
}
