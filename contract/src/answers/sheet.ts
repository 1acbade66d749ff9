import type { TargetState } from '@kettle/core/checks';
import type { InferType } from 'yup';
import { maybe, orNull, record, told } from '../told.js';
import { requirementAnswerSchema } from './requirements.js';

/** Room of each target in the strip of a design's small pictures, CSS px; the strip has twice as many pixels. */
export const STRIP_BOX = { width: 74, height: 58 } as const;

const cell = record({
  requirementId: told.id(),
  state: told.word<TargetState>(),
  /** Colour the cell's picture lies on. */
  garment: told.text(),
  /** Gravest finding in a few words, or null. */
  finding: told.text().nullable(),
  printFileId: told.id().nullable(),
  /** Names the picture's contents; a new one means a new picture. */
  miniature: told.text(),
  /** How its channel has taken it; absent where nothing was sent there, or it was taken down. */
  listing: told.oneOf('sent', 'live', 'sold out', 'accepted', 'refused').optional(),
});
export type SheetCell = InferType<typeof cell>;

/** How far the set of a design is. */
const set = record({
  id: told.id(),
  name: told.text(),
  /** Pictures that the set has, and those of them that are made and current. */
  wanted: told.whole(),
  made: told.whole(),
  /** Ids of the first pictures that are. */
  shown: told.list(told.id()),
  /** Why one cannot be made, in a sentence. */
  wrong: told.text().nullable(),
});
export type SheetSet = InferType<typeof set>;

const row = record({
  designId: told.id(),
  name: told.text(),
  revision: told.whole(),
  savedAt: told.time(),
  layers: told.whole(),
  /** True when other designs may start from it. */
  template: told.flag(),
  pictures: told.whole(),
  /** The set of listing pictures it is to have, and how far that is. */
  set: orNull(set),
  cells: told.list(cell),
});
export type SheetRow = InferType<typeof row>;

/** The job sheet, or a part of its rows; of named designs the rows alone. */
export const sheetSchema = record({
  requirements: maybe(told.list(requirementAnswerSchema)),
  /** Number of all designs on the sheet. */
  total: told.whole().optional(),
  rows: told.list(row),
});
export type Sheet = Required<InferType<typeof sheetSchema>>;
