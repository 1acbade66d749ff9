import type { Colourway, Requirement } from '../model/requirement.js';
import type { ChannelRules, ListingText } from './channel-rules.js';
import { priceBy, USUAL_PRICES, type PriceRule } from './pricing.js';

/** How a product is sold on a channel. */
export interface ListedProduct {
  /** What it costs, minor units of the channel's currency, where it is not what the channel's rules say. */
  readonly cost?: number;
  /** Its price, where it is not what the rule makes of the cost. */
  readonly price?: number;
  /** Colours it is not sold in, `#rrggbb`. */
  readonly without?: readonly string[];
  readonly off?: boolean;
}

/** What a channel has of its own. */
export interface ListingException extends Partial<ListingText> {
  /** True when the design is not sold there. */
  readonly off?: boolean;
}

/** What a design is sold with: one text for all channels, and exceptions where one needs them. */
export interface ListingFields extends ListingText {
  readonly prices: PriceRule;
  /** By the id of its requirement. */
  readonly products: Readonly<Record<string, ListedProduct>>;
  /** By the id of the channel's rules. */
  readonly exceptions: Readonly<Record<string, ListingException>>;
  /** Ids of the listing pictures, the first one first; all that are current when absent. */
  readonly pictures?: readonly string[];
  /** Id of the clip that comes along. */
  readonly clip?: string;
}

export const emptyListing = (name: string): ListingFields => ({
  title: name,
  description: '',
  tags: [],
  prices: USUAL_PRICES,
  products: {},
  exceptions: {},
});

/** Most letters of a text before any channel is asked, and most tags. */
export const MOST_LISTING = { title: 300, description: 10_000, tag: 80, tags: 60, pictures: 40 } as const;

/** What a listing says on a channel. */
export function textOn(listing: ListingFields, rulesId: string): ListingText {
  const { title, description, tags } = listing.exceptions[rulesId] ?? {};
  return {
    title: title ?? listing.title,
    description: description ?? listing.description,
    tags: tags ?? listing.tags,
  };
}

/** Words in braces that stand for the design's own, so that a text serves any design. */
export const PLACEHOLDERS = ['{name}', '{colours}'] as const;

/** A text with the placeholders filled in. @param offers what is sold, for the names of its colours */
export function filledText(
  { title, description, tags }: ListingText,
  name: string,
  offers: readonly Pick<Offer, 'colourways' | 'off'>[],
): ListingText {
  const colours = [
    ...new Set(offers.filter(({ off }) => !off).flatMap(({ colourways }) => colourways.map((one) => one.name))),
  ];
  const fill = (text: string): string => text.replaceAll('{name}', name).replaceAll('{colours}', inWords(colours));
  return {
    title: fill(title),
    description: fill(description),
    // A tag that stands for several colours is one of each.
    tags: tags.flatMap((tag) => (tag === '{colours}' ? colours.map((one) => one.toLowerCase()) : [fill(tag)])),
  };
}

/** `Chalk, Harbour and Soot` */
const inWords = (names: readonly string[]): string =>
  names.length < 2 ? names.join() : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;

/** A product as it is offered. */
export interface Offer {
  readonly requirementId: string;
  readonly name: string;
  readonly product: string;
  readonly colourways: readonly Colourway[];
  /** Null where nobody has said it. Minor units. */
  readonly cost: number | null;
  readonly price: number | null;
  readonly off: boolean;
}

/** The products of a design on a channel: each of its targets there. */
export function offersOn(
  listing: ListingFields,
  rules: ChannelRules,
  targets: readonly { readonly requirementId: string }[],
  requirements: readonly Requirement[],
): Offer[] {
  return targets.flatMap(({ requirementId }) => {
    const requirement = requirements.find(({ id }) => id === requirementId);
    if (!requirement || requirement.channel !== rules.channel) return [];
    const own = listing.products[requirementId] ?? {};
    const known = rules.costs.find(({ product }) => product === requirement.product)?.cost ?? null;
    const cost = own.cost ?? known;
    return {
      requirementId,
      name: requirement.name,
      product: requirement.product,
      colourways: requirement.colourways.filter(({ hex }) => !own.without?.includes(hex)),
      cost,
      price: own.price ?? (cost === null ? null : priceBy(listing.prices, cost, rules.currency)),
      off: own.off ?? false,
    };
  });
}

