import { amountText, parseMoney } from '@kettle/core/listing';
import type { PriceBreak } from '@kettle/core/orders';

// Short lists as people type them: one thing a line, or things with commas between.

/** Words of a list, each once. */
export const wordsOf = (text: string): string[] => [
  ...new Set(
    text
      .split(/[,\n]/)
      .map((one) => one.trim())
      .filter(Boolean),
  ),
];

/** Costs as lines, `T-shirt = 9.50`. */
export const costLines = (
  costs: readonly { readonly product: string; readonly cost: number }[],
  currency: string,
): string => costs.map(({ product, cost }) => `${product} = ${amountText(cost, currency)}`).join('\n');

/** Price breaks as lines, `12 = 11.50`. */
export const breakLines = (breaks: readonly PriceBreak[], currency: string): string =>
  breaks.map(({ from, each }) => `${from} = ${amountText(each, currency)}`).join('\n');

/** What was read of lines, or the sentence that says which of them is wrong. */
export type ReadLines<T> = { readonly read: T[] } | { readonly wrong: string };

function pairsOf<T>(
  text: string,
  currency: string,
  example: string,
  make: (name: string, amount: number) => T | null,
): ReadLines<T> {
  const read: T[] = [];
  for (const line of text.split('\n').filter((one) => one.trim())) {
    const at = line.lastIndexOf('=');
    const amount = at < 0 ? null : parseMoney(line.slice(at + 1), currency);
    const one = amount === null ? null : make(line.slice(0, at).trim(), amount);
    if (one === null) return { wrong: `“${line.trim()}” is not a line such as “${example}”. The old ones stay.` };
    read.push(one);
  }
  return { read };
}

export const readCosts = (text: string, currency: string) =>
  pairsOf(text, currency, `T-shirt = ${amountText(950, currency)}`, (product, cost) =>
    product ? { product, cost } : null,
  );

export const readBreaks = (text: string, currency: string) =>
  pairsOf<PriceBreak>(text, currency, `12 = ${amountText(1150, currency)}`, (name, each) =>
    /^\d{1,6}$/.test(name) && Number(name) > 0 ? { from: Number(name), each } : null,
  );
