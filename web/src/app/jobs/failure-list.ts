import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Failure } from '@kettle/contract';
import { asyncScheduler, filter, throttleTime } from 'rxjs';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { Notices } from '../data/notices';
import { JobFeed } from './job-feed';

/** Least time between two looks at what failed, ms. */
const LOOK_MS = 500;

/** What was asked for here and could not be made, with the reason, until it is made or dismissed. */
@Component({
  selector: 'ks-failure-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @for (failure of shown(); track failure.id) {
      <div class="failure" role="alert">
        <p>
          <b>{{ failure.filename }}</b> was not made. {{ failure.sentence }}
        </p>
        <button mat-button type="button" [disabled]="isAsked(failure)" (click)="again(failure)">
          {{ isAsked(failure) ? 'Trying again …' : 'Try again' }}
        </button>
        <button mat-button type="button" [disabled]="isAsked(failure)" (click)="dismiss(failure)">Dismiss</button>
      </div>
    }
  `,
  styles: `
    .failure {
      margin: 0 0 10px;
      padding: 8px 12px 4px;
      border-radius: 10px;
      background: var(--mend-ground);
      color: var(--ink);
    }
    p {
      margin: 0;
      overflow-wrap: anywhere;
    }
    b {
      font-weight: 600;
    }
  `,
})
export class FailureList {
  private readonly api = inject(Api);
  private readonly feed = inject(JobFeed);
  private readonly notices = inject(Notices);
  readonly designId = input.required<string | null>();
  /** Kinds of outputs that belong here. */
  readonly kinds = input.required<readonly string[]>();
  /** Only of this target, blank or clip; of all when absent. */
  readonly about = input<readonly string[]>();

  private readonly failures = new Loaded(
    () => {
      const id = this.designId();
      return id ? this.api.ask('get /api/designs/{id}/failures', { id }) : null;
    },
    {
      of: 'What could not be made',
      on: this.feed.changes.pipe(
        filter((job) => job.designIds.includes(this.designId() ?? '')),
        throttleTime(LOOK_MS, asyncScheduler, { leading: true, trailing: true }),
      ),
    },
  );
  private readonly all = computed(() => this.failures.value() ?? []);
  /** Ids of failures that are being tried again, with the runs that do it. */
  private readonly asked = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly shown = computed(() =>
    this.all().filter(
      ({ kind, about }) => this.kinds().includes(kind) && (this.about() === undefined || this.about()!.includes(about)),
    ),
  );

  protected isAsked({ id }: Failure): boolean {
    const run = this.asked().get(id);
    return run !== undefined && (run === '' || this.feed.running().some((job) => job.id === run));
  }

  protected again(failure: Failure): void {
    const design = this.designId()!;
    this.mark(failure, '');
    this.api.ask('post /api/designs/{id}/failures/{failure}/again', { id: design, failure: failure.id }).subscribe({
      next: ({ jobId }) => this.mark(failure, jobId),
      error: (error: unknown) => {
        this.mark(failure, 'none');
        this.notices.complain(error);
        this.failures.again();
      },
    });
  }

  protected dismiss(failure: Failure): void {
    this.api
      .ask('delete /api/designs/{id}/failures/{failure}', { id: this.designId()!, failure: failure.id })
      .subscribe({
        next: () => this.failures.value.update((all) => (all ?? []).filter((one) => one !== failure)),
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  private mark({ id }: Failure, run: string): void {
    this.asked.update((all) => new Map([...all, [id, run]]));
  }
}
