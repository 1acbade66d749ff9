import { Injectable, computed, inject } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { PressMeasure } from '@kettle/core/press';
import {
  EMPTY,
  Subject,
  catchError,
  concat,
  concatMap,
  debounceTime,
  defer,
  from,
  map,
  merge,
  switchMap,
  tap,
  timer,
  type Observable,
} from 'rxjs';
import { Api } from '../data/api';
import { Editor, type EditorTarget } from './editor';
import { DesignDesk } from './design-desk';

/** A pause in the work after which its print is measured, ms. */
const PAUSE_MS = 500;
/** First wait before what could not be measured is tried again, and the longest, ms. */
const WAIT_MS = 2000;
const MOST_WAIT_MS = 60_000;

/**
 * Has the prints of the open design measured whenever it is saved, the one that is looked at first. What was measured
 * last stays until it is known anew. Provided by the bench.
 */
@Injectable()
export class Measuring {
  private readonly api = inject(Api);
  private readonly editor = inject(Editor);
  private readonly desk = inject(DesignDesk);

  private readonly asked = new Subject<void>();
  /** What is to be measured, as words that change with it. */
  private readonly wanted = computed(() => {
    const all = this.editor.targets().map((one) => this.editor.measureOf(one));
    return all.length && all[0] !== null ? all.join(' ') : null;
  });

  constructor() {
    merge(toObservable(this.wanted), this.asked.pipe(map(() => this.wanted())))
      .pipe(
        debounceTime(PAUSE_MS),
        switchMap((wanted) => (wanted === null ? EMPTY : this.measureAll())),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  /** Tries at once what could not be measured. */
  again(): void {
    this.asked.next();
  }

  private measureAll(): Observable<unknown> {
    const current = this.editor.current();
    const targets = this.editor.targets();
    return this.measureSome(current ? [current, ...targets.filter((one) => one.key !== current.key)] : targets, 0);
  }

  /** One after the other; what failed is tried again by itself, after waits that grow. */
  private measureSome(targets: readonly EditorTarget[], tries: number): Observable<unknown> {
    const id = this.desk.id();
    if (!id) return EMPTY;
    const failed: EditorTarget[] = [];
    const all = from(targets).pipe(
      concatMap((one) => {
        const of = this.editor.measureOf(one) ?? '';
        return this.api
          .ask('get /api/designs/{id}/measure', { id, query: { requirement: one.requirement.id, version: one.cloth } })
          .pipe(
            tap(({ measured }) => this.keep(one.key, of, measured)),
            // eslint-disable-next-line no-restricted-syntax -- it is marked as failed, and tried again
            catchError(() => {
              failed.push(one);
              this.editor.measuredAt.update((known) => ({ ...known, [one.key]: { of, ok: false } }));
              return EMPTY;
            }),
          );
      }),
    );
    return concat(
      all,
      defer(() =>
        failed.length
          ? timer(Math.min(MOST_WAIT_MS, WAIT_MS * 2 ** tries)).pipe(
              switchMap(() => this.measureSome(failed, tries + 1)),
            )
          : EMPTY,
      ),
    );
  }

  private keep(key: string, of: string, measured: PressMeasure | null): void {
    this.editor.measured.update((all) => {
      const { [key]: _before, ...others } = all;
      return measured ? { ...others, [key]: measured } : others;
    });
    this.editor.measuredAt.update((known) => ({ ...known, [key]: { of, ok: true } }));
  }
}
