import { Injectable, effect, signal, type WritableSignal } from '@angular/core';
import type { LengthUnit } from '@kettle/core/units';

/** What a seller chooses once for this browser. */
@Injectable({ providedIn: 'root' })
export class Preferences {
  readonly unit = kept<LengthUnit>('kettle.unit', 'mm');
  /** Id of the requirement that new designs begin with; empty for the first on the list. */
  readonly usual = kept<string>('kettle.usual', '');
  readonly theme = kept<'light' | 'dark'>('kettle.theme', 'light');

  constructor() {
    effect(() => {
      document.documentElement.dataset['theme'] = this.theme();
    });
  }
}

/** A list of words kept in this browser. What is there but cannot be read counts as empty. */
export function keptList(key: string): WritableSignal<readonly string[]> {
  const read = (): string[] => {
    try {
      const value: unknown = JSON.parse(localStorage.getItem(key) ?? '[]');
      return Array.isArray(value) ? value.filter((one) => typeof one === 'string') : [];
    } catch {
      return [];
    }
  };
  const value = signal<readonly string[]>(read());
  effect(() => localStorage.setItem(key, JSON.stringify(value())));
  return value;
}

function kept<T extends string>(key: string, otherwise: T): WritableSignal<T> {
  const value = signal((localStorage.getItem(key) as T | null) ?? otherwise);
  effect(() => localStorage.setItem(key, value()));
  return value;
}
