import { DestroyRef, computed, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import {
  EMPTY,
  Subject,
  catchError,
  defer,
  map,
  merge,
  retry,
  startWith,
  switchMap,
  tap,
  throwError,
  timer,
} from 'rxjs';
import type { Observable } from 'rxjs';
import { waitBefore } from './again';
import { Missing } from './missing';
import { Notices } from './notices';
import { sentenceOf } from './problems';

/** How often what others change as well is looked at again, ms. */
export const LOOK_MS = 2500;

export interface LoadOptions {
  /** What it is, for the line in the head that says it is missing; where it is said at its place when absent. */
  readonly of?: string;
  /** What it is asked for again after: saves, runs that made something. */
  readonly on?: Observable<unknown>;
  /** How often it is asked for again while the page is seen, ms; never when absent. */
  readonly every?: number;
}

/**
 * Something that comes from the server: on its way, there, or refused with a sentence. It is asked for again when a signal
 * that its question reads changes, by itself with growing waits after it was refused, and by a press. A server that is away
 * is waited for before any of that (`patient`). Made where things are injected; ends with its owner.
 * @example readonly shops = new Loaded(() => this.api.ask('get /api/print-shops'), { of: 'The print shops' });
 */
export class Loaded<T> {
  private readonly notices = inject(Notices);
  private readonly missing = inject(Missing);
  private readonly asked = new Subject<void>();
  /** Null while it is not there. */
  readonly value = signal<T | null>(null);
  /** Why it is not there; empty while it is, or is on its way. */
  readonly failed = signal('');
  /** True while something that was changed is on its way. */
  readonly busy = signal(false);
  /** True from a change until what came of it was looked at. */
  private readonly behind = signal(false);
  /** True while the value is all that was asked for here. */
  readonly isUpToDate = computed(() => !this.busy() && !this.behind());

  /** @param ask what is asked, read again when a signal in it changes; null while that is not known yet */
  constructor(
    ask: () => Observable<T> | null,
    private readonly options: LoadOptions = {},
  ) {
    const destroyed = inject(DestroyRef);
    destroyed.onDestroy(() => this.missing.found(this));
    const { every, on = EMPTY } = options;
    toObservable(computed(ask))
      .pipe(
        tap(() => {
          this.value.set(null);
          this.settle();
        }),
        switchMap((question) =>
          merge(this.asked, on, every === undefined ? EMPTY : timer(every, every)).pipe(
            map(() => untracked(ask)),
            startWith(question),
            switchMap((again) => this.answerOf(again, ask)),
          ),
        ),
        takeUntilDestroyed(destroyed),
      )
      .subscribe((value) => {
        // What was changed meanwhile is not written over by an older answer.
        if (this.busy()) return;
        this.settle();
        this.behind.set(false);
        this.value.set(value);
      });
  }

  again(): void {
    this.settle();
    this.asked.next();
  }

  /** Does something to it, shows what came of it, and says so when nothing did. */
  change<R>(call: Observable<R>, then: (answer: R) => void = () => undefined): void {
    this.busy.set(true);
    this.behind.set(true);
    call.subscribe({
      next: (answer) => {
        this.busy.set(false);
        then(answer);
        this.again();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.notices.complain(error);
        this.again();
      },
    });
  }

  /** A page that nobody sees asks nobody again and again. */
  private answerOf(question: Observable<T> | null, ask: () => Observable<T> | null): Observable<T> {
    if (!question || this.busy() || (document.hidden && this.options.every !== undefined)) return EMPTY;
    let first: Observable<T> | null = question;
    return defer(() => {
      const now = first ?? untracked(ask) ?? EMPTY;
      first = null;
      return now;
    }).pipe(
      catchError((error: unknown) => {
        this.miss(error);
        return throwError(() => error);
      }),
      retry({ delay: (_error, times) => timer(waitBefore(times - 1)) }),
    );
  }

  private miss(error: unknown): void {
    // What is looked at again and again shows what it had; its next look comes soon.
    if (untracked(this.value) !== null && this.options.every !== undefined) return;
    this.failed.set(sentenceOf(error));
    if (this.options.of) this.missing.miss(this, this.options.of, this.failed());
  }

  private settle(): void {
    this.failed.set('');
    this.missing.found(this);
  }
}
