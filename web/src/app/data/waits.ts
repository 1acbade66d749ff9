import { HttpErrorResponse, type HttpEvent, type HttpInterceptorFn } from '@angular/common/http';
import { Injectable, computed, inject, signal } from '@angular/core';
import {
  Subject,
  catchError,
  defer,
  finalize,
  merge,
  retry,
  switchMap,
  take,
  throwError,
  timer,
  type Observable,
} from 'rxjs';
import { waitBefore } from './again';
import { isAway } from './problems';

/** How often an error that nobody foresaw is asked for again before it is told. */
const MOST_UNFORESEEN = 2;

/** What the page waits for because the server did not answer. */
@Injectable({ providedIn: 'root' })
export class Waits {
  private readonly open = signal(0);
  private readonly asked = new Subject<void>();
  /** True while something is asked for again and again. */
  readonly isWaiting = computed(() => this.open() > 0);

  /** Asks for all of it now. */
  again(): void {
    this.asked.next();
  }

  /** The next time that a call is made, after so many that came to nothing. */
  next(failures: number): Observable<unknown> {
    return merge(timer(waitBefore(failures)), this.asked).pipe(take(1));
  }

  begin(): void {
    this.open.update((n) => n + 1);
  }
  end(): void {
    this.open.update((n) => n - 1);
  }
}

/** What is worked out and changes nothing is asked for until the server answers; what it refuses is told. */
export const untilHeard = <T>() =>
  retry<T>({
    delay: (error, times) => (isAway(error) ? timer(waitBefore(times - 1)) : throwError(() => error)),
  });

/**
 * What is only read is asked for until the server answers, so that one call that failed leaves nothing waiting for the
 * rest of a visit. What changes something is told at once.
 */
export const patient: HttpInterceptorFn = (request, next) => {
  if (request.method !== 'GET') return next(request);
  const waits = inject(Waits);
  let failures = 0;
  let isCounted = false;
  const settle = (): void => {
    if (isCounted) waits.end();
    isCounted = false;
  };
  const attempt = (): Observable<HttpEvent<unknown>> =>
    next(request).pipe(
      catchError((error: unknown) => {
        if (
          !(error instanceof HttpErrorResponse) ||
          !(isAway(error) || (error.status === 500 && failures < MOST_UNFORESEEN))
        )
          return throwError(() => error);
        if (!isCounted) waits.begin();
        isCounted = true;
        return waits.next(failures++).pipe(switchMap(attempt));
      }),
    );
  return defer(attempt).pipe(finalize(settle));
};
