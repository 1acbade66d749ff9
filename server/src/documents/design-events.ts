import type { HandingKind } from '@kettle/contract';
import type { Queryable } from '../floor/database/database.js';

/** Something that has happened, before it has a time. */
export interface NewEvent {
  readonly owner: string;
  readonly designId: string;
  readonly kind: HandingKind;
  readonly whom: string;
  readonly said?: string;
}

/** Longest saying that is kept beside an event, letters. */
const MOST_SAID = 500;

/** Writes down what has happened, in the transaction in which it does. */
export async function noteEvent(
  within: Queryable,
  { owner, designId, kind, whom, said = '' }: NewEvent,
): Promise<void> {
  await within.change('INSERT INTO handing_event (owner, design_id, kind, whom, said) VALUES (?, ?, ?, ?, ?)', [
    owner,
    designId,
    kind,
    whom.slice(0, 80),
    said.slice(0, MOST_SAID),
  ]);
}
