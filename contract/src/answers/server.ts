import * as yup from 'yup';
import type { InferType } from 'yup';
import { orNull, record, told } from '../told.js';

export const aliveSchema = record({ ok: told.flag() });

/** What clients said that was not read yet. */
const heardOf = record({
  count: told.whole(),
  /** The design of which something was said last. */
  designId: told.id(),
});
export type HeardOf = InferType<typeof heardOf>;

/** What the page asks now and then. */
export const sessionSchema = record({
  /** Whether the server has a password. */
  gated: told.flag(),
  /** What its keeper should know; null for nothing. */
  notice: told.text().nullable(),
  heard: orNull(heardOf),
});

/** Something that the keeper ended, because nothing named it any more. */
export const keeperNoteSchema = record({
  duty: told.text(),
  ended: told.whole(),
  sentence: told.text(),
  doneAt: told.time(),
});
export type KeeperNote = InferType<typeof keeperNoteSchema>;

/** An OpenAPI document. */
export const descriptionSchema = yup.object({ openapi: told.text() }).required();
