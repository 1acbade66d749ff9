import type { Broken, ListingField, PriceRule } from '@kettle/core/listing';
import type { InferType } from 'yup';
import { listingSchema } from '../listing-schema.js';
import { schemaOf } from '../proved.js';
import { orNull, record, told } from '../told.js';

/** How a design stands on a market. */
export const PUBLICATION_STATES = [
  'waiting',
  'sending',
  'checking',
  'draft',
  'live',
  'sold-out',
  'refused',
  'failed',
  'taking-down',
  'down',
] as const;
export type PublicationState = (typeof PUBLICATION_STATES)[number];

/** Why a market refuses a listing, in its own words; `field` is empty where it names none. */
const publishedReason = record({ field: told.text(), text: told.text() });
export type PublishedReason = InferType<typeof publishedReason>;

/** A design on a market. */
export const publicationSchema = record({
  id: told.id(),
  designId: told.id(),
  rulesId: told.id(),
  channel: told.text(),
  state: told.oneOf(...PUBLICATION_STATES),
  /** Where it is seen, once it is live. */
  url: told.text().nullable(),
  reasons: told.list(publishedReason),
  changedAt: told.time(),
});
export type Publication = InferType<typeof publicationSchema>;

const broken = schemaOf<Broken>()(record({ field: told.word<ListingField>(), sentence: told.text() }));

/** How a design would stand on a channel if it were sent now. */
export const listingCheckSchema = record({
  rulesId: told.id(),
  broken: told.list(broken),
  /** What is missing of its files, in sentences. */
  missing: told.list(told.text()),
  publication: orNull(publicationSchema),
  /** Words of what differs from what was sent last; empty when it is the same. */
  changed: told.list(told.text()),
  /** False where no market is connected for it. */
  connected: told.flag(),
});
export type ListingCheck = InferType<typeof listingCheckSchema>;

/** A picture that a listing can show. */
export const listingPictureSchema = record({
  id: told.id(),
  filename: told.text(),
  width: told.whole(),
  height: told.whole(),
  /** True when one colour alone stands behind the product. */
  plain: told.flag(),
});
export type ListingPicture = InferType<typeof listingPictureSchema>;

/** A design's listing with what is needed to work on it. */
export const listingAnswerSchema = record({
  /**
   * 0 for one that was never saved. Not `revision`, for that would be taken for the edition of all of this, which changes with
   * every answer of a market.
   */
  savedRevision: told.whole(),
  fields: listingSchema,
  /** Current listing pictures of the design, the newest first. */
  pictures: told.list(listingPictureSchema),
  checks: told.list(listingCheckSchema),
  /** Tags of the seller's other listings, those used most first. */
  earlierTags: told.list(told.text()),
});
export type ListingAnswer = InferType<typeof listingAnswerSchema>;

/** A listing of another design, to begin from. */
export const keptListingSchema = record({
  designId: told.id(),
  /** Name of the design. */
  name: told.text(),
  fields: listingSchema,
});
export type KeptListing = InferType<typeof keptListingSchema>;

const rule = { factor: told.text(), ending: told.whole().nullable() };
schemaOf<PriceRule>()(record(rule));
export const keptPriceRuleTold = record({ name: told.text(), ...rule });
export type KeptPriceRule = InferType<typeof keptPriceRuleTold>;
export const keptPriceRulesSchema = record({ rules: told.list(keptPriceRuleTold) });
/** How many listings were changed. */
export const changedSchema = record({ changed: told.whole() });

/** A call to a market or a print shop, and its answer. */
export const outsideCallSchema = record({
  method: told.text(),
  path: told.text(),
  about: told.text(),
  key: told.text().nullable(),
  status: told.whole().nullable(),
  answer: told.text().nullable(),
  begunAt: told.time(),
  answeredAt: told.time().nullable(),
});
export type OutsideCall = InferType<typeof outsideCallSchema>;
