import type { InterestFields, PrintRunFields, ReadInterest } from '@kettle/core/orders';
import type { InferType } from 'yup';
import { schemaOf } from '../proved.js';
import { colourwayTold, orNull, record, told } from '../told.js';
import { runPriceSchema } from './shop-orders.js';

/** Of a person who is erased, name and contact are empty. */
const wanted = {
  name: told.text(),
  contact: told.text(),
  size: told.text(),
  colour: told.text(),
  copies: told.whole(),
  deposit: told.whole(),
};
schemaOf<InterestFields>()(record(wanted));

/** An entry of a run, without what was erased of it. */
const interest = record({
  ...wanted,
  id: told.id(),
  source: told.oneOf('typed', 'table', 'page'),
  notedAt: told.time(),
  deliveredAt: told.time().nullable(),
  /** True when its person is no longer named. */
  erased: told.flag(),
});
export type Interest = InferType<typeof interest>;

const run = {
  name: told.text(),
  requirementId: told.id(),
  shopId: told.id(),
  position: told.text(),
  currency: told.text(),
  price: told.whole(),
  worthFrom: told.whole(),
  sizes: told.list(told.text()),
  colours: told.list(colourwayTold),
  note: told.text(),
};
schemaOf<PrintRunFields>()(record(run));

/** Orders in hand of one print, with everybody who wants one. */
export const printRunAnswerSchema = record({
  ...run,
  id: told.id(),
  designId: told.id(),
  designName: told.text(),
  /** Not `revision`: the entries change without it. */
  savedRevision: told.whole(),
  state: told.oneOf('open', 'closed', 'ordered', 'delivered'),
  /** Path of its public page; null while it has none. */
  path: told.text().nullable(),
  madeAt: told.time(),
  orderedAt: told.time().nullable(),
  /** What was ordered, once it was. */
  ordered: orNull(
    record({
      lines: told.list(record({ size: told.text(), colour: colourwayTold, copies: told.whole() })),
      price: orNull(runPriceSchema),
    }),
  ),
  /** Oldest first. */
  interests: told.list(interest),
});
export type PrintRun = InferType<typeof printRunAnswerSchema>;

/** Rows of a table that could be read, and what is wrong with the others. */
export const readInterestSchema = schemaOf<ReadInterest>()(
  record({ interests: told.list(record(wanted)), wrong: told.list(told.text()) }),
);
