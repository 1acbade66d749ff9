import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { Job, JobStep } from '@kettle/contract';
import { EMPTY, switchMap, throttleTime, timer } from 'rxjs';
import { Api } from '../data/api';
import { Missing } from '../data/missing';
import { JobFeed } from './job-feed';

/** Time between two looks at the files of a run, ms. */
const LOOK_MS = 700;
/** Files that are listed of a run; those that failed are always among them. */
const MOST_LISTED = 60;

const URGENCY: Readonly<Record<JobStep['state'], number>> = {
  failed: 0,
  running: 1,
  queued: 2,
  paused: 2,
  waiting: 3,
  done: 4,
  cancelled: 5,
};

/** Runs under way and just over: how far each file is, what failed and where it is mended. */
@Component({
  selector: 'ks-run-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, RouterLink],
  template: `
    @if (run(); as job) {
      <section aria-label="The run">
        <header>
          <b role="status">{{ heading() }}</b>
          <span class="grow"></span>
          @if (isOpen()) {
            @if (job.state === 'paused') {
              <button mat-button type="button" (click)="feed.resume(job)">Go on</button>
            } @else {
              <button mat-button type="button" (click)="feed.pause(job)">Pause</button>
            }
            <button mat-button type="button" (click)="feed.cancel([job])">Cancel</button>
          } @else {
            <button mat-button type="button" (click)="feed.putRunAway(job.id)">Put away</button>
          }
          <button
            type="button"
            class="fold"
            [attr.aria-expanded]="unfolded()"
            [attr.aria-label]="unfolded() ? 'Hide the files' : 'Show the files'"
            (click)="unfolded.set(!unfolded())"
          >
            <mat-icon [svgIcon]="unfolded() ? 'minus' : 'plus'" />
          </button>
        </header>
        <progress [value]="job.done + job.within" [max]="job.total" aria-label="Files of the run"></progress>
        @if (unfolded()) {
          <ul aria-label="Files of the run">
            @for (step of listed(); track step.id) {
              <li [class]="step.state">
                <span class="name">{{ step.filename }}</span>
                @switch (step.state) {
                  @case ('running') {
                    <progress [value]="step.progress" max="1" [attr.aria-label]="step.filename"></progress>
                    <span class="num">{{ percent(step.progress) }} %</span>
                  }
                  @case ('failed') {
                    <p>
                      {{ step.message }}
                      <a
                        [routerLink]="['/designs', step.designId, 'checks']"
                        [queryParams]="{ target: step.requirementId }"
                        >Mend it</a
                      >
                    </p>
                  }
                  @default {
                    <span class="quiet">{{ words[step.state] }}</span>
                  }
                }
              </li>
            }
            @if (more(); as n) {
              <li class="quiet">and {{ n }} more</li>
            }
          </ul>
        }
      </section>
    }
  `,
  styles: `
    section {
      position: absolute;
      right: 22px;
      bottom: 18px;
      z-index: 6;
      width: 470px;
      max-width: calc(100% - 44px);
      background: var(--raised);
      border: 1px solid var(--rule);
      border-radius: 14px;
      box-shadow: 0 10px 34px rgb(0 0 0 / 20%);
      padding: 8px 14px 12px;
    }
    header {
      display: flex;
      align-items: center;
      gap: 4px;
    }
    .grow {
      flex: 1;
    }
    .fold {
      border: 0;
      background: none;
      color: inherit;
      cursor: pointer;
      border-radius: 8px;
      padding: 4px;
      line-height: 0;
    }
    progress {
      width: 100%;
      height: 8px;
      accent-color: var(--enamel);
    }
    ul {
      list-style: none;
      margin: 8px 0 0;
      padding: 0;
      max-height: 260px;
      overflow: auto;
    }
    li {
      display: flex;
      gap: 10px;
      align-items: center;
      padding: 5px 0;
      border-top: 1px solid var(--rule);
      font-size: 13px;
    }
    li .name {
      flex: 1;
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    li progress {
      width: 90px;
      flex: none;
    }
    li.failed {
      display: block;
    }
    li.failed .name {
      display: block;
      font-weight: 600;
      color: var(--mend);
    }
    li p {
      margin: 2px 0 0;
    }
  `,
})
export class RunPanel {
  protected readonly feed = inject(JobFeed);
  private readonly api = inject(Api);
  protected readonly unfolded = signal(true);
  private readonly steps = signal<readonly JobStep[]>([]);
  protected readonly words: Readonly<Record<JobStep['state'], string>> = {
    waiting: 'waits',
    queued: 'waits',
    paused: 'held',
    running: '',
    done: 'done',
    failed: '',
    cancelled: 'cancelled',
  };
  protected readonly percent = (share: number): number => Math.round(share * 100);

  /** The run that is shown: one that goes on, or else the newest. */
  protected readonly run = computed<Job | null>(() => {
    const runs = this.feed.runs();
    return runs.find((run) => isOpen(run) && run.state !== 'paused') ?? runs[0] ?? null;
  });
  protected readonly isOpen = computed(() => {
    const run = this.run();
    return run !== null && isOpen(run);
  });
  private readonly ordered = computed(() =>
    this.steps().toSorted((a, b) => URGENCY[a.state] - URGENCY[b.state] || a.id - b.id),
  );
  protected readonly listed = computed(() => this.ordered().slice(0, MOST_LISTED));
  protected readonly more = computed(() => Math.max(0, this.steps().length - MOST_LISTED));
  private readonly failed = computed(() => this.steps().filter((step) => step.state === 'failed').length);
  protected readonly heading = computed(() => {
    const run = this.run();
    if (!run) return '';
    const failed = this.failed();
    const missed = failed ? `, ${failed} could not be made` : '';
    switch (run.state) {
      case 'paused':
        return `Held at ${run.done} of ${run.total}${missed}`;
      case 'cancelled':
        return `Cancelled; ${run.done} of ${run.total} were over${missed}`;
      case 'queued':
      case 'running':
        return `Making ${run.done} of ${run.total}${missed}`;
      default:
        return failed
          ? `${run.total - failed} of ${run.total} files made${missed}`
          : run.total === 1
            ? 'The file is made'
            : `All ${run.total} files made`;
    }
  });

  private readonly missing = inject(Missing);
  private readonly shownId = computed(() => this.run()?.id);

  constructor() {
    // One that was held before somebody looked lies folded in its corner.
    effect(() => {
      this.shownId();
      untracked(() => this.unfolded.set(this.run()?.state !== 'paused'));
    });
    toObservable(this.run)
      .pipe(
        throttleTime(LOOK_MS, undefined, { leading: true, trailing: true }),
        // What the last look saw is over soon; a run under way is looked at on its own too.
        switchMap((run) =>
          run ? timer(0, isOpen(run) ? LOOK_MS : 1e9).pipe(switchMap(() => this.look(run.id))) : EMPTY,
        ),
        takeUntilDestroyed(),
      )
      .subscribe((steps) => this.steps.set(steps));
  }

  private look(id: string) {
    return this.api.ask('get /api/jobs/{id}/steps', { id }).pipe(this.missing.until('What is in this run'));
  }
}

const isOpen = ({ state }: Job): boolean => state === 'queued' || state === 'running' || state === 'paused';
