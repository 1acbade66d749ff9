import type { TargetState } from '@kettle/core/checks';

/** Word of each state; its mark and colour are in `_state-marks.scss`, never colour alone. */
export const WORDS: Readonly<Record<TargetState, string>> = {
  ready: 'ready',
  'needs-work': 'needs work',
  'not-begun': 'not begun',
  'not-made': 'not made',
  'out-of-date': 'out of date',
};
