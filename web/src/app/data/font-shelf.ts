import { Injectable, computed, inject, signal } from '@angular/core';
import type { FontFamily } from '@kettle/contract';
import { finalize, tap, type Observable } from 'rxjs';
import { Api } from './api';
import { Missing } from './missing';
import { keptList } from './preferences';

/** Most families that are remembered as used last. */
const MOST_RECENT = 8;

/** Fonts that lettering can be set in; each is loaded for show when it is first seen. */
@Injectable({ providedIn: 'root' })
export class FontShelf {
  private readonly api = inject(Api);
  private readonly missing = inject(Missing);
  private readonly list = signal<readonly FontFamily[]>([]);
  private readonly asked = new Set<string>();
  /** All families, the seller's own first. */
  readonly all = this.list.asReadonly();
  /** Names of families the seller marked, and of those used last. */
  readonly favourites = keptList('kettle.fonts.favourites');
  readonly recent = keptList('kettle.fonts.recent');
  private readonly byFace = computed(
    () => new Map(this.list().flatMap((family) => family.faces.map((face) => [face.id, family] as const))),
  );

  constructor() {
    this.refresh();
  }

  refresh(): void {
    this.api
      .ask('get /api/fonts')
      .pipe(this.missing.until('The fonts'))
      .subscribe((families) => this.list.set(families));
  }

  /** The family a face belongs to, if it is still there. */
  familyOf(faceId: string): FontFamily | undefined {
    return this.byFace().get(faceId);
  }

  /** CSS families that show a face in its own letters, its files one after the other, `most` of them. */
  css(faceId: string, most = 3): string {
    const files = this.familyOf(faceId)?.faces.find((face) => face.id === faceId)?.files ?? 1;
    const names = Array.from({ length: Math.min(files, most) }, (_, i) => this.load(faceId, i));
    return `${names.map((name) => `"${name}"`).join(', ')}, var(--sans)`;
  }

  private load(faceId: string, file: number): string {
    const name = `face-${faceId}-${file}`;
    if (!this.asked.has(name)) {
      this.asked.add(name);
      const face = new FontFace(name, `url(/api/fonts/${faceId}/files/${file})`);
      document.fonts.add(face);
      face.load().catch(() => this.asked.delete(name));
    }
    return name;
  }

  use(family: FontFamily): void {
    this.recent.update((names) => [family.name, ...names.filter((name) => name !== family.name)].slice(0, MOST_RECENT));
  }
  mark(family: FontFamily): void {
    this.favourites.update((names) =>
      names.includes(family.name) ? names.filter((name) => name !== family.name) : [...names, family.name],
    );
  }

  upload(file: File): Observable<FontFamily> {
    return this.api.ask('post /api/fonts', { body: file }).pipe(tap(() => this.refresh()));
  }

  /** Takes an own family off the list, all of its faces. Designs keep it. */
  remove({ faces }: FontFamily): Observable<unknown> {
    return this.api
      .ask('delete /api/fonts/{id}', { id: faces[0].id, query: { of: 'family' } })
      .pipe(finalize(() => this.refresh()));
  }
}
