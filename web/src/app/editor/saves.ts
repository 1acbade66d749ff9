import { computed, type Signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { filter, pairwise, type Observable } from 'rxjs';

/** Each time that the design which is open is saved: what hangs on it is asked for again. Made where things are injected. */
export const savesOf = (desk: {
  readonly id: Signal<string | null>;
  readonly revision: Signal<number | null>;
}): Observable<unknown> =>
  toObservable(computed(() => ({ id: desk.id(), revision: desk.revision() }))).pipe(
    pairwise(),
    filter(([before, now]) => now.id !== null && before.id === now.id),
  );
