import { DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { EMPTY, Subject, catchError, startWith, switchMap, type Observable } from 'rxjs';
import { sentenceOf } from './problems';

/**
 * Something that is fetched once: on its way, there, or refused with a sentence, and asked for again by a press. A server
 * that is away is waited for before any of that. Made where things are injected; ends with its owner.
 */
export class Fetched<T> {
  private readonly asked = new Subject<void>();
  /** Null while it is not there. */
  readonly value = signal<T | null>(null);
  /** Why it is not there; empty while it is, or is on its way. */
  readonly failed = signal('');

  constructor(ask: () => Observable<T>) {
    this.asked
      .pipe(
        startWith(undefined),
        switchMap(() =>
          ask().pipe(
            catchError((error: unknown) => {
              this.failed.set(sentenceOf(error));
              return EMPTY;
            }),
          ),
        ),
        takeUntilDestroyed(inject(DestroyRef)),
      )
      .subscribe((value) => this.value.set(value));
  }

  again(): void {
    this.failed.set('');
    this.asked.next();
  }
}
