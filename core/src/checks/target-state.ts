/** State of a target on the job sheet and on the bench. */
export type TargetState = 'ready' | 'needs-work' | 'not-made' | 'out-of-date';

/**
 * State of a target from its findings and its print files.
 * @param printable no finding blocks it
 * @param current the file that follows the present recipe, if there is one
 * @param anyFile true when a file was made at some time
 */
export function targetState(printable: boolean, current: { readonly accepted: boolean } | undefined, anyFile: boolean): TargetState {
  if (!printable) return 'needs-work';
  if (current) return current.accepted ? 'ready' : 'needs-work';
  return anyFile ? 'out-of-date' : 'not-made';
}
