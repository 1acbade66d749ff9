import type { AnySchema } from 'yup';
import type { Caller } from '../caller.js';
import type { Workshop } from './workshop.js';

/** Which queue a step stands in: what somebody waits for does not wait behind what takes long. */
export type Lane = 'soon' | 'export' | 'calls';

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

/**
 * One kind of thing that is made. Everything about it is here or named here; it is registered once, in
 * `output-kinds.ts`.
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
  order(step: Step, who: Caller, workshop: Workshop): Promise<Order<Recipe>>;
  /** Makes and encodes it at `out`, and reads it back with a reader that did not write it. Runs in a render process. */
  make(job: MakeJob<Recipe>): Promise<Facts>;
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
