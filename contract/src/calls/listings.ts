import {
  changedSchema,
  keptListingSchema,
  keptPriceRulesSchema,
  listingAnswerSchema,
  outsideCallSchema,
} from '../answers/listings.js';
import { queuedSchema } from '../answers/making.js';
import { channelRulesAnswerSchema } from '../answers/requirements.js';
import {
  applyPricesSchema,
  channelRulesSchema,
  listingSchema,
  priceRulesSchema,
  publishSchema,
} from '../listing-schema.js';
import { call, listOf } from './call.js';

/** Listings, what channels demand of them, and their way onto markets. */
export const LISTINGS_CALLS = {
  'get /api/channel-rules': call({
    summary: 'What channels demand of listings, and what selling there costs',
    answer: listOf(channelRulesAnswerSchema),
  }),
  'post /api/channel-rules': call({
    summary: 'Keeps rules of a channel',
    body: channelRulesSchema,
    status: 201,
    answer: channelRulesAnswerSchema,
    problems: [422],
  }),
  'put /api/channel-rules/{id}': call({
    summary: 'Changes rules of one’s own',
    ifMatch: true,
    body: channelRulesSchema,
    answer: channelRulesAnswerSchema,
    problems: [404, 412, 422, 428],
  }),
  'delete /api/channel-rules/{id}': call({ summary: 'Takes rules of one’s own away', problems: [404] }),
  'get /api/listings': call({
    summary: 'Listings of all designs, to begin others from; those saved last come first',
    answer: listOf(keptListingSchema),
  }),
  'get /api/designs/{id}/listing': call({
    summary: 'What a design is sold with, and how it stands on each channel',
    about:
      'what it is sold with, and for each channel of its targets what would be refused, what is missing, how it stands there and what has changed since it was sent',
    answer: listingAnswerSchema,
    problems: [404],
  }),
  'put /api/designs/{id}/listing': call({
    summary: 'Saves it; the first time at revision 0',
    about: 'saves the fields; `If-Match` its `savedRevision`, 0 the first time',
    ifMatch: true,
    body: listingSchema,
    answer: listingAnswerSchema,
    problems: [404, 412, 422, 428],
  }),
  'post /api/designs/{id}/publications': call({
    summary: 'Sends its listing to markets',
    about:
      '409 with everything that a channel would refuse, before anything is sent; a draft lies there unseen until it is sent without',
    body: publishSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 422, 429],
  }),
  'post /api/publications/{id}/take-down': call({
    summary: 'Takes a listing down from its market',
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 429],
  }),
  'get /api/publications/{id}/calls': call({
    summary: 'Every call to the market for it, and every answer, newest first',
    about: 'every call to the market and every answer, newest first',
    answer: listOf(outsideCallSchema),
    problems: [404],
  }),
  'get /api/price-rules': call({ summary: 'Price rules that are kept under names', answer: keptPriceRulesSchema }),
  'put /api/price-rules': call({
    summary: 'Keeps these price rules instead of those before',
    body: priceRulesSchema,
    answer: keptPriceRulesSchema,
    problems: [422],
  }),
  'post /api/listings/prices': call({
    summary: 'Puts a price rule into the listings of many designs',
    about: 'puts a price rule into the listings of many designs, `{changed}`; prices set by hand stay',
    body: applyPricesSchema,
    answer: changedSchema,
    problems: [422],
  }),
};
