import type { Finding, FindingCode } from './finding.js';
import type { SeenLayer, CheckInput } from './check-input.js';

/** One thing that is looked for: a pure function of what is seen, with its limits beside it. */
export interface Check {
  /** Codes of its findings that make a file impossible, as opposed to unwise: the button to make the file is off. */
  readonly hinders: readonly FindingCode[];
  readonly find: (input: CheckInput) => readonly Finding[];
}

/** A check that looks at each layer by itself. Layers whose file is gone are for {@link Check missing-asset} alone. */
export const ofEachLayer = (
  hinders: readonly FindingCode[],
  find: (layer: Known, input: CheckInput) => Finding | null,
): Check => ({
  hinders,
  find: (input) => input.seen.flatMap((layer) => (layer.facts ? (find(layer as Known, input) ?? []) : [])),
});

/** A layer whose facts are known. */
export type Known = SeenLayer & { readonly facts: NonNullable<SeenLayer['facts']> };
