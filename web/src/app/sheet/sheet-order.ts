import type { SheetRow } from '@kettle/contract';
import type { TargetState } from '@kettle/core/checks';
import { dayBefore } from '../units/clock';

export type SheetOrder = 'added' | 'name' | 'newest' | 'state';

export const SHEET_ORDERS: readonly { readonly id: SheetOrder; readonly label: string }[] = [
  { id: 'added', label: 'As added' },
  { id: 'name', label: 'By name' },
  { id: 'newest', label: 'Newest first' },
  { id: 'state', label: 'What needs you first' },
];

/** States in the order in which they want somebody. */
const URGENCY: readonly TargetState[] = ['needs-work', 'out-of-date', 'not-made', 'not-begun', 'ready'];

const byName = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
const urgencyOf = ({ cells }: SheetRow): number =>
  Math.min(...cells.map((cell) => URGENCY.indexOf(cell.state)), URGENCY.length);

/** Rows in an order; equal ones stay as they were added. */
export function ordered(rows: readonly SheetRow[], order: SheetOrder): readonly SheetRow[] {
  switch (order) {
    case 'added':
      return rows;
    case 'name':
      return rows.toSorted((a, b) => byName.compare(a.name, b.name));
    case 'newest':
      return rows.toSorted((a, b) => (a.savedAt < b.savedAt ? 1 : a.savedAt > b.savedAt ? -1 : 0));
    case 'state':
      return rows.toSorted((a, b) => urgencyOf(a) - urgencyOf(b));
  }
}

/** What rows are shown by, beside their states. */
export interface SheetFilter {
  readonly words: string;
  /** A channel that a row has a target of; all when empty. */
  readonly channel: string;
  /** Whole days since the last change, with what was done today; any when null. */
  readonly days: number | null;
}

export const NO_FILTER: SheetFilter = { words: '', channel: '', days: null };

export const SINCE: readonly { readonly days: number | null; readonly label: string }[] = [
  { days: null, label: 'Changed any time' },
  { days: 1, label: 'Changed since yesterday' },
  { days: 7, label: 'Changed this week' },
  { days: 31, label: 'Changed this month' },
];

/**
 * Rows that a filter lets through.
 * @param channelOf the channel of a requirement id
 * @param now ms
 */
export function filtered(
  rows: readonly SheetRow[],
  { words, channel, days }: SheetFilter,
  channelOf: (requirementId: string) => string | undefined,
  now: number,
): readonly SheetRow[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  if (!wanted.length && !channel && days === null) return rows;
  const since = days === null ? null : new Date(dayBefore(now, days)).toISOString();
  return rows.filter(
    (row) =>
      wanted.every((word) => row.name.toLowerCase().includes(word)) &&
      (!channel || row.cells.some((cell) => channelOf(cell.requirementId) === channel)) &&
      (since === null || row.savedAt >= since),
  );
}

/** Rows with a cell in one of the states; all when none is chosen. */
export const inStates = (rows: readonly SheetRow[], states: ReadonlySet<TargetState>): readonly SheetRow[] =>
  states.size ? rows.filter((row) => row.cells.some((cell) => states.has(cell.state))) : rows;
