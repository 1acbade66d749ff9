/** Error body of every call (RFC 9457), with a stable code and a sentence a person can act on. */
export interface Problem {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  /** What happened, what is safe and what to do. */
  readonly detail: string;
  readonly code: string;
  /** Sentences by field path, when a body was not as demanded. */
  readonly fields?: Readonly<Record<string, string>>;
}
