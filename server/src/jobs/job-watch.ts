import type { Job } from '@kettle/contract';
import type { Caller } from '../caller.js';
import type { JobStore, OwnedJob } from '../stores/jobs.js';

const LOOK_MS = 250;
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
  private looking = false;

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
    this.timer ??= setInterval(() => void this.look(), LOOK_MS);
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size || !this.timer) return;
      clearInterval(this.timer);
      this.timer = null;
      this.sent.clear();
    };
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.listeners.clear();
  }

  private async look(): Promise<void> {
    if (this.looking) return;
    this.looking = true;
    try {
      const jobs = await this.jobs.lively(LIVELY_SECONDS);
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
    } finally {
      this.looking = false;
    }
  }
}

function tell({ who, heard }: Listener, { owner, job }: OwnedJob): void {
  if (owner === who.owner) heard(job);
}
