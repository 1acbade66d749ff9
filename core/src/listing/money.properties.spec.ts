import fc from 'fast-check';
import {
  amountText,
  convert,
  CURRENCIES,
  MOST_MONEY,
  parseMoney,
  percentOf,
  readDecimal,
  timesDecimal,
} from './money.js';
import { earnedBy, leastPrice, priceBy } from './pricing.js';

const code = fc.constantFrom(...CURRENCIES.map((one) => one.code));
const amount = fc.integer({ min: 0, max: MOST_MONEY });
const cost = fc.integer({ min: 1, max: 500_000 });
/** A decimal text above zero, of up to three digits behind the point. */
const decimal = (least: number, most: number) =>
  fc
    .integer({ min: Math.round(least * 1000), max: Math.round(most * 1000) })
    .map((thousandths) => (thousandths / 1000).toFixed(3));

describe('amounts of money', () => {
  it('are read again as they were written, with a point and with a comma', () => {
    fc.assert(
      fc.property(amount, code, (minor, of) => {
        const text = amountText(minor, of);
        expect(parseMoney(text, of)).toBe(minor);
        expect(parseMoney(text.replace('.', ','), of)).toBe(minor);
      }),
    );
  });

  it('are never ten or a hundred times what was typed', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 99_999 }),
        fc.integer({ min: 0, max: 99 }),
        fc.constantFrom('.', ','),
        (whole, part, point) => {
          expect(parseMoney(`${whole}${point}${String(part).padStart(2, '0')}`, 'EUR')).toBe(whole * 100 + part);
        },
      ),
    );
  });

  it('are none when anything else stands there', () => {
    fc.assert(
      fc.property(
        fc.string().filter((text) => !/^\d{1,10}([.,]\d{1,8})?$/.test(text.trim())),
        code,
        (text, of) => {
          expect(readDecimal(text)).toBeNull();
          expect(parseMoney(text, of)).toBeNull();
        },
      ),
    );
  });

  it('multiplied are within half a minor unit of the true product', () => {
    fc.assert(
      fc.property(cost, decimal(0, 20), (minor, factor) => {
        const product = timesDecimal(minor, factor);
        expect(Number.isInteger(product)).toBeTrue();
        expect(Math.abs(product - minor * Number(factor))).toBeLessThanOrEqual(0.5 + 1e-6);
        expect(percentOf(minor, factor)).toBe(timesDecimal(minor, (Number(factor) / 100).toFixed(8)));
      }),
    );
  });

  it('changed into another currency and back are off by rounding alone', () => {
    fc.assert(
      fc.property(cost, code, code, decimal(0.2, 5), decimal(0.2, 5), (minor, from, to, a, b) => {
        const rates = from === to ? { [from]: a } : { [from]: a, [to]: b };
        const there = convert(minor, from, to, rates)!;
        const back = convert(there, to, from, rates)!;
        // One minor unit of the coarser of both, seen from where the amount began.
        const unit = convert(1, to, from, rates)!;
        expect(Math.abs(back - minor)).toBeLessThanOrEqual(Math.max(1, unit));
      }),
    );
  });
});

describe('prices', () => {
  const rule = fc.record({ factor: decimal(1, 8), ending: fc.option(fc.integer({ min: 0, max: 99 })) });

  it('are the least that is at least cost times factor and ends as it should', () => {
    fc.assert(
      fc.property(rule, cost, fc.constantFrom('GBP', 'EUR', 'JPY'), (by, of, currency) => {
        const [price, least] = [priceBy(by, of, currency), timesDecimal(of, by.factor)];
        expect(price).toBeGreaterThanOrEqual(least);
        if (by.ending === null) expect(price).toBe(least);
        else {
          expect(price % 100).toBe(by.ending);
          expect(price - least).toBeLessThan(100);
        }
      }),
    );
  });

  it('are what was paid, what is kept and what is earned, to the penny', () => {
    const fees = fc.record({ percent: decimal(0, 90), fixed: fc.integer({ min: 0, max: 500 }) });
    fc.assert(
      fc.property(cost, fees, fc.integer({ min: 1, max: 1_000_000 }), (of, kept, price) => {
        const earned = earnedBy(price, of, kept);
        expect(earned.cost + earned.fees + earned.earns).toBe(price);
        const least = leastPrice(of, kept);
        if (least === null) return;
        expect(earnedBy(least, of, kept).earns)
          .withContext('at the least price')
          .toBeGreaterThanOrEqual(0);
        expect(earnedBy(least - 1, of, kept).earns)
          .withContext('a penny below it')
          .toBeLessThan(0);
      }),
    );
  });
});
