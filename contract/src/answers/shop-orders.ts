import type { OrderSheet, RunPrice } from '@kettle/core/orders';
import type { InferType } from 'yup';
import { schemaOf } from '../proved.js';
import { boxSchema, colourwayTold, orNull, record, told } from '../told.js';

export const SHOP_ORDER_STATES = ['waiting', 'sending', 'looking', 'yes', 'mend', 'failed'] as const;
export type ShopOrderState = (typeof SHOP_ORDER_STATES)[number];

/** A place of a file that a print shop names, px of that file. */
export type ShopPlace = InferType<typeof boxSchema>;

/** What a print shop says of a file, in its own words. */
const remark = record({
  text: told.text(),
  where: orNull(boxSchema),
  /** Its picture of the place, by content; null when it sent none. */
  picture: told.sha256().nullable(),
});

/** A file that was sent, as it was. */
const sentFile = record({
  filename: told.text(),
  sha256: told.sha256(),
  bytes: told.whole(),
  /** Of the design it was made from. */
  revision: told.whole().nullable(),
  /** DPI of the requirement, so that places in px can be found in mm. */
  dpi: told.number(),
});
export type SentFileRecord = InferType<typeof sentFile>;

/** Minor units. */
const price = { each: told.whole(), setUp: told.whole(), total: told.whole() };
export const runPriceSchema = schemaOf<RunPrice>()(record(price));

/** What went to and fro in one round: our file, then the shop's answer. */
const round = record({
  round: told.whole(),
  sentAt: told.time(),
  file: sentFile,
  /** Null while there is none. */
  answer: orNull(
    record({
      saidAt: told.time(),
      state: told.oneOf('yes', 'mend'),
      remarks: told.list(remark),
      price: orNull(record({ ...price, currency: told.text() })),
      days: told.whole().nullable(),
    }),
  ),
});
export type ShopRound = InferType<typeof round>;

const orderSheet = schemaOf<OrderSheet>()(
  record({
    requirementId: told.id(),
    product: told.text(),
    size: told.text(),
    colour: colourwayTold,
    position: told.text(),
    copies: told.whole(),
    note: told.text(),
  }),
);

/** An order at a print shop with its whole thread. */
export const shopOrderAnswerSchema = record({
  id: told.id(),
  designId: told.id(),
  shopId: told.id(),
  shop: told.text(),
  requirementId: told.id(),
  state: told.oneOf(...SHOP_ORDER_STATES),
  sheet: orderSheet,
  /** Why it could not be sent, in a sentence. */
  trouble: told.text(),
  changedAt: told.time(),
  /** Oldest first. */
  rounds: told.list(round),
  /** True when the design would be printed otherwise than the file that was sent last. */
  changedSince: told.flag(),
});
export type ShopOrder = InferType<typeof shopOrderAnswerSchema>;
