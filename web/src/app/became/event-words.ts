import type { HandingKind } from '@kettle/contract';

/** What has happened, as it is told. */
export const EVENT_WORDS: Readonly<Record<HandingKind, { readonly words: string; readonly icon: string }>> = {
  made: { words: 'made', icon: 'file-check' },
  sent: { words: 'sent to', icon: 'upload' },
  live: { words: 'live on', icon: 'check' },
  refused: { words: 'refused by', icon: 'x' },
  'sold-out': { words: 'sold out on', icon: 'minus' },
  'taken-down': { words: 'taken down from', icon: 'minus' },
  'shop-sent': { words: 'print file sent to', icon: 'upload' },
  'shop-yes': { words: 'accepted by', icon: 'check' },
  'shop-mend': { words: 'to mend for', icon: 'x' },
  shown: { words: 'shown to', icon: 'eye' },
  comment: { words: 'comment by', icon: 'mood-smile' },
  change: { words: 'change wished by', icon: 'exclamation-mark' },
  approval: { words: 'approved by', icon: 'check' },
  'run-open': { words: 'orders are gathered:', icon: 'clock' },
  'run-closed': { words: 'orders closed:', icon: 'lock' },
  'run-ordered': { words: 'ordered:', icon: 'upload' },
  'run-delivered': { words: 'handed over:', icon: 'check' },
};
