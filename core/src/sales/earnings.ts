import { convert, type Rates } from '../listing/money.js';

/** A sale as far as sums ask about it. Amounts of one, minor units. */
export interface Sold {
  readonly copies: number;
  readonly price: number;
  readonly currency: string;
  /** Null where its cost was not known. */
  readonly earned: number | null;
  /** ISO 8601. */
  readonly at: string;
}

/** What was sold under a name, in the home currency's minor units. */
export interface Earnings {
  readonly name: string;
  readonly copies: number;
  readonly income: number;
  /** Of those whose cost was known. */
  readonly earned: number;
  /** Copies whose cost was not known, so that they are not in what was earned. */
  readonly withoutCost: number;
  /** Copies in a currency without a rate: they are in no sum of money. */
  readonly withoutRate: number;
}

/** Sums of sales by what `nameOf` says of each, those that earned most first. */
export function earningsBy<S extends Sold>(
  sales: readonly S[],
  nameOf: (sale: S) => string,
  home: string,
  rates: Rates,
): Earnings[] {
  const sums = new Map<string, Earnings>();
  for (const sale of sales) {
    const name = nameOf(sale);
    const before = sums.get(name) ?? { name, copies: 0, income: 0, earned: 0, withoutCost: 0, withoutRate: 0 };
    const { copies, price, currency, earned } = sale;
    const income = convert(price * copies, currency, home, rates);
    // A loss is a loss in any currency.
    const kept = earned === null ? null : signed(earned * copies, currency, home, rates);
    sums.set(name, {
      name,
      copies: before.copies + copies,
      income: before.income + (income ?? 0),
      earned: before.earned + (kept ?? 0),
      withoutCost: before.withoutCost + (earned === null ? copies : 0),
      withoutRate: before.withoutRate + (income === null ? copies : 0),
    });
  }
  return [...sums.values()].sort((a, b) => b.earned - a.earned || b.income - a.income || a.name.localeCompare(b.name));
}

const signed = (minor: number, from: string, to: string, rates: Rates): number | null => {
  const size = convert(Math.abs(minor), from, to, rates);
  return size === null ? null : Math.sign(minor) * size;
};

/** The days of sales, each of them from the first to the last, `2026-11-28`. @param most the newest so many */
export function daysOf(sales: readonly Pick<Sold, 'at'>[], most: number): string[] {
  if (!sales.length) return [];
  const times = sales.map(({ at }) => Date.parse(at.slice(0, 10)));
  const [first, last] = [Math.min(...times), Math.max(...times)];
  const days: string[] = [];
  for (let day = last; day >= first && days.length < most; day -= 86_400_000)
    days.unshift(new Date(day).toISOString().slice(0, 10));
  return days;
}
