import type { Job } from '@kettle/contract';
import type { Caller } from '../basics/caller.js';
import type { JobStore, OwnedJob } from './job-store.js';

/** How often it is looked at most, ms, and how often where nothing is under way: another process may begin something. */
const [BUSY_MS, QUIET_MS] = [250, 1000];
/** How far back a look goes: longer than any look takes. */
const LIVELY_SECONDS = 5;

interface Listener {
  readonly who: Caller;
  readonly heard: (job: Job) => void;
}

/**
 * Watches the queue for all who listen with one look at the database, however many they are. Each hears of runs of its
 * own, whichever worker does them.
 */
export class JobWatch {
  private readonly listeners = new Set<Listener>();
  private readonly sent = new Map<string, string>();
  private timer: NodeJS.Timeout | null = null;
  /** When it was looked last, by a clock that nobody sets; and what is to be looked at anew after the look in hand. */
  private lookedAt = 0;
  private looking = false;
  private stale = false;
  private hush: () => void = () => undefined;

  constructor(private readonly jobs: JobStore) {}

  get count(): number {
    return this.listeners.size;
  }

  /** Hears every change of a caller's runs, beginning with all that are under way. Answers how to stop. */
  listen(who: Caller, heard: (job: Job) => void): () => void {
    const listener: Listener = { who, heard };
    this.listeners.add(listener);
    void this.jobs.lively(LIVELY_SECONDS).then(
      (jobs) => {
        if (this.listeners.has(listener)) for (const one of jobs) tell(listener, one);
      },
      () => undefined,
    );
    if (this.listeners.size === 1) {
      this.hush = this.jobs.onChange(() => this.lookIn(BUSY_MS - (performance.now() - this.lookedAt)));
      this.lookIn(BUSY_MS);
    }
    return () => {
      this.listeners.delete(listener);
      if (!this.listeners.size) this.stop();
    };
  }

  stop(): void {
    this.hush();
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.listeners.clear();
    this.sent.clear();
  }

  /** The next look, in so many ms; a look in hand is followed by another one. */
  private lookIn(ms: number): void {
    this.stale = this.looking;
    if (this.looking) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.look(), Math.max(0, ms));
  }

  private async look(): Promise<void> {
    this.looking = true;
    this.lookedAt = performance.now();
    let busy = false;
    try {
      const jobs = await this.jobs.lively(LIVELY_SECONDS);
      busy = jobs.length > 0;
      const seen = new Set(jobs.map(({ job }) => job.id));
      for (const id of this.sent.keys()) if (!seen.has(id)) this.sent.delete(id);
      for (const one of jobs) {
        const text = JSON.stringify(one.job);
        if (this.sent.get(one.job.id) === text) continue;
        this.sent.set(one.job.id, text);
        for (const listener of this.listeners) tell(listener, one);
      }
    } catch {
      // The database is away; the next look tries again.
    }
    this.looking = false;
    if (this.listeners.size) this.lookIn(busy || this.stale ? BUSY_MS : QUIET_MS);
  }
}

function tell({ who, heard }: Listener, { owner, job }: OwnedJob): void {
  if (owner === who.owner) heard(job);
}
