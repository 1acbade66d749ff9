import { Injectable, inject } from '@angular/core';
import type { Graphic } from '@kettle/core/drawing';
import { catchError, shareReplay, throwError, type Observable } from 'rxjs';
import { Api } from './api';

/** The graphics library, fetched when it is first opened. */
@Injectable({ providedIn: 'root' })
export class GraphicShelf {
  private readonly api = inject(Api);
  private kept: Observable<readonly Graphic[]> | null = null;

  all(): Observable<readonly Graphic[]> {
    this.kept ??= this.api.ask('get /api/graphics').pipe(
      catchError((error: unknown) => {
        this.kept = null;
        return throwError(() => error);
      }),
      shareReplay(1),
    );
    return this.kept;
  }
}
