import { Injectable, inject, signal } from '@angular/core';
import { panelsOf } from '@kettle/core/requirement';
import type { AreaGrid } from '@kettle/core/mockup';
import { Observable, Subject, catchError, map, shareReplay, startWith, switchMap, tap, throwError } from 'rxjs';
import { Api } from './api';
import { Missing } from './missing';
import { keptList } from './preferences';

/** Most blanks that are remembered as used last. */
const MOST_RECENT = 12;

/** The blanks, fetched once, and what the seller does with them. */
@Injectable({ providedIn: 'root' })
export class BlankShelf {
  private readonly api = inject(Api);
  private readonly missing = inject(Missing);
  private readonly again = new Subject<void>();
  /** True once the list is there, be it empty. */
  readonly isThere = signal(false);
  readonly all = this.again.pipe(
    startWith(undefined),
    switchMap(() => this.api.ask('get /api/blanks').pipe(this.missing.until('The blanks'))),
    tap(() => this.isThere.set(true)),
    shareReplay(1),
  );
  /** Ids of blanks the seller marked, and of those used last. */
  readonly favourites = keptList('kettle.blanks.favourites');
  readonly recent = keptList('kettle.blanks.recent');

  /** Those whose cloth can be printed before it is cut and sewn. */
  readonly allOver = this.all.pipe(map((all) => all.filter((blank) => panelsOf(blank).length)));

  private readonly grids = new Map<string, Observable<AreaGrid>>();

  /** Where a print area is seen on its blank. */
  grid(blankId: string, areaId: string): Observable<AreaGrid> {
    const key = `${blankId} ${areaId}`;
    let grid = this.grids.get(key);
    if (!grid) {
      // One that could not be fetched is asked for again.
      grid = this.api.ask('get /api/blanks/{id}/areas/{area}/grid', { id: blankId, area: areaId }).pipe(
        catchError((error: unknown) => {
          this.grids.delete(key);
          return throwError(() => error);
        }),
        shareReplay(1),
      );
      this.grids.set(key, grid);
    }
    return grid;
  }

  /** Fetches them again: one was made, changed or taken away. */
  reload(): void {
    this.grids.clear();
    this.again.next();
  }

  use(id: string): void {
    this.recent.update((ids) => [id, ...ids.filter((one) => one !== id)].slice(0, MOST_RECENT));
  }

  mark(id: string): void {
    this.favourites.update((ids) => (ids.includes(id) ? ids.filter((one) => one !== id) : [...ids, id]));
  }
}
