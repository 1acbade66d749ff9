import { Injectable, computed, inject, signal } from '@angular/core';
import type { Requirement } from '@kettle/core';
import { tap, type Observable } from 'rxjs';
import { Api } from './api';

/** All requirements, kept fresh after every change made here. */
@Injectable({ providedIn: 'root' })
export class RequirementShelf {
  private readonly api = inject(Api);
  private readonly list = signal<readonly Requirement[]>([]);

  readonly all = this.list.asReadonly();
  readonly byId = computed<Readonly<Record<string, Requirement>>>(() =>
    Object.fromEntries(this.list().map((one) => [one.id, one])),
  );
  readonly loaded = signal(false);

  refresh(): Observable<Requirement[]> {
    return this.api.requirements().pipe(
      tap((all) => {
        this.list.set(all);
        this.loaded.set(true);
      }),
    );
  }
}

/** Requirements in their channels, both in the order they were made. */
export function byChannel<T extends { readonly channel: string }>(
  requirements: readonly T[],
): { channel: string; requirements: T[] }[] {
  const groups = new Map<string, T[]>();
  for (const one of requirements) groups.set(one.channel, [...(groups.get(one.channel) ?? []), one]);
  return [...groups].map(([channel, list]) => ({ channel, requirements: list }));
}
