import { computed, signal } from '@angular/core';
import type { SheetRow } from '@kettle/contract';

/** Where something stands on the sheet: row, and column from 0 for the design itself, 1 for the first requirement. */
export interface SheetPlace {
  readonly row: number;
  readonly column: number;
}

/** What is shown: rows from the top, and requirement ids from the left. */
export interface SheetView {
  readonly rows: readonly SheetRow[];
  readonly columns: readonly string[];
}

const cellKey = (designId: string, requirementId: string): string => `${designId} ${requirementId}`;

/** Cells and whole rows that are selected, and the place from which Shift extends. */
export class SheetSelection {
  private readonly chosen = signal<ReadonlySet<string>>(new Set());
  private readonly chosenRows = signal<ReadonlySet<string>>(new Set());
  private anchor: SheetPlace | null = null;

  readonly rows = this.chosenRows.asReadonly();
  readonly isEmpty = computed(() => this.chosen().size + this.chosenRows().size === 0);

  hasCell(designId: string, requirementId: string): boolean {
    return this.chosenRows().has(designId) || this.chosen().has(cellKey(designId, requirementId));
  }
  hasRow(designId: string): boolean {
    return this.chosenRows().has(designId);
  }

  clear(): void {
    this.chosen.set(new Set());
    this.chosenRows.set(new Set());
    this.anchor = null;
  }

  /** Selects or lets go of what stands at a place, and begins from there. */
  toggle(view: SheetView, place: SheetPlace): void {
    const row = view.rows[place.row];
    if (!row) return;
    const flipped = (before: ReadonlySet<string>, key: string): ReadonlySet<string> => {
      const after = new Set(before);
      if (!after.delete(key)) after.add(key);
      return after;
    };
    if (place.column === 0) this.chosenRows.update((before) => flipped(before, row.designId));
    else this.chosen.update((before) => flipped(before, cellKey(row.designId, view.columns[place.column - 1])));
    this.anchor = place;
  }

  /**
   * Selects everything between the place begun from and this one: whole rows when either stands in the first column.
   */
  extend(view: SheetView, place: SheetPlace): void {
    const from = this.anchor ?? place;
    this.anchor = from;
    const [top, bottom] = [Math.min(from.row, place.row), Math.max(from.row, place.row)];
    const rows = view.rows.slice(top, bottom + 1);
    if (from.column === 0 || place.column === 0) {
      this.chosenRows.update((before) => new Set([...before, ...rows.map((row) => row.designId)]));
      return;
    }
    const columns = view.columns.slice(Math.min(from.column, place.column) - 1, Math.max(from.column, place.column));
    this.chosen.update(
      (before) =>
        new Set([
          ...before,
          ...rows.flatMap((row) =>
            row.cells
              .filter((cell) => columns.includes(cell.requirementId))
              .map((cell) => cellKey(row.designId, cell.requirementId)),
          ),
        ]),
    );
  }

  /** Selects all cells of a column, or lets go of them when all are selected. */
  column(view: SheetView, requirementId: string): void {
    const keys = view.rows
      .filter((row) => row.cells.some((cell) => cell.requirementId === requirementId))
      .map((row) => cellKey(row.designId, requirementId));
    this.chosen.update((before) => {
      const all = keys.every((key) => before.has(key));
      return all ? new Set([...before].filter((key) => !keys.includes(key))) : new Set([...before, ...keys]);
    });
  }

  /** Selects every row that is shown. */
  all(view: SheetView): void {
    this.chosenRows.set(new Set(view.rows.map((row) => row.designId)));
  }
}
