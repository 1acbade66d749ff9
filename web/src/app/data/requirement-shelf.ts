import { Injectable, computed, inject, signal } from '@angular/core';
import { demandedCanvas, type Requirement, type RequirementFields } from '@kettle/core/model';
import { OWN_SIZES } from '@kettle/core/requirement';
import { map, of, switchMap, tap, type Observable } from 'rxjs';
import { Api } from './api';
import { Preferences } from './preferences';

/** All requirements, kept fresh after every change made here. */
@Injectable({ providedIn: 'root' })
export class RequirementShelf {
  private readonly api = inject(Api);
  private readonly preferences = inject(Preferences);
  private readonly list = signal<readonly Requirement[]>([]);

  readonly all = this.list.asReadonly();
  readonly byId = computed<Readonly<Record<string, Requirement>>>(() =>
    Object.fromEntries(this.list().map((one) => [one.id, one])),
  );
  readonly loaded = signal(false);
  /** What new designs begin with: the seller's choice, or the first on the list. */
  readonly usual = computed<Requirement | null>(() => this.byId()[this.preferences.usual()] ?? this.list()[0] ?? null);

  refresh(): Observable<readonly Requirement[]> {
    return this.api.ask('get /api/requirements').pipe(
      tap((all) => {
        this.list.set(all);
        this.loaded.set(true);
      }),
    );
  }

  demands(requirement: Requirement): string {
    return demandsOf(requirement);
  }

  /** A size of the seller's own: the one that is kept under its name, or a new one. */
  keepOwn(fields: RequirementFields): Observable<Requirement> {
    const kept = this.list().find(({ channel, name }) => channel === OWN_SIZES && name === fields.name);
    return kept
      ? of(kept)
      : this.api
          .ask('post /api/requirements', { body: fields })
          .pipe(switchMap((made) => this.refresh().pipe(map(() => made))));
  }
}

/** What is looked at and chosen by: size, resolution, colours and transparency. */
const demandsOf = (requirement: Requirement): string => {
  const { widthPx, heightPx } = demandedCanvas(requirement);
  return `${widthPx} × ${heightPx} px · ${requirement.dpi} DPI · ${requirement.mode.toUpperCase()} · ${requirement.transparency === 'forbidden' ? 'no transparency' : `transparency ${requirement.transparency}`}`;
};

/** Requirements that have all of these words, in their channels. */
export function withWords(
  requirements: readonly Requirement[],
  words: string,
): { channel: string; requirements: Requirement[] }[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return byChannel(
    requirements.filter((one) =>
      wanted.every((word) =>
        `${one.channel} ${one.name} ${one.product} ${demandsOf(one)}`.toLowerCase().includes(word),
      ),
    ),
  );
}

/** Requirements in their channels, both in the order they were made. */
export function byChannel<T extends { readonly channel: string }>(
  requirements: readonly T[],
): { channel: string; requirements: T[] }[] {
  const groups = new Map<string, T[]>();
  for (const one of requirements) groups.set(one.channel, [...(groups.get(one.channel) ?? []), one]);
  return [...groups].map(([channel, list]) => ({ channel, requirements: list }));
}
