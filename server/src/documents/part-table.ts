import { Readable } from 'node:stream';
import { setImmediate as others } from 'node:timers/promises';
import { parse } from 'csv-parse';
import { ProblemError } from '../floor/basics/problem-error.js';

/** Most letters of one row: what is longer is no table, or has a quotation mark that is never closed. */
const MOST_LETTERS = 50_000;
/** Letters that are read before others are answered. */
const PIECE = 32_768;

export interface RowsAsked {
  readonly delimiter: string | string[];
  /** Most rows that are read; what comes after them is not looked at. */
  readonly most: number;
  /** Leaves rows out that hold nothing. */
  readonly skipsEmpty: boolean;
}

/**
 * Reads the rows of a table of text, piece by piece: others are answered in between, however large it is.
 * @returns `most` rows and one more where there are more
 * @throws ProblemError 422 for a quotation mark that is open or out of place
 */
export async function readRows(text: string, { delimiter, most, skipsEmpty }: RowsAsked): Promise<string[][]> {
  const rows: string[][] = [];
  const parser = parse({
    bom: true,
    delimiter,
    relax_column_count: true,
    skip_empty_lines: skipsEmpty,
    max_record_size: MOST_LETTERS,
  });
  const pieces = Readable.from(piecesOf(text));
  try {
    for await (const row of pieces.pipe(parser) as AsyncIterable<string[]>) {
      rows.push(row);
      if (rows.length > most) break;
    }
  } catch (error) {
    const { code, lines } = error as { code?: string; lines?: number };
    if (!code?.startsWith('CSV_')) throw error;
    throw new ProblemError(
      422,
      'broken-table',
      code === 'CSV_MAX_RECORD_SIZE'
        ? `Row ${rows.length + 1} of this table is longer than any row can be: a quotation mark is open, or it is no table. Nothing was taken in.`
        : `This table cannot be read${lines ? ` around row ${lines}` : ''}: a quotation mark is open or out of place. Nothing was taken in.`,
    );
  } finally {
    pieces.destroy();
    parser.destroy();
  }
  return rows;
}

async function* piecesOf(text: string): AsyncGenerator<string> {
  for (let at = 0; at < text.length; at += PIECE) {
    await others();
    yield text.slice(at, at + PIECE);
  }
}
