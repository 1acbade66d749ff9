import { Injectable, computed, inject } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { PressMeasure } from '@kettle/core';
import { EMPTY, catchError, concatMap, debounceTime, from, map, switchMap, tap } from 'rxjs';
import { Api } from '../data/api';
import { Bench } from './bench';
import { DesignDesk } from './design-desk';

/** A pause in the work after which its print is measured, ms. */
const PAUSE_MS = 500;

/**
 * Has the prints of the open design measured whenever it is saved, the one that is looked at first. What was measured
 * last stays until it is known anew. Provided by the bench.
 */
@Injectable()
export class Measuring {
  private readonly api = inject(Api);
  private readonly bench = inject(Bench);
  private readonly desk = inject(DesignDesk);

  /** What is to be measured, as words that change with it. */
  private readonly wanted = computed(() =>
    this.desk.state() === 'saved' && this.desk.document()?.layers.length
      ? [
          this.desk.id(),
          this.desk.revision(),
          ...this.bench.targets().map((one) => `${one.key}@${one.requirement.revision}`),
        ].join(' ')
      : null,
  );

  constructor() {
    toObservable(this.wanted)
      .pipe(
        debounceTime(PAUSE_MS),
        switchMap((wanted) => (wanted === null ? EMPTY : this.measureAll())),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  private measureAll() {
    const [id, current] = [this.desk.id(), this.bench.current()];
    if (!id) return EMPTY;
    const targets = this.bench.targets();
    const ordered = current ? [current, ...targets.filter((one) => one.key !== current.key)] : targets;
    return from(ordered).pipe(
      concatMap(({ key, requirement, cloth }) =>
        this.api.measure(id, requirement.id, cloth).pipe(
          map(({ measured }) => ({ key, measured })),
          // Nobody asked for it: what cannot be measured just now is measured with the next save.
          catchError(() => EMPTY),
        ),
      ),
      tap(({ key, measured }) => this.keep(key, measured)),
    );
  }

  private keep(key: string, measured: PressMeasure | null): void {
    this.bench.measured.update((all) => {
      const { [key]: _before, ...others } = all;
      return measured ? { ...others, [key]: measured } : others;
    });
  }
}
