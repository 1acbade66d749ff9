/** What a maker works from, in a process that never sees the database. */
export interface MakeJob<Recipe> {
  readonly recipe: Recipe;
  /** Local paths of the order's sources by content hash. */
  readonly sources: Readonly<Record<string, string>>;
  readonly files: Readonly<Record<string, string>>;
  readonly more: unknown;
  /** Where the result is to lie. */
  readonly out: string;
  /** Says how far it is, 0 to 1. */
  readonly progress: (share: number) => void;
}

/** Makes and encodes an output at `out`, and reads it back with a reader that did not write it. Answers what was read. */
export type Maker<Recipe = object, Facts = unknown> = (job: MakeJob<Recipe>) => Promise<Facts>;
