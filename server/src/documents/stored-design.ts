import type { SavedDesign } from '@kettle/contract';
import type { DesignDocument } from '@kettle/core/model';
import { assembled } from '../render/documents/digest.js';

/**
 * Documents with more text than this are worked out in a process of their own: reading, judging and writing them would
 * keep all others waiting.
 */
const LARGE = 64 * 1024;

/** A design as the database has it: its document is text, and becomes an object only for those who look into it. */
export class StoredDesign implements SavedDesign {
  private whole: string | null = null;
  private parsed: DesignDocument | null = null;
  private parsedOutline: DesignDocument | null = null;

  /** @param parts long pieces of the document by hash, which `skeleton` names */
  constructor(
    readonly id: string,
    readonly owner: string,
    readonly revision: number,
    readonly savedAt: string,
    private readonly skeleton: string,
    private readonly parts: ReadonlyMap<string, string> = new Map(),
  ) {}

  /** The document's JSON. */
  get text(): string {
    return (this.whole ??= assembled(this.skeleton, this.parts));
  }

  get document(): DesignDocument {
    return (this.parsed ??= JSON.parse(this.text) as DesignDocument);
  }

  /**
   * The document without the long pieces of its layers: names, places, targets and files are there, and reading it is
   * quick however large the design is.
   */
  get outline(): DesignDocument {
    return this.parts.size ? (this.parsedOutline ??= JSON.parse(this.skeleton) as DesignDocument) : this.document;
  }

  get isLarge(): boolean {
    return this.text.length > LARGE;
  }

  /** The answer of a call, without reading the document. */
  get json(): string {
    return `{"id":${JSON.stringify(this.id)},"revision":${this.revision},"savedAt":${JSON.stringify(this.savedAt)},"document":${this.text}}`;
  }

  toJSON(): SavedDesign {
    const { id, revision, savedAt, document } = this;
    return { id, revision, savedAt, document };
  }
}

/** True when a body is so large that it is not to be read on the main thread. */
export const isLargeText = (bytes: number): boolean => bytes > LARGE;
