import { daysOf, earningsBy } from './earnings.js';

const sale = (change: object = {}) => ({
  channel: 'Larkpost Market',
  copies: 1,
  price: 1995,
  currency: 'GBP',
  earned: 640 as number | null,
  at: '2026-11-20T10:00:00.000Z',
  ...change,
});
const rates = { GBP: '1', EUR: '0.85', JPY: '0.0053' };
const by = (...sales: ReturnType<typeof sale>[]) => earningsBy(sales, ({ channel }) => channel, 'GBP', rates);

describe('earnings', () => {
  it('are sums of copies in the home currency, the best first', () => {
    const [best, other] = by(
      sale({ copies: 2 }),
      sale({ channel: 'Quillmere Shops', currency: 'EUR', price: 2195, earned: 1001, copies: 3 }),
    );
    // 3 × 10.01 EUR × 0.85 = 25.5255, rounded once for the sale.
    expect([best.name, best.copies, best.earned, best.income]).toEqual(['Quillmere Shops', 3, 2553, 5597]);
    expect([other.earned, other.income]).toEqual([1280, 3990]);
  });

  it('go over currencies without minor units, and keep a loss a loss', () => {
    // 1200 yen × 0.0053 = 6.36 pounds.
    expect(by(sale({ currency: 'JPY', price: 1200, earned: -200 }))[0]).toEqual(
      jasmine.objectContaining({ income: 636, earned: -106 }),
    );
  });

  it('say what could not be summed, instead of guessing it', () => {
    const [sum] = by(sale({ earned: null, copies: 4 }), sale({ currency: 'SEK', copies: 2 }), sale());
    expect(sum).toEqual(
      jasmine.objectContaining({ copies: 7, withoutCost: 4, withoutRate: 2, income: 5 * 1995, earned: 640 }),
    );
  });

  it('have every day between the first and the last, and not more than are asked for', () => {
    const at = (...days: string[]) => days.map((day) => ({ at: `${day}T23:59:00.000Z` }));
    expect(daysOf(at('2026-11-30', '2026-12-02'), 9)).toEqual(['2026-11-30', '2026-12-01', '2026-12-02']);
    expect(daysOf(at('2020-01-01', '2026-12-02'), 2)).toEqual(['2026-12-01', '2026-12-02']);
    expect(daysOf([], 5)).toEqual([]);
  });
});
