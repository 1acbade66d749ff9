import { Injectable, inject, signal } from '@angular/core';
import type { FontEntry } from '@kettle/contract';
import { Api } from './api';

/** Fonts that lettering can be set in; each is loaded for show when it is first seen. */
@Injectable({ providedIn: 'root' })
export class FontShelf {
  private readonly list = signal<readonly FontEntry[]>([]);
  private readonly asked = new Set<string>();
  readonly all = this.list.asReadonly();

  constructor() {
    inject(Api).fonts().subscribe({ next: (fonts) => this.list.set(fonts), error: () => undefined });
  }

  /** CSS family that shows a font in its own face. */
  family(id: string): string {
    if (!this.asked.has(id)) {
      this.asked.add(id);
      const face = new FontFace(`face-${id}`, `url(/api/fonts/${id}/file)`);
      document.fonts.add(face);
      face.load().catch(() => this.asked.delete(id));
    }
    return `"face-${id}", var(--sans)`;
  }
}
