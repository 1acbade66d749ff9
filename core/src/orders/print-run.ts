import type { Colourway } from '../model/requirement.js';
import { earnedBy } from '../listing/pricing.js';
import { nextBreak, priceOfRun, type PrintShopFields, type RunPrice } from './print-shop.js';

export type PrintRunState = 'open' | 'closed' | 'ordered' | 'delivered';

/** What people can want of a design, and from when on it is worth printing. */
export interface PrintRunFields {
  readonly name: string;
  /** The print file that is needed. */
  readonly requirementId: string;
  readonly shopId: string;
  readonly position: string;
  /** ISO 4217. */
  readonly currency: string;
  /** What one is sold for, minor units. */
  readonly price: number;
  /** Copies from which the seller has it printed. */
  readonly worthFrom: number;
  readonly sizes: readonly string[];
  readonly colours: readonly Colourway[];
  /** Said to those who look at its page. */
  readonly note: string;
}

export type InterestSource = 'typed' | 'table' | 'page';

/** What somebody wants. */
export interface InterestFields {
  readonly name: string;
  /** How they are reached, if they said so. */
  readonly contact: string;
  readonly size: string;
  /** Name of the colour. */
  readonly colour: string;
  readonly copies: number;
  /** What was paid already, minor units. */
  readonly deposit: number;
}

/** Most copies that one entry may ask for, and most entries of a run. */
export const MOST_OF_ONE = 500;
export const MOST_INTERESTS = 5000;

/** Copies by size and colour. */
export interface RunTable {
  readonly rows: readonly { readonly colour: Colourway; readonly copies: readonly number[]; readonly total: number }[];
  /** Of each size. */
  readonly totals: readonly number[];
  readonly total: number;
}

/** Copies by colour (rows) and size (columns), in the run's own order. Entries of a size or colour it has no more are not in it. */
export function runTable(
  { sizes, colours }: Pick<PrintRunFields, 'sizes' | 'colours'>,
  interests: readonly Pick<InterestFields, 'size' | 'colour' | 'copies'>[],
): RunTable {
  const sum = (some: typeof interests): number => some.reduce((all, one) => all + one.copies, 0);
  const rows = colours.map((colour) => {
    const own = interests.filter((one) => one.colour === colour.name && sizes.includes(one.size));
    return { colour, copies: sizes.map((size) => sum(own.filter((one) => one.size === size))), total: sum(own) };
  });
  const totals = sizes.map((_, i) => rows.reduce((all, row) => all + row.copies[i], 0));
  return { rows, totals, total: rows.reduce((all, row) => all + row.total, 0) };
}

/** How a run stands: what it would cost and earn as it is, and what is missing. Minor units. */
export interface RunStanding {
  readonly copies: number;
  /** Copies missing until it is worth printing; 0 when it is. */
  readonly missing: number;
  readonly price: RunPrice | null;
  /** Copies missing until the next price break, and what one costs then. */
  readonly next: { readonly missing: number; readonly each: number; readonly from: number } | null;
  /** What is taken in for all of them, and what stays of it. */
  readonly income: number;
  readonly earns: number | null;
  readonly deposits: number;
  /** The least number of copies with which the seller does not pay; null when no number is enough. */
  readonly evenFrom: number | null;
}

export function runStanding(
  run: Pick<PrintRunFields, 'price' | 'worthFrom'>,
  shop: Pick<PrintShopFields, 'breaks' | 'setUp'>,
  interests: readonly Pick<InterestFields, 'copies' | 'deposit'>[],
): RunStanding {
  const copies = interests.reduce((all, one) => all + one.copies, 0);
  const price = priceOfRun(shop, copies);
  const income = copies * run.price;
  return {
    copies,
    missing: Math.max(0, run.worthFrom - copies),
    price,
    next: nextBreak(shop, copies),
    income,
    earns: price && income - price.total,
    deposits: interests.reduce((all, one) => all + one.deposit, 0),
    evenFrom: evenFrom(run.price, shop),
  };
}

/** The least number of copies whose price is not more than what they bring in. */
function evenFrom(price: number, shop: Pick<PrintShopFields, 'breaks' | 'setUp'>): number | null {
  for (const [i, { from, each }] of shop.breaks.entries()) {
    if (earnedBy(price, each, { percent: '0', fixed: 0 }).earns <= 0) continue;
    const copies = Math.max(from, Math.ceil(shop.setUp / (price - each)), 1);
    if (copies < (shop.breaks[i + 1]?.from ?? Infinity)) return copies;
  }
  return null;
}

/** A line of the order sheet: so many of a size and colour. */
export interface OrderLine {
  readonly size: string;
  readonly colour: Colourway;
  readonly copies: number;
}

/** The order sheet of a run: every size and colour that somebody wants. */
export const orderLines = (
  run: Pick<PrintRunFields, 'sizes' | 'colours'>,
  interests: readonly InterestFields[],
): OrderLine[] =>
  runTable(run, interests).rows.flatMap(({ colour, copies }) =>
    copies.flatMap((count, i) => (count ? [{ size: run.sizes[i], colour, copies: count }] : [])),
  );
