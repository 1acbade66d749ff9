/** State of a target on the job sheet and on the bench. */
export type TargetState = 'ready' | 'needs-work' | 'not-made' | 'out-of-date' | 'not-begun';

/** What the state of a target follows from. */
export interface TargetFacts {
  /** True once the design has a layer. */
  readonly begun: boolean;
  /** True when no finding blocks it. */
  readonly printable: boolean;
  /** The file that follows the present recipe, if there is one. */
  readonly current: { readonly accepted: boolean } | undefined;
  /** True when a file was made at some time. */
  readonly anyFile: boolean;
}

export function targetState({ begun, printable, current, anyFile }: TargetFacts): TargetState {
  if (!begun) return 'not-begun';
  if (!printable) return 'needs-work';
  if (current) return current.accepted ? 'ready' : 'needs-work';
  return anyFile ? 'out-of-date' : 'not-made';
}
