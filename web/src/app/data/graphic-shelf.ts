import { Injectable, inject } from '@angular/core';
import type { Graphic } from '@kettle/contract';
import { EMPTY, catchError, shareReplay, type Observable } from 'rxjs';
import { Api } from './api';
import { Notices } from './notices';

/** The graphics library, fetched when it is first opened. */
@Injectable({ providedIn: 'root' })
export class GraphicShelf {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private kept: Observable<readonly Graphic[]> | null = null;

  all(): Observable<readonly Graphic[]> {
    this.kept ??= this.api.graphics().pipe(
      catchError((error: unknown) => {
        this.kept = null;
        this.notices.complain(error);
        return EMPTY;
      }),
      shareReplay(1),
    );
    return this.kept;
  }
}
