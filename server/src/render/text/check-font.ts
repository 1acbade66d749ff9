import { readFile } from 'node:fs/promises';
import { PLAIN_LETTERING } from '@kettle/core/text';
import type { FontScript } from '@kettle/contract';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { unpackFont, verifyChecksums, verifyExtents, wrap, type OpenFont } from './font-file.js';
import { setLines } from './lettering.js';

/** What is known of a seller's own font. */
export interface FontFacts {
  readonly family: string;
  readonly weight: number;
  readonly scripts: readonly FontScript[];
  readonly letters: number;
}

/** A letter of each script that a font for it has. */
const SIGNS: readonly (readonly [FontScript, string])[] = [
  ['Latin', 'a'],
  ['Arabic', 'ب'],
  ['Devanagari', 'क'],
  ['Japanese', 'あ'],
];

/**
 * Reads a font file whole and tries it: only one that can set letters is let in.
 * @throws ProblemError otherwise
 */
export async function checkFont(path: string): Promise<FontFacts> {
  const sfnt = await unpackFont(await readFile(path));
  verifyChecksums(sfnt);
  const open = wrap(sfnt);
  verifyExtents(open, sfnt);
  const letters = open.face.collectUnicodes();
  const tried = [...letters].filter((code) => code > 32).slice(0, 200);
  // Every one of the first letters is drawn, so that an outline that leads nowhere is met here and not on a print.
  const { outlines } = setLines(String.fromCodePoint(...tried), [open], PLAIN_LETTERING);
  if (!outlines)
    throw new ProblemError(422, 'empty-font', 'This font has no letters that can be drawn, so it was not taken in.');
  return {
    family: nameOf(open),
    weight: weightOf(open),
    scripts: SIGNS.filter(([, letter]) => open.has(letter.codePointAt(0)!)).map(([script]) => script),
    letters: letters.length,
  };
}

// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u001f\u007f]/g;

/** Typographic family, or family (OpenType 1.9, name table). */
function nameOf({ face }: OpenFont): string {
  const names = face.listNames();
  for (const id of [16, 1, 4]) {
    const entry =
      names.find((one) => one.nameId === id && one.language.startsWith('en')) ?? names.find((one) => one.nameId === id);
    const name = entry && face.getName(id, entry.language).replace(CONTROL, '').trim().slice(0, 80);
    if (name) return name;
  }
  return '';
}

/** usWeightClass (OpenType 1.9, OS/2 table), 400 when there is none. */
function weightOf({ face }: OpenFont): number {
  const table = face.referenceTable('OS/2');
  const weight = table && table.length >= 6 ? (table[4] << 8) | table[5] : 400;
  return Math.min(1000, Math.max(1, weight || 400));
}
