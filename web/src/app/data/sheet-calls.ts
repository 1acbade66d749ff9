import type { Sheet, SheetRow } from '@kettle/contract';
import { EMPTY, expand, map, scan, switchMap, timer, type Observable } from 'rxjs';
import type { Api } from './api';

/** Rows of the sheet that are asked for first, and in each part after that. */
const [FIRST_ROWS, MORE_ROWS] = [24, 400];

/** The sheet as it comes in: the first screenful at once, the rest in larger parts, each time with all rows so far. */
export function wholeSheet(api: Api): Observable<Sheet> {
  const part = (from: number, count: number) =>
    api.ask('get /api/sheet', { query: { from, count } }).pipe(map((sheet) => sheet as Sheet));
  return part(0, FIRST_ROWS).pipe(
    // The first rows are on the screen before the browser is given more to do.
    expand((sheet, index) => {
      const from = FIRST_ROWS + index * MORE_ROWS;
      return sheet.rows.length && from < sheet.total
        ? timer(index === 0 ? 300 : 0).pipe(switchMap(() => part(from, MORE_ROWS)))
        : EMPTY;
    }),
    scan((all, next) => ({ ...next, rows: [...all.rows, ...next.rows] })),
  );
}

/** The rows of some designs, as they are now. Those that are off the sheet are not among them. */
export const sheetRows = (api: Api, designIds: readonly string[]): Observable<readonly SheetRow[]> =>
  api.ask('get /api/sheet', { query: { designs: designIds.join(',') } }).pipe(map(({ rows }) => rows));
