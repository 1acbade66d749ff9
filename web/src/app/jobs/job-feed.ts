import { Injectable, computed, inject, signal } from '@angular/core';
import type { Job } from '@kettle/contract';
import { Observable, share } from 'rxjs';
import { Api } from '../data/api';
import { Notices } from '../data/notices';

/** Progress of everything that is being made, as it happens. */
@Injectable({ providedIn: 'root' })
export class JobFeed {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly jobs = signal<Readonly<Record<string, Job>>>({});
  private readonly told = new Set<string>();

  /** Every change of a job. */
  readonly changes: Observable<Job> = new Observable<Job>((observer) => {
    const source = new EventSource('/api/events');
    // A stream that was away may have missed an end: what seems to run is asked for.
    source.addEventListener('open', () => {
      for (const { id } of this.running())
        this.api.job(id).subscribe({ next: (job) => observer.next(job), error: () => this.forget(id) });
    });
    source.addEventListener('job', (event) => observer.next(JSON.parse((event as MessageEvent<string>).data) as Job));
    return () => source.close();
  }).pipe(share());

  readonly running = computed(() =>
    Object.values(this.jobs()).filter((job) => job.state === 'queued' || job.state === 'running'),
  );
  readonly done = computed(() => this.running().reduce((sum, job) => sum + job.done, 0));
  /** How far the steps under way are, in steps. */
  readonly within = computed(() => this.running().reduce((sum, job) => sum + job.within, 0));
  readonly total = computed(() => this.running().reduce((sum, job) => sum + job.total, 0));

  constructor() {
    this.changes.subscribe((job) => {
      this.jobs.update((all) => ({ ...all, [job.id]: job }));
      if (job.state === 'queued' || job.state === 'running' || this.told.has(job.id)) return;
      this.told.add(job.id);
      if (job.state === 'failed') this.notices.complain(job.message);
    });
  }

  private forget(id: string): void {
    this.jobs.update(({ [id]: _gone, ...others }) => others);
  }

  runningFor(designId: string | null, kind: Job['kind']): Job[] {
    return this.running().filter((job) => job.designId === designId && job.kind === kind);
  }

  cancel(jobs: readonly Job[]): void {
    for (const job of jobs)
      this.api.cancelJob(job.id).subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }
}
