import { Injectable } from '@angular/core';
import type { DesignDocument } from '@kettle/core/model';

/** A document that is not saved yet, and the revision it started from. */
export interface Draft {
  readonly revision: number;
  readonly document: DesignDocument;
}

const PREFIX = 'kettle.draft.';

/** Unsaved documents, kept in this browser so that a closed or broken page loses nothing. */
@Injectable({ providedIn: 'root' })
export class Drafts {
  read(designId: string): Draft | null {
    try {
      return JSON.parse(localStorage.getItem(PREFIX + designId) ?? 'null') as Draft | null;
    } catch {
      return null;
    }
  }

  /**
   * False when the browser has no room for it; then an older draft does not stay either, for it would come back as if
   * it were the newest.
   */
  write(designId: string, draft: Draft): boolean {
    try {
      localStorage.setItem(PREFIX + designId, JSON.stringify(draft));
      return true;
    } catch {
      this.drop(designId);
      return false;
    }
  }

  drop(designId: string): void {
    localStorage.removeItem(PREFIX + designId);
  }

  all(): { designId: string; draft: Draft }[] {
    const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? '').filter((key) =>
      key.startsWith(PREFIX),
    );
    return keys.flatMap((key) => {
      const designId = key.slice(PREFIX.length);
      const draft = this.read(designId);
      return draft ? [{ designId, draft }] : [];
    });
  }
}
