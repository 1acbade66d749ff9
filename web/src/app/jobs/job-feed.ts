import { Injectable, computed, inject, signal } from '@angular/core';
import type { Job } from '@kettle/contract';
import { Observable, catchError, of, share } from 'rxjs';
import { Api } from '../data/api';
import { problemOf } from '../data/problems';
import { Notices } from '../data/notices';

/** True while a run has steps that may still be done. */
const isOpen = ({ state }: Job): boolean => state === 'queued' || state === 'running' || state === 'paused';

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
        this.api.ask('get /api/jobs/{id}', { id }).subscribe({
          next: (job) => observer.next(job),
          error: (error: unknown) => {
            if (problemOf(error)) this.forget(id);
          },
        });
    });
    source.addEventListener('job', (event) => observer.next(JSON.parse((event as MessageEvent<string>).data) as Job));
    return () => source.close();
  }).pipe(share());

  // What asks markets what they sold makes nothing that anybody waits for.
  readonly running = computed(() =>
    Object.values(this.jobs()).filter((job) => isOpen(job) && job.kind !== 'ask-sales'),
  );
  /** Those of them that go on: what somebody holds makes nothing. */
  readonly busy = computed(() => this.running().filter(({ state }) => state !== 'paused'));
  /** Runs of several designs, the newest first, those that are over too until they are put away. */
  readonly runs = computed(() =>
    Object.values(this.jobs())
      .filter((job) => job.kind === 'print-files' && job.designId === null && !this.putAway().has(job.id))
      .reverse(),
  );
  private readonly putAway = signal<ReadonlySet<string>>(new Set());
  readonly done = computed(() => this.busy().reduce((sum, job) => sum + job.done, 0));
  /** How far the steps under way are, in steps. */
  readonly within = computed(() => this.busy().reduce((sum, job) => sum + job.within, 0));
  readonly total = computed(() => this.busy().reduce((sum, job) => sum + job.total, 0));

  constructor() {
    this.changes.subscribe((job) => {
      this.jobs.update((all) => ({ ...all, [job.id]: job }));
      if (isOpen(job) || this.told.has(job.id)) return;
      this.told.add(job.id);
      // A run of several designs has a panel of its own, which lists what failed.
      if (job.state === 'failed' && job.designId !== null) this.complain(job);
    });
  }

  /** Says what was not made, by name. */
  private complain({ id, message }: Job): void {
    this.api
      .ask('get /api/jobs/{id}/steps', { id })
      // eslint-disable-next-line no-restricted-syntax -- the run's own sentence is told instead
      .pipe(catchError(() => of([])))
      .subscribe((steps) => {
        const [first, ...others] = steps.filter((step) => step.state === 'failed');
        const more =
          others.length === 1
            ? ' One more was not made.'
            : others.length
              ? ` ${others.length} more were not made.`
              : '';
        this.notices.warn(first ? `“${first.filename}” was not made. ${first.message}${more}` : message);
      });
  }

  private forget(id: string): void {
    this.jobs.update(({ [id]: _gone, ...others }) => others);
  }

  runningFor(designId: string | null, kind: Job['kind']): Job[] {
    return this.running().filter((job) => designId !== null && job.designIds.includes(designId) && job.kind === kind);
  }

  /** Puts a run that is over out of sight. */
  putRunAway(id: string): void {
    this.putAway.update((before) => new Set([...before, id]));
  }

  pause(job: Job): void {
    this.take(this.api.ask('post /api/jobs/{id}/pause', { id: job.id }));
  }
  resume(job: Job): void {
    this.take(this.api.ask('post /api/jobs/{id}/resume', { id: job.id }));
  }
  private take(answer: Observable<Job>): void {
    answer.subscribe({
      next: (job) => this.jobs.update((all) => ({ ...all, [job.id]: job })),
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  cancel(jobs: readonly Job[]): void {
    for (const job of jobs)
      this.api
        .ask('delete /api/jobs/{id}', { id: job.id })
        .subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }
}
