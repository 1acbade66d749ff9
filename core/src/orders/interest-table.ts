import { MOST_OF_ONE, type InterestFields, type PrintRunFields } from './print-run.js';
import { parseMoney } from '../listing/money.js';

/** Words that tables use for what is read of them, small letters. */
const COLUMNS: Readonly<Record<keyof InterestFields, readonly string[]>> = {
  name: ['name', 'who', 'person'],
  contact: ['contact', 'e-mail', 'email', 'mail', 'phone'],
  size: ['size'],
  colour: ['colour', 'color', 'cloth'],
  copies: ['copies', 'count', 'quantity', 'number', 'how many', 'pieces'],
  deposit: ['deposit', 'paid'],
};

/** Rows of a table that could be read, and what is wrong with the others, by row. */
export interface ReadInterest {
  readonly interests: readonly InterestFields[];
  readonly wrong: readonly string[];
}

/** Longest name and contact, letters. */
export const MOST_PERSON = 120;
export const MOST_CONTACT = 200;

/**
 * Reads rows of cells as interest in a run. The first row names the columns; size, colour and copies may be left out where the
 * run has one of them, and copies are one then.
 * @param rows cells as text
 */
export function readInterest(
  run: Pick<PrintRunFields, 'sizes' | 'colours' | 'currency'>,
  rows: readonly (readonly string[])[],
): ReadInterest {
  const [head = [], ...body] = rows.filter((row) => row.some((cell) => cell.trim()));
  const at = Object.fromEntries(
    Object.entries(COLUMNS).map(([field, words]) => [
      field,
      head.findIndex((cell) => words.includes(cell.trim().toLowerCase())),
    ]),
  ) as Record<keyof InterestFields, number>;
  const names = Object.values(at).filter((column) => column >= 0).length;
  if (names === 0 || at.name < 0)
    return {
      interests: [],
      wrong: [
        'The first row has to name the columns: name, contact, size, colour, copies, deposit. At least “name” is needed.',
      ],
    };
  const interests: InterestFields[] = [];
  const wrong: string[] = [];
  for (const [i, row] of body.entries()) {
    const cell = (field: keyof InterestFields): string => (at[field] < 0 ? '' : (row[at[field]] ?? '').trim());
    const problem = (sentence: string): void => void wrong.push(`Row ${i + 2}: ${sentence}`);
    const name = cell('name').slice(0, MOST_PERSON);
    const size = chosen(cell('size'), run.sizes);
    const colour = chosen(
      cell('colour'),
      run.colours.map((one) => one.name),
    );
    const copies = cell('copies') === '' ? 1 : Number(cell('copies'));
    const deposit = cell('deposit') === '' ? 0 : parseMoney(cell('deposit'), run.currency);
    if (!name) problem('there is no name.');
    else if (size === null) problem(`“${cell('size')}” is not one of the sizes ${run.sizes.join(', ')}.`);
    else if (colour === null)
      problem(`“${cell('colour')}” is not one of the colours ${run.colours.map((one) => one.name).join(', ')}.`);
    else if (!Number.isInteger(copies) || copies < 1 || copies > MOST_OF_ONE)
      problem(`“${cell('copies')}” is not a number of copies from 1 to ${MOST_OF_ONE}.`);
    else if (deposit === null) problem(`“${cell('deposit')}” is not an amount in ${run.currency}.`);
    else interests.push({ name, contact: cell('contact').slice(0, MOST_CONTACT), size, colour, copies, deposit });
  }
  return { interests, wrong };
}

/** One of several words whatever its case; the only one there is where nothing was said. */
function chosen(said: string, words: readonly string[]): string | null {
  if (!said) return words.length === 1 ? words[0] : null;
  return words.find((word) => word.toLowerCase() === said.toLowerCase()) ?? null;
}
