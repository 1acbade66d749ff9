import type { Job } from '@kettle/contract';
import type { JobStore } from '../stores/jobs.js';

const LOOK_MS = 250;
/** How far back a look goes: longer than any look takes. */
const LIVELY_SECONDS = 5;

/** Watches the queue for all who listen with one look at the database, however many they are. Jobs of all workers are seen. */
export class JobWatch {
  private readonly listeners = new Set<(job: Job) => void>();
  private readonly sent = new Map<string, string>();
  private timer: NodeJS.Timeout | null = null;
  private looking = false;

  constructor(private readonly jobs: JobStore) {}

  get count(): number { return this.listeners.size; }

  /** Hears every change of a job, beginning with all that are under way. Answers how to stop. */
  listen(heard: (job: Job) => void): () => void {
    this.listeners.add(heard);
    void this.jobs.lively(LIVELY_SECONDS).then((jobs) => { if (this.listeners.has(heard)) jobs.forEach(heard); }, () => undefined);
    this.timer ??= setInterval(() => void this.look(), LOOK_MS);
    return () => {
      this.listeners.delete(heard);
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
      const seen = new Set(jobs.map((job) => job.id));
      for (const id of this.sent.keys()) if (!seen.has(id)) this.sent.delete(id);
      for (const job of jobs) {
        const text = JSON.stringify(job);
        if (this.sent.get(job.id) === text) continue;
        this.sent.set(job.id, text);
        for (const heard of this.listeners) heard(job);
      }
    } catch {
      // The database is away; the next look tries again.
    } finally {
      this.looking = false;
    }
  }
}
