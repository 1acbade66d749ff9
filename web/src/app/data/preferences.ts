import { Injectable, effect, signal, type WritableSignal } from '@angular/core';
import type { LengthUnit } from '@kettle/core';

/** What a seller chooses once for this browser. */
@Injectable({ providedIn: 'root' })
export class Preferences {
  readonly unit = kept<LengthUnit>('kettle.unit', 'mm');
  readonly theme = kept<'light' | 'dark'>('kettle.theme', 'light');

  constructor() {
    effect(() => { document.documentElement.dataset['theme'] = this.theme(); });
  }
}

function kept<T extends string>(key: string, otherwise: T): WritableSignal<T> {
  const value = signal((localStorage.getItem(key) as T | null) ?? otherwise);
  effect(() => localStorage.setItem(key, value()));
  return value;
}
