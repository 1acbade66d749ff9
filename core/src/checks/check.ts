import type { Finding, FindingCode } from './finding.js';
import type { SeenLayer, Sight } from './sight.js';

/** One thing that is looked for: a pure function of what is seen, with its limits beside it. */
export interface Check {
  /** Codes of its findings that make a file impossible, as opposed to unwise: the button to make the file is off. */
  readonly hinders: readonly FindingCode[];
  readonly find: (sight: Sight) => readonly Finding[];
}

/** A check that looks at each layer by itself. Layers whose file is gone are for {@link Check missing-asset} alone. */
export const ofEachLayer = (
  hinders: readonly FindingCode[],
  find: (layer: Known, sight: Sight) => Finding | null,
): Check => ({
  hinders,
  find: (sight) => sight.seen.flatMap((layer) => (layer.facts ? (find(layer as Known, sight) ?? []) : [])),
});

/** A layer whose facts are known. */
export type Known = SeenLayer & { readonly facts: NonNullable<SeenLayer['facts']> };
