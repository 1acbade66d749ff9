import type { InferType } from 'yup';
import { record, told } from '../told.js';

/** What currencies are worth, as the seller entered it: units of the home currency for one, decimal text. */
export const ratesTold = record({ home: told.text(), rates: told.byKey(told.text()) });
export type SellerRates = InferType<typeof ratesTold>;

export const HANDING_KINDS = [
  'sent',
  'live',
  'refused',
  'sold-out',
  'taken-down',
  'shop-sent',
  'shop-yes',
  'shop-mend',
  'shown',
  'comment',
  'change',
  'approval',
  'run-open',
  'run-closed',
  'run-ordered',
  'run-delivered',
  'made',
] as const;
export type HandingKind = (typeof HANDING_KINDS)[number];

/** Something that happened to a design. */
const event = record({
  designId: told.id(),
  design: told.text(),
  kind: told.oneOf(...HANDING_KINDS),
  /** A market, a print shop, a client; empty for what was made. */
  whom: told.text(),
  said: told.text(),
  at: told.time(),
});
export type HandingEvent = InferType<typeof event>;

/** A sale as a market reported it. Minor units. */
const sale = record({
  designId: told.id(),
  design: told.text(),
  channel: told.text(),
  product: told.text(),
  colour: told.text(),
  copies: told.whole(),
  price: told.whole(),
  currency: told.text(),
  /** Of one; null where its cost was not known. */
  earned: told.whole().nullable(),
  at: told.time(),
});
export type Sale = InferType<typeof sale>;

/** What became of designs: events and sales, the newest first, and what currencies are worth. */
export const becameSchema = record({
  events: told.list(event),
  sales: told.list(sale),
  /** True where more happened than is listed. */
  more: told.flag(),
  rates: ratesTold,
});
export type Became = InferType<typeof becameSchema>;
