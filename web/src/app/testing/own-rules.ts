import type { ChannelRules } from '@kettle/core/listing';
import type { PrintShop } from '@kettle/core/orders';

/** Rules of a channel and a print shop that a seller typed. */
export const ownRules: ChannelRules = {
  id: 'mine',
  revision: 3,
  shipped: false,
  channel: 'Quillmere Shops',
  currency: 'GBP',
  title: { least: 5, most: 80 },
  description: { least: 40, most: 2000 },
  tags: { least: 0, most: 13, letters: 20 },
  forbidden: ['cheap'],
  capitals: 0.3,
  pictures: { least: 1, most: 8, leastSide: 1000, shapes: ['1:1'], firstPlain: false },
  clip: 'allowed',
  fees: { percent: '6.5', fixed: 20 },
  costs: [{ product: 'T-shirt', cost: 950 }],
  by: null,
};
export const ownPress: PrintShop = {
  id: 'press',
  revision: 2,
  shipped: false,
  channel: 'Back Room Press',
  currency: 'GBP',
  sizes: ['S', 'M'],
  positions: ['Chest'],
  breaks: [{ from: 1, each: 1450 }],
  setUp: 1500,
  days: 6,
  by: null,
};
