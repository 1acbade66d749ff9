import { becameSchema, ratesTold } from '../answers/became.js';
import { queuedSchema } from '../answers/making.js';
import { ratesSchema } from '../listing-schema.js';
import { asked, call } from './call.js';

/** What became of designs. */
export const BECAME_CALLS = {
  'get /api/rates': call({
    summary: 'What currencies are worth, as the seller entered it',
    about: 'what one unit of a currency is worth in the home currency, decimal texts',
    answer: ratesTold,
  }),
  'put /api/rates': call({
    summary: 'Says what currencies are worth',
    body: ratesSchema,
    answer: ratesTold,
    problems: [422],
  }),
  'get /api/became': call({
    summary: 'What became of designs: what was made, sent, answered and sold',
    about: 'events and sales, the newest first, with the rates',
    query: { design: asked.id() },
    answer: becameSchema,
  }),
  'post /api/sales/ask': call({
    summary: 'Asks markets that do not tell by themselves what was sold',
    about: 'asks markets that tell nothing by themselves',
    status: 202,
    answer: queuedSchema,
    problems: [429],
  }),
};
