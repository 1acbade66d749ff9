import type { Fees } from './pricing.js';

/** Ways in which markets take listings, in words. How each is spoken is the server's, in `listings/markets`. */
export const MARKET_WORDS = { 'one-call': 'sent in one call', ticket: 'sent piece by piece, answered later' } as const;
export type MarketInterface = keyof typeof MARKET_WORDS;
export const MARKET_INTERFACES = Object.keys(MARKET_WORDS) as readonly MarketInterface[];

/** Proportions of listing pictures that channels name, width by height. */
export type ListedShape = '1:1' | '4:5' | '3:4' | '16:9';
export const LISTED_SHAPES: readonly ListedShape[] = ['1:1', '4:5', '3:4', '16:9'];

/** What a channel demands of listings, and what it costs to sell there. Data, as requirements are. */
export interface ChannelRulesFields {
  /** As its requirements name it. */
  readonly channel: string;
  /** ISO 4217. */
  readonly currency: string;
  /** Letters of the title. */
  readonly title: { readonly least: number; readonly most: number };
  readonly description: { readonly least: number; readonly most: number };
  /** How many tags, and the letters of each. */
  readonly tags: { readonly least: number; readonly most: number; readonly letters: number };
  /** Words that may stand nowhere, whatever their case. */
  readonly forbidden: readonly string[];
  /** Largest share of capitals among the letters of a title, 0 to 1. */
  readonly capitals: number;
  readonly pictures: {
    readonly least: number;
    readonly most: number;
    /** Of the shorter side, px. */
    readonly leastSide: number;
    /** Shapes it takes; any when empty. */
    readonly shapes: readonly ListedShape[];
    /** True when the first one has to show the product before a plain backdrop of one colour. */
    readonly firstPlain: boolean;
  };
  readonly clip: 'none' | 'allowed' | 'needed';
  readonly fees: Fees;
  /** What products cost the seller there, minor units, by the words of requirements. */
  readonly costs: readonly { readonly product: string; readonly cost: number }[];
  /** How listings are sent there; null for a channel that they are carried to by hand. */
  readonly by: MarketInterface | null;
}

export interface ChannelRules extends ChannelRulesFields {
  readonly id: string;
  readonly revision: number;
  readonly shipped: boolean;
}

/** What a listing says. */
export interface ListingText {
  readonly title: string;
  readonly description: string;
  readonly tags: readonly string[];
}

/** A picture of a listing as far as a channel asks about it. */
export interface ListedPicture {
  readonly width: number;
  readonly height: number;
  /** True when one colour alone stands behind the product. */
  readonly plain: boolean;
}

export type ListingField = 'title' | 'description' | 'tags' | 'pictures' | 'clip' | 'prices';

/** Something a channel would refuse: where it stands, what is wrong and by how much. */
export interface Broken {
  readonly field: ListingField;
  readonly sentence: string;
}

/** Letters as people count them: an accent or a family of emoji is one. */
const segments = new Intl.Segmenter('en', { granularity: 'grapheme' });
export const lettersOf = (text: string): number => [...segments.segment(text.trim())].length;

const counted = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

function lengthBroken(field: ListingField, name: string, letters: number, least: number, most: number): Broken[] {
  if (letters > most)
    return [
      {
        field,
        sentence: `${name} has ${counted(letters, 'letter')}, ${letters - most} more than the ${most} it may have.`,
      },
    ];
  if (letters < least)
    return [
      {
        field,
        sentence: letters
          ? `${name} has ${counted(letters, 'letter')}; at least ${least} are needed, ${least - letters} more.`
          : `${name} is missing; it needs at least ${counted(least, 'letter')}.`,
      },
    ];
  return [];
}

/** True where a word stands by itself: “art” is not in “party”. Letters are those of Unicode, so any script will do. */
function holds(text: string, word: string): boolean {
  const escaped = word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  return new RegExp(`(?<![\\p{L}\\p{N}])${escaped}(?![\\p{L}\\p{N}])`, 'iu').test(text);
}

