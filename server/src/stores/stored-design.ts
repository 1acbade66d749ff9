import type { SavedDesign } from '@kettle/contract';
import type { DesignDocument } from '@kettle/core';

/** Documents with more text than this are worked out in a process of their own: reading, judging and writing them would keep all others waiting. */
const LARGE = 64 * 1024;

/** A design as the database has it: its document is text, and becomes an object only for those who look into it. */
export class StoredDesign implements SavedDesign {
  private parsed: DesignDocument | null = null;

  constructor(readonly id: string, readonly revision: number, readonly savedAt: string, readonly text: string) {}

  get document(): DesignDocument { return this.parsed ??= JSON.parse(this.text) as DesignDocument; }

  get isLarge(): boolean { return this.text.length > LARGE; }

  /** The answer of a call, without reading the document. */
  get json(): string { return `{"id":${JSON.stringify(this.id)},"revision":${this.revision},"savedAt":${JSON.stringify(this.savedAt)},"document":${this.text}}`; }

  toJSON(): SavedDesign { const { id, revision, savedAt, document } = this; return { id, revision, savedAt, document }; }
}

/** True when a body is so large that it is not to be read on the main thread. */
export const isLargeText = (bytes: number): boolean => bytes > LARGE;
