import { DestroyRef, computed, inject, signal } from '@angular/core';
import { EMPTY, Subject, catchError, merge, switchMap, timer, type Observable } from 'rxjs';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { sentenceOf } from './problems';
import { Notices } from './notices';

/** How often something is looked at again, ms. */
const LOOK_MS = 2500;

/**
 * Something that others change as well: asked for again and again while it is looked at. Made where things are injected; ends
 * with its owner.
 */
export class Looked<T> {
  private readonly notices = inject(Notices);
  private readonly asked = new Subject<void>();
  /** Null while it is not there yet. */
  readonly value = signal<T | null>(null);
  /** Why it is not there; empty while it is, or is on its way. */
  readonly failed = signal('');
  /** True while something that was changed is on its way. */
  readonly busy = signal(false);
  /** True from a change until what came of it was looked at. */
  private readonly behind = signal(false);
  /** True while the value is all that was asked for here. */
  readonly isUpToDate = computed(() => !this.busy() && !this.behind());

  /**
   * @param ask what is asked; null while it is not known yet
   * @param every how often, ms
   */
  constructor(ask: () => Observable<T> | null, every = LOOK_MS) {
    const destroyed = inject(DestroyRef);
    merge(this.asked, timer(0, every))
      .pipe(
        // A page that nobody sees asks nobody; what was changed meanwhile is not written over by an older answer.
        switchMap(() =>
          document.hidden || this.busy() ? EMPTY : (ask() ?? EMPTY).pipe(catchError((e: unknown) => this.miss(e))),
        ),
        takeUntilDestroyed(destroyed),
      )
      .subscribe((value) => {
        if (this.busy()) return;
        this.failed.set('');
        this.behind.set(false);
        this.value.set(value);
      });
  }

  again(): void {
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

  private miss(error: unknown): Observable<never> {
    if (this.value() === null) this.failed.set(sentenceOf(error));
    return EMPTY;
  }
}
