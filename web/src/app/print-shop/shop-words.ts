import type { ShopOrderState } from '@kettle/contract';
import type { StandsAs } from '../parts/standing';

/** States of an order at a print shop, with their words and marks: never told by colour alone. */
export const SHOP_WORDS: Readonly<Record<ShopOrderState, StandsAs>> = {
  waiting: { words: 'waits to be sent', icon: 'clock', mark: 'waiting' },
  sending: { words: 'is being sent', icon: 'upload', mark: 'waiting' },
  looking: { words: 'sent, they look at it', icon: 'clock', mark: 'checking' },
  yes: { words: 'accepted', icon: 'check', mark: 'live' },
  mend: { words: 'to mend', icon: 'x', mark: 'refused' },
  failed: { words: 'not sent', icon: 'alert-triangle', mark: 'failed' },
};
