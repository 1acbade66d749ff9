import { Injectable, inject } from '@angular/core';
import { shareReplay } from 'rxjs';
import { Api } from './api';

/** The blanks, fetched once. */
@Injectable({ providedIn: 'root' })
export class BlankShelf {
  readonly all = inject(Api).blanks().pipe(shareReplay(1));
}
