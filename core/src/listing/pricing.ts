import { currencyOf, percentOf, timesDecimal } from './money.js';

/** How a price is made of a cost: «cost × 2.4, ending in .95». */
export interface PriceRule {
  /** Decimal text, 1 or more. */
  readonly factor: string;
  /** What a price ends in, minor units: 95 for .95; null where it is as it comes out. */
  readonly ending: number | null;
}

export const USUAL_PRICES: PriceRule = { factor: '2.4', ending: 95 };

/** What a channel keeps of a sale. */
export interface Fees {
  /** Percent of the price, decimal text. */
  readonly percent: string;
  /** Minor units. */
  readonly fixed: number;
}

/** What becomes of a price. Minor units. */
export interface Earned {
  readonly price: number;
  readonly cost: number;
  readonly fees: number;
  /** Negative when the seller pays. */
  readonly earns: number;
  /** What the seller earns of the price, percent with one digit; null without a price. */
  readonly margin: number | null;
}

/** Amounts after which endings come again: a hundred minor units, a thousand where three digits are usual. */
const endingsOf = (code: string): number => (currencyOf(code).digits === 3 ? 1000 : 100);

/** The least price that is at least cost times factor and ends as it should. */
export function priceBy({ factor, ending }: PriceRule, cost: number, code: string): number {
  const least = timesDecimal(cost, factor);
  if (ending === null) return least;
  const step = endingsOf(code);
  const wanted = ending % step;
  const below = Math.floor(least / step) * step + wanted;
  return below >= least ? below : below + step;
}

export function earnedBy(price: number, cost: number, { percent, fixed }: Fees): Earned {
  const fees = percentOf(price, percent) + fixed;
  const earns = price - cost - fees;
  return { price, cost, fees, earns, margin: price > 0 ? Math.round((earns / price) * 1000) / 10 : null };
}

/** The least price at which the seller does not pay; null when fees eat every price. */
export function leastPrice(cost: number, fees: Fees): number | null {
  const share = Number(fees.percent.replace(',', '.')) / 100;
  if (!(share < 1)) return null;
  // Fees are rounded, by half a unit at most: where they eat most of the price, that is worth several units of it.
  let price = Math.max(0, Math.floor((cost + fees.fixed - 0.5) / (1 - share)) - 1);
  while (earnedBy(price, cost, fees).earns < 0) price++;
  return price;
}
