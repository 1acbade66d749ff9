import { Injectable, inject } from '@angular/core';
import { shareReplay } from 'rxjs';
import { Api } from './api';
import { keptList } from './preferences';

/** Most blanks that are remembered as used last. */
const MOST_RECENT = 12;

/** The blanks, fetched once, and what the seller does with them. */
@Injectable({ providedIn: 'root' })
export class BlankShelf {
  readonly all = inject(Api).blanks().pipe(shareReplay(1));
  /** Ids of blanks the seller marked, and of those used last. */
  readonly favourites = keptList('kettle.blanks.favourites');
  readonly recent = keptList('kettle.blanks.recent');

  use(id: string): void {
    this.recent.update((ids) => [id, ...ids.filter((one) => one !== id)].slice(0, MOST_RECENT));
  }

  mark(id: string): void {
    this.favourites.update((ids) => (ids.includes(id) ? ids.filter((one) => one !== id) : [...ids, id]));
  }
}
