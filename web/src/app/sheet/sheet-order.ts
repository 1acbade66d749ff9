import type { SheetRow } from '@kettle/contract';
import type { TargetState } from '@kettle/core';

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

/** Rows with a cell in one of the states; all when none is chosen. */
export const inStates = (rows: readonly SheetRow[], states: ReadonlySet<TargetState>): readonly SheetRow[] =>
  states.size ? rows.filter((row) => row.cells.some((cell) => states.has(cell.state))) : rows;
