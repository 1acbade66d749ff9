/** What a typed text stands for: a number, one of two that it can be, or none. */
export type TypedNumber =
  | { readonly kind: 'number'; readonly value: number }
  | { readonly kind: 'either'; readonly values: readonly [grouped: number, decimal: number] }
  | { readonly kind: 'none' };

const NONE: TypedNumber = { kind: 'none' };

/** A sign, groups of three behind the same mark or plain digits, and what stands behind the other mark. */
const GROUPED = /^(\d{1,3}(?:,\d{3})+)(?:\.(\d+))?$|^(\d{1,3}(?:\.\d{3})+),(\d+)$|^(\d{1,3}(?:\.\d{3}){2,})$/;

/**
 * A number as people type it: with a decimal point or a comma, thousands apart by blanks, apostrophes, or the other
 * mark. `12,5` is twelve and a half, `1.125` one and an eighth, `1,234.5` and `1.234,5` are the same number. One comma
 * with three digits behind it can be both (`1,200`) and is asked.
 */
export function readNumber(text: string): TypedNumber {
  const bare = text
    .trim()
    .replace(/^[−–]/, '-')
    .replace(/(\d)[\s'’](?=\d{3}(?!\d))/g, '$1');
  const sign = bare.startsWith('-') ? -1 : 1;
  const digits = bare.replace(/^[-+]\s*/, '');
  const number = (value: string): TypedNumber => ({ kind: 'number', value: sign * Number(value) + 0 });
  if (/^(?:\d+[.,]?\d*|[.,]\d+)$/.test(digits)) {
    const decimal = digits.replace(',', '.');
    return /^[1-9]\d{0,2},\d{3}$/.test(digits)
      ? { kind: 'either', values: [sign * Number(digits.replace(',', '')), sign * Number(decimal)] }
      : number(decimal);
  }
  const grouped = GROUPED.exec(digits);
  if (!grouped) return NONE;
  const [, commas, behindPoint, points, behindComma, onlyPoints] = grouped;
  const whole = (commas ?? points ?? onlyPoints).replace(/[.,]/g, '');
  return number(`${whole}.${behindPoint ?? behindComma ?? '0'}`);
}

/** What to say of a text that is no number, or can be two of them; null for a number. */
export function refuseNumber(text: string, what: string): string | null {
  const read = readNumber(text);
  if (read.kind === 'number') return null;
  return read.kind === 'either'
    ? `“${text.trim()}” can be ${read.values[0]} or ${read.values[1]}: write one of them.`
    : `${what} must be a number.`;
}
