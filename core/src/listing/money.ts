import { readNumber } from '../units/typed-number.js';

/**
 * Money is counted in whole minor units of its currency (ISO 4217), never in fractions: 19.95 GBP is 1995. Factors and
 * rates are decimal texts, so that nothing is lost on the way.
 */
export interface Currency {
  readonly code: string;
  readonly name: string;
  /** Digits of the minor unit (ISO 4217): 2 for pence, 0 where there is none. */
  readonly digits: number;
}

export const CURRENCIES: readonly Currency[] = [
  { code: 'GBP', name: 'British pounds', digits: 2 },
  { code: 'EUR', name: 'Euro', digits: 2 },
  { code: 'USD', name: 'US dollars', digits: 2 },
  { code: 'CAD', name: 'Canadian dollars', digits: 2 },
  { code: 'AUD', name: 'Australian dollars', digits: 2 },
  { code: 'CHF', name: 'Swiss francs', digits: 2 },
  { code: 'SEK', name: 'Swedish kronor', digits: 2 },
  { code: 'NOK', name: 'Norwegian kroner', digits: 2 },
  { code: 'JPY', name: 'Japanese yen', digits: 0 },
  { code: 'KWD', name: 'Kuwaiti dinars', digits: 3 },
];

/** Largest amount, minor units: beyond any price, far below what a number holds exactly. */
export const MOST_MONEY = 1_000_000_000;

/** @throws RangeError for a currency that is not known */
export function currencyOf(code: string): Currency {
  const currency = CURRENCIES.find((one) => one.code === code);
  if (!currency) throw new RangeError(`“${code}” is no currency that is known here.`);
  return currency;
}

/** A decimal number, exactly: `units / 10^scale`. */
interface Decimal {
  readonly units: bigint;
  readonly scale: number;
}

/**
 * A decimal text with a point or a comma, up to eight digits behind it; null when it is none or negative, or has a comma
 * that can be one between thousands (`1,200`).
 */
export function readDecimal(text: string): Decimal | null {
  if (readNumber(text).kind === 'either') return null;
  const found = /^(\d{1,10})(?:[.,](\d{1,8}))?$/.exec(text.trim());
  if (!found) return null;
  const [, whole, part = ''] = found;
  return { units: BigInt(whole + part), scale: part.length };
}

const ten = (power: number): bigint => 10n ** BigInt(power);

/** Divides, half away from zero: as shops round. */
function divided(value: bigint, by: bigint): bigint {
  const [abs, sign] = value < 0n ? [-value, -1n] : [value, 1n];
  return sign * ((2n * abs + by) / (2n * by));
}

/**
 * An amount as a person types it, in minor units; null when it is none, has more digits than the currency, or is larger than
 * {@link MOST_MONEY}.
 */
export function parseMoney(text: string, code: string): number | null {
  const { digits } = currencyOf(code);
  const read = readDecimal(text);
  if (!read || read.scale > digits) return null;
  const minor = Number(read.units * ten(digits - read.scale));
  return minor <= MOST_MONEY ? minor : null;
}

/** An amount as digits, `19.95`. */
export function amountText(minor: number, code: string): string {
  const { digits } = currencyOf(code);
  const text = String(Math.abs(minor)).padStart(digits + 1, '0');
  const whole = digits ? `${text.slice(0, -digits)}.${text.slice(-digits)}` : text;
  return `${minor < 0 ? '−' : ''}${whole}`;
}

/** An amount with its currency, `19.95 GBP`. */
export const moneyText = (minor: number, code: string): string => `${amountText(minor, code)} ${code}`;

/** An amount multiplied by a decimal text, rounded half away from zero. @throws RangeError when it is no decimal */
export function timesDecimal(minor: number, factor: string): number {
  const read = readDecimal(factor);
  if (!read) throw new RangeError(`“${factor}” is not a number such as 2.4.`);
  return Number(divided(BigInt(minor) * read.units, ten(read.scale)));
}

/** A share of an amount, its percentage a decimal text, rounded half away from zero. */
export function percentOf(minor: number, percent: string): number {
  const read = readDecimal(percent);
  if (!read) throw new RangeError(`“${percent}” is not a number such as 6.5.`);
  return Number(divided(BigInt(minor) * read.units, ten(read.scale + 2)));
}

/** What one unit of each currency is worth in a common one, decimal texts that the seller enters. */
export type Rates = Readonly<Record<string, string>>;

/** Rates with one of them entered anew; an empty text takes it away. Null when the text is no number. */
export function withRate(rates: Rates, code: string, text: string): Rates | null {
  const { [code]: _old, ...others } = rates;
  const rate = text.trim().replace(',', '.');
  if (!rate) return others;
  return readDecimal(rate) ? { ...others, [code]: rate } : null;
}

/** An amount in another currency; null where no rate was entered for one of them. */
export function convert(minor: number, from: string, to: string, rates: Rates): number | null {
  if (from === to) return minor;
  const [one, other] = [readDecimal(rates[from] ?? ''), readDecimal(rates[to] ?? '')];
  if (!one || !other || other.units === 0n) return null;
  const [fromDigits, toDigits] = [currencyOf(from).digits, currencyOf(to).digits];
  // minor / 10^from × rate(from) / rate(to) × 10^to, in whole numbers until the end.
  const above = BigInt(minor) * one.units * ten(other.scale) * ten(toDigits);
  const below = other.units * ten(one.scale) * ten(fromDigits);
  return Number(divided(above, below));
}
