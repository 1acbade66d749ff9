import { Injectable } from '@angular/core';

/** What is not saved yet of a design, a listing or another thing that is saved by itself, and the revision it began from. */
export interface Draft {
  readonly revision: number;
  readonly document: unknown;
}

const PREFIX = 'kettle.draft.';

/** What is not saved yet, kept in this browser so that a closed or broken page loses nothing. */
@Injectable({ providedIn: 'root' })
export class Drafts {
  read(key: string): Draft | null {
    try {
      return JSON.parse(localStorage.getItem(PREFIX + key) ?? 'null') as Draft | null;
    } catch {
      return null;
    }
  }

  /**
   * False when the browser has no room for it; then an older draft does not stay either, for it would come back as if
   * it were the newest.
   */
  write(key: string, draft: Draft): boolean {
    try {
      localStorage.setItem(PREFIX + key, JSON.stringify(draft));
      return true;
    } catch {
      this.drop(key);
      return false;
    }
  }

  drop(key: string): void {
    localStorage.removeItem(PREFIX + key);
  }

  all(): { key: string; draft: Draft }[] {
    const names = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? '');
    return names.flatMap((name) => {
      if (!name.startsWith(PREFIX)) return [];
      const key = name.slice(PREFIX.length);
      const draft = this.read(key);
      return draft ? [{ key, draft }] : [];
    });
  }
}
