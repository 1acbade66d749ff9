import type { AnySchema } from 'yup';
import type { Caller } from '../floor/basics/caller.js';
import type { Lane } from '../floor/queue/job-kind.js';

/** What a step is to be made of: worked out when it is its turn, from the revision that was asked for. */
export interface Order<Recipe> {
  /** Everything that decides the bytes, and nothing else. */
  readonly recipe: Recipe;
  /** SHA-256 of the recipe, hex. The same recipe is never made twice. */
  readonly hash: string;
  readonly designId: string | null;
  readonly revision: number | null;
  /** What it is for: a requirement, a blank. */
  readonly about: string;
  readonly filename: string;
  readonly mediaType: string;
  /** Artwork files it is drawn from, by content hash. */
  readonly sources: readonly string[];
  /** Other files the maker reads, by name. */
  readonly files?: Readonly<Record<string, string>>;
  /** What else the maker and the judge need; it decides nothing that the recipe does not name. */
  readonly more?: unknown;
}

/**
 * One kind of thing that is made: what a step of it is made of, and whether what was made is what was ordered. It is
 * registered in its room; who makes it stands in `render/makers.ts` under the same name.
 */
export interface OutputKind<Step = unknown, Recipe extends object = object, Facts = unknown> {
  readonly kind: string;
  /** Version of the code that draws it. A worker leaves steps that need a newer one. */
  readonly engine: number;
  readonly lane: Lane;
  /** How the job sheet shows that there is one: as the file of the target it is about, among the pictures, or not. */
  readonly shown: 'target' | 'picture' | null;
  /** What a step of it says. */
  readonly step: AnySchema;
  /** Works out what a step is to be made of. @throws ProblemError when something it needs is gone */
  order(step: Step, who: Caller): Promise<Order<Recipe>>;
  /** Compares what was read back with what is demanded. `record` is kept with the output. */
  certify(order: Order<Recipe>, facts: Facts): { readonly accepted: boolean; readonly record: unknown };
  /** What is kept beside it, once it has its id: files that the maker left next to its own. */
  beside?(order: Order<Recipe>, id: string, facts: Facts): readonly Beside[];
}

/** A file that comes along with an output. */
export interface Beside {
  readonly kind: string;
  readonly about: string;
  /** SHA-256, hex. */
  readonly recipe: string;
  readonly filename: string;
  readonly mediaType: string;
  readonly record: unknown;
  readonly path: string;
}
