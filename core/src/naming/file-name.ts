import type { Cloth } from '../model/design.js';
import { versionWord } from '../document/version.js';
import { demandedCanvas } from '../model/canvas.js';
import type { Requirement } from '../model/requirement.js';
import { cutText } from '../text/short-name.js';

/** Longest name of a file, letters, its extension with it: what every system and every ZIP reader takes. */
export const MOST_NAME = 120;

/** Words of a pattern that stand for something of the file. */
export const NAME_TOKENS = [
  { token: 'design', means: 'the design’s name' },
  { token: 'channel', means: 'the channel' },
  { token: 'requirement', means: 'the requirement’s name' },
  { token: 'product', means: 'the product' },
  { token: 'size', means: 'pixels, as 4200x4800' },
  { token: 'dpi', means: 'dots per inch' },
  { token: 'mode', means: 'rgb, cmyk or grey' },
  { token: 'version', means: 'for light or dark cloth, where there are versions' },
] as const;

export type NameToken = (typeof NAME_TOKENS)[number]['token'];

export const USUAL_PATTERN = '{design}-{channel}-{requirement}-{size}-{version}';

/** Letters of any script and digits stay; all else becomes one hyphen. Marks stay with their letter alone. */
const hyphenated = (text: string): string =>
  text
    .normalize('NFC')
    .replace(/[\ufe00-\ufe0f\u200c-\u200f\u202a-\u202e\u2066-\u2069]/g, '')
    .replace(/(?<![\p{L}\p{M}\p{N}])\p{M}+/gu, '-')
    .replace(/[^\p{L}\p{M}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '');

/** Any text as part of a file name: letters of any script and digits, and hyphens between them. */
export const fileNameOf = (text: string): string =>
  cutText(hyphenated(text), MOST_NAME).replace(/-+$/, '') || 'untitled';

/** Names that some systems keep for devices, whatever comes after a full stop. */
const RESERVED = /^(?:con|prn|aux|nul|com\d|lpt\d)$/i;

/** What is wrong with a pattern, as a sentence, or null. */
export function refusePattern(pattern: string): string | null {
  const unknown = [...pattern.matchAll(/\{([^{}]*)\}/g)].find(
    ([, token]) => !NAME_TOKENS.some((one) => one.token === token),
  );
  if (unknown)
    return `“{${unknown[1]}}” stands for nothing. Use ${NAME_TOKENS.map(({ token }) => `{${token}}`).join(', ')}.`;
  if (/[{}]/.test(pattern.replace(/\{[^{}]*\}/g, '')))
    return 'A brace is open. Words that stand for something have one on each side: {design}.';
  const strange = /[^\p{L}\p{M}\p{N}\-_. ()]/u.exec(pattern.replace(/\{[^{}]*\}/g, ''));
  if (strange) return `“${strange[0]}” cannot be in a file name everywhere. Use letters, digits, spaces and - _ . ( ).`;
  if (!pattern.includes('{design}')) return 'Put {design} into it: otherwise nobody can tell one file from another.';
  return pattern.length > 200 ? 'A pattern has at most 200 letters.' : null;
}

/** What a file is named after. */
export interface NamedAfter {
  readonly design: string;
  readonly requirement: Requirement;
  readonly version: Cloth | null;
}

const values = ({ design, requirement, version }: NamedAfter): Readonly<Record<NameToken, string>> => {
  const { widthPx, heightPx } = demandedCanvas(requirement);
  return {
    design,
    channel: requirement.channel,
    requirement: requirement.name,
    product: requirement.product,
    size: `${widthPx}x${heightPx}`,
    dpi: String(requirement.dpi),
    mode: requirement.mode,
    version: version ? versionWord(version) : '',
  };
};

/**
 * A name by a pattern, safe on every system: letters of any script, digits and - _ . ( ) and spaces between them, at
 * most {@link MOST_NAME} letters. What stands for nothing leaves no doubled separator behind.
 */
export function nameBy(pattern: string, after: NamedAfter, extension: string): string {
  const known = values(after);
  const filled = pattern.replace(/\{([^{}]*)\}/g, (whole, token: string) =>
    Object.hasOwn(known, token) ? hyphenated(known[token as NameToken]) : whole,
  );
  return safeName(filled, extension);
}

/** Any text as the name of a file, with its extension. */
export function safeName(text: string, extension: string): string {
  const stem = text
    .normalize('NFC')
    .replace(/[^\p{L}\p{M}\p{N}\-_. ()]+/gu, '-')
    .replace(/([-_. ])[-_. ]+/g, '$1')
    .replace(/\(\s*\)/g, '')
    .replace(/^[-_. ]+|[-_. ]+$/g, '');
  const cut = cutText(stem, MOST_NAME - extension.length - 1).replace(/[-_. (]+$/, '') || 'untitled';
  return `${RESERVED.test(cut.split('.')[0]) ? `_${cut}` : cut}.${extension}`;
}

/**
 * Names of which no two are the same, also where capitals do not count: later ones get a number before their extension.
 */
export function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  const keyOf = (name: string): string => name.normalize('NFC').toLowerCase();
  return names.map((name) => {
    const dot = name.lastIndexOf('.');
    const [stem, extension] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
    let one = name;
    for (let n = 2; taken.has(keyOf(one)); n++) {
      const number = `-${n}`;
      one = `${cutText(stem, MOST_NAME - extension.length - number.length)}${number}${extension}`;
    }
    taken.add(keyOf(one));
    return one;
  });
}
