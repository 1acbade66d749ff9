import type { Queryable } from '../database/database.js';

/** States of what waits for a step, for the step's kind, its table, and the member of its payload that names it. */
const WAITS = [
  {
    kind: 'shop-order',
    table: 'shop_order',
    name: 'orderId',
    states: ['waiting', 'sending'],
    becomes: "state = 'failed', trouble = 'This was not sent: its run ended before. Send it again.'",
  },
  {
    kind: 'publish',
    table: 'publication',
    name: 'publicationId',
    states: ['waiting', 'sending', 'taking-down'],
    becomes: `reasons = JSON_ARRAY(JSON_OBJECT('field', '', 'text', IF(state = 'taking-down',
      'This was not taken down: its run ended before. Take it down again.',
      'This was not sent: its run ended before. Send it again.'))), state = 'failed'`,
  },
] as const;

/**
 * Ends what waits for a step that is not there any more, with a sentence, so that it can be asked for again. What waits
 * is written with its step in one transaction: none that is on its way is ever met.
 * @param most of each kind
 * @returns how many
 */
export async function endWhatWaits(within: Queryable, most: number): Promise<number> {
  let ended = 0;
  for (const { kind, table, name, states, becomes } of WAITS)
    ended += await within.change(
      `UPDATE ${table} SET ${becomes} WHERE state IN ('${states.join("', '")}') AND NOT EXISTS (
         SELECT 1 FROM job WHERE job.kind = '${kind}' AND job.state IN ('waiting', 'queued', 'paused', 'running')
           AND JSON_VALUE(job.payload, '$.${name}') = ${table}.id) LIMIT ${most}`,
    );
  return ended;
}