/** What of a text a channel would refuse. */
export function textBroken(
  { title, description, tags, forbidden, capitals }: ChannelRulesFields,
  text: ListingText,
): Broken[] {
  const broken = [
    ...lengthBroken('title', 'The title', lettersOf(text.title), title.least, title.most),
    ...lengthBroken('description', 'The description', lettersOf(text.description), description.least, description.most),
  ];
  const letters = [...text.title].filter((letter) => /\p{L}/u.test(letter));
  const upper = letters.filter((letter) => /\p{Lu}/u.test(letter)).length;
  // A short title of two words begins both with a capital: shares say nothing below some letters.
  if (letters.length >= 8 && upper / letters.length > capitals)
    broken.push({
      field: 'title',
      sentence: `${Math.round((upper / letters.length) * 100)} % of the title’s letters are capitals; at most ${Math.round(capitals * 100)} % may be.`,
    });
  const count = text.tags.length;
  if (count > tags.most)
    broken.push({ field: 'tags', sentence: `There are ${count} tags, ${count - tags.most} more than ${tags.most}.` });
  if (count < tags.least)
    broken.push({
      field: 'tags',
      sentence: `There ${count === 1 ? 'is one tag' : `are ${count} tags`}; at least ${tags.least} are needed.`,
    });
  for (const tag of text.tags.filter((one) => lettersOf(one) > tags.letters))
    broken.push({
      field: 'tags',
      sentence: `The tag “${tag}” has ${lettersOf(tag)} letters, ${lettersOf(tag) - tags.letters} more than ${tags.letters}.`,
    });
  const twice = text.tags.find(
    (tag, i) => text.tags.findIndex((other) => other.toLowerCase() === tag.toLowerCase()) !== i,
  );
  if (twice !== undefined) broken.push({ field: 'tags', sentence: `The tag “${twice}” is there twice.` });
  for (const word of forbidden) {
    const where = (['title', 'description'] as const).find((field) => holds(text[field], word));
    if (where) broken.push({ field: where, sentence: `The ${where} may not have the word “${word}”.` });
    if (text.tags.some((tag) => holds(tag, word)))
      broken.push({ field: 'tags', sentence: `Tags may not have the word “${word}”.` });
  }
  return broken;
}

const aspect = (shape: ListedShape): number => {
  const [width, height] = shape.split(':').map(Number);
  return width / height;
};

/** What of its pictures and clip it would refuse. */
export function picturesBroken(
  { pictures: demanded, clip }: ChannelRulesFields,
  pictures: readonly ListedPicture[],
  hasClip: boolean,
): Broken[] {
  const { least, most, leastSide, shapes, firstPlain } = demanded;
  const broken: Broken[] = [];
  const say = (sentence: string): number => broken.push({ field: 'pictures', sentence });
  if (pictures.length < least)
    say(
      `${pictures.length ? `There ${pictures.length === 1 ? 'is' : 'are'} ${counted(pictures.length, 'picture')}` : 'There is no picture'}; at least ${least} ${least === 1 ? 'is' : 'are'} needed.`,
    );
  if (pictures.length > most)
    say(`There are ${pictures.length} pictures, ${pictures.length - most} more than ${most}.`);
  pictures.forEach(({ width, height }, i) => {
    const side = Math.min(width, height);
    if (side < leastSide) say(`Picture ${i + 1} has ${side} px on its shorter side, ${leastSide - side} px too few.`);
    if (shapes.length && !shapes.some((shape) => Math.abs(width / height / aspect(shape) - 1) < 0.01))
      say(`Picture ${i + 1} is ${width} × ${height} px; its shape has to be ${shapes.join(' or ')}.`);
  });
  if (firstPlain && pictures.length && !pictures[0].plain)
    say('The first picture has to show the product before a plain backdrop of one colour.');
  if (clip === 'needed' && !hasClip) broken.push({ field: 'clip', sentence: 'A clip is needed.' });
  if (clip === 'none' && hasClip) broken.push({ field: 'clip', sentence: 'It takes no clip.' });
  return broken;
}