/** What cannot be sold as it stands: no price, or no colour. */
export function offersBroken(offers: readonly Offer[]): string[] {
  const sold = offers.filter(({ off }) => !off);
  return [
    ...(sold.length ? [] : ['No product of this design is sold here. Give it a target of this channel.']),
    ...sold.filter(({ price }) => price === null).map(({ name }) => `${name} has no price: say what it costs.`),
    ...sold.filter(({ colourways }) => !colourways.length).map(({ name }) => `${name} is sold in no colour.`),
  ];
}

/** Words that say nothing by themselves. */
const EMPTY = new Set(
  (
    'the and for with from that this your our are was were not but all any can has have had its his her they them their ' +
    'who whom whose which what when where why how into over under between than then there here about after before more ' +
    'most some such only also just very like everybody everyone every each one two'
  ).split(' '),
);

/** A tag of other listings: how many have it, and which share of all. */
export interface EarlierTag {
  readonly tag: string;
  readonly times: number;
  readonly share: number;
}

/** Words of a text that say something, in lower case. */
const wordsOf = (text: string): string[] =>
  [...text.toLowerCase().matchAll(/\p{L}[\p{L}\p{N}'’-]{2,}/gu)]
    .map(([word]) => word)
    .filter((word) => !EMPTY.has(word));

/**
 * Tags of other listings that may fit this one: those that share a word with it or with its design's name, and those of
 * the shop rather than of one design, which at least two and at least half of the listings have.
 */
export function fittingTags(
  { title, description, tags }: ListingText,
  name: string,
  earlier: readonly EarlierTag[],
): string[] {
  const own = new Set(wordsOf([name, title, description, ...tags].join(' ')));
  return earlier
    .filter(({ tag, times, share }) => (times > 1 && share >= 0.5) || wordsOf(tag).some((word) => own.has(word)))
    .map(({ tag }) => tag);
}

/** Tags that a design's words suggest and that are not there yet: those of its title first, then of its description. */
export function proposedTags(
  { title, description, tags }: ListingText,
  earlier: readonly string[],
  most: number,
): string[] {
  const has = new Set(tags.map((tag) => tag.toLowerCase()));
  const found: string[] = [];
  for (const word of [title.toLowerCase().trim(), ...wordsOf(title), ...earlier, ...wordsOf(description)])
    if (word.length > 2 && word.length <= MOST_LISTING.tag && !has.has(word.toLowerCase())) {
      has.add(word.toLowerCase());
      found.push(word);
    }
  return found.slice(0, most);
}

/**
 * A listing that begins as another design's: its text with that design's name replaced by this one's, its prices and its
 * exceptions. Products, pictures and clip are its own.
 * @param from name of the other design
 * @param to name of this one
 */
export function begunFrom(other: ListingFields, from: string, to: string): ListingFields {
  const renamed = (text: string): string => (from.trim() ? replacedName(text, from.trim(), to) : text);
  const exceptions = Object.fromEntries(
    Object.entries(other.exceptions).map(([id, { title, description, ...rest }]) => [
      id,
      {
        ...rest,
        ...(title === undefined ? {} : { title: renamed(title) }),
        ...(description === undefined ? {} : { description: renamed(description) }),
      },
    ]),
  );
  return {
    title: renamed(other.title),
    description: renamed(other.description),
    tags: other.tags.map(renamed),
    prices: other.prices,
    products: {},
    exceptions,
  };
}

/** Each place where a name stands by itself, whatever its case; all small or all capital letters stay so. */
function replacedName(text: string, from: string, to: string): string {
  const escaped = from.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  return text.replace(new RegExp(`(?<![\\p{L}\\p{N}])${escaped}(?![\\p{L}\\p{N}])`, 'giu'), (found) =>
    found === found.toLowerCase() ? to.toLowerCase() : found === found.toUpperCase() ? to.toUpperCase() : to,
  );
}
