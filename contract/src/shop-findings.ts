import { MM_PER_INCH } from '@kettle/core/units';
import type { Finding } from '@kettle/core/checks';
import type { ShopOrder } from './answers/shop-orders.js';

/**
 * What a print shop said last of an order that it wants mended, as findings of its target: places from px of the file to mm of
 * its canvas.
 */
export function findingsOfOrder({ shop, state, rounds, changedSince }: ShopOrder): Finding[] {
  const { file, answer } = rounds.at(-1)!;
  if (state !== 'mend' || !answer) return [];
  const mm = (px: number): number => (px / file.dpi) * MM_PER_INCH;
  return answer.remarks.map(({ text, where }) => ({
    code: 'from-outside',
    severity: 'warns',
    title: `${shop} wants this mended`,
    sentence: changedSince
      ? `“${text}” This was said of a file that the design has moved on from: send the new one under Hand-over.`
      : `“${text}”`,
    layerId: null,
    where: where && { x: mm(where.x), y: mm(where.y), width: mm(where.width), height: mm(where.height) },
    fix: null,
  }));
}
