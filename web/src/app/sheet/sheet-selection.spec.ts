import type { SheetRow } from '@kettle/contract';
import { SheetSelection, type SheetView } from './sheet-selection';

const COLUMNS = ['tee', 'mug', 'tote'];
const view: SheetView = {
  columns: COLUMNS,
  rows: ['drizzle', 'fog', 'isobars'].map(
    (designId, i) =>
      ({
        designId,
        // The second design is not for totes.
        cells: COLUMNS.filter((id) => i !== 1 || id !== 'tote').map((requirementId) => ({ requirementId })),
      }) as unknown as SheetRow,
  ),
};

describe('what is selected on the job sheet', () => {
  let selection: SheetSelection;
  beforeEach(() => {
    selection = new SheetSelection();
  });
  const cells = () =>
    view.rows.flatMap(({ designId, cells: own }) =>
      own
        .filter((cell) => selection.hasCell(designId, cell.requirementId))
        .map((cell) => `${designId} ${cell.requirementId}`),
    );

  it('is one cell, and none after a second press', () => {
    selection.toggle(view, { row: 0, column: 2 });
    expect(cells()).toEqual(['drizzle mug']);
    selection.toggle(view, { row: 0, column: 2 });
    expect(selection.isEmpty()).toBeTrue();
  });

  it('is a whole row from its first column, with every cell in it', () => {
    selection.toggle(view, { row: 1, column: 0 });
    expect(selection.hasRow('fog')).toBeTrue();
    expect(cells()).toEqual(['fog tee', 'fog mug']);
  });

  it('grows to a box from where it began, whichever corner comes first, and only over cells that are there', () => {
    selection.toggle(view, { row: 2, column: 3 });
    selection.extend(view, { row: 1, column: 2 });
    expect(cells()).toEqual(['fog mug', 'isobars mug', 'isobars tote']);
    // From the same corner again, not from where it ended.
    selection.extend(view, { row: 2, column: 2 });
    expect(cells()).toEqual(['fog mug', 'isobars mug', 'isobars tote']);
  });

  it('grows over whole rows when it reaches the designs', () => {
    selection.toggle(view, { row: 0, column: 1 });
    selection.extend(view, { row: 2, column: 0 });
    expect([...selection.rows()]).toEqual(['drizzle', 'fog', 'isobars']);
  });

  it('begins where Shift is pressed first', () => {
    selection.extend(view, { row: 1, column: 1 });
    expect(cells()).toEqual(['fog tee']);
  });

  it('is a column, and let go as a whole when all of it is selected', () => {
    selection.toggle(view, { row: 0, column: 1 });
    selection.column(view, 'tee');
    expect(cells()).toEqual(['drizzle tee', 'fog tee', 'isobars tee']);
    selection.column(view, 'tee');
    expect(cells()).toEqual([]);
  });

  it('is everything, and nothing', () => {
    selection.all(view);
    expect(cells().length).toBe(8);
    selection.clear();
    expect(selection.isEmpty()).toBeTrue();
    // A place that is not there any more is no reason to fail.
    selection.toggle(view, { row: 9, column: 1 });
    expect(selection.isEmpty()).toBeTrue();
  });
});
