import type { OnCloths } from '../press/cloth-measure.js';
import { MOSTLY_LOST, PARTLY_LOST } from '../press/seen-ink.js';
import { mapBox, scale } from '../geometry/affine.js';
import type { Colourway } from '../model/requirement.js';
import type { Check } from './check.js';

/** Ink that can hardly be told from the garment it is seen on. */
export const lostOnGarment: Check = {
  hinders: [],
  find: ({ measured, garment, page, requirement: { colourways } }) => {
    const onCloths = measured?.onCloth ?? {};
    const { lost, hex, where } = onCloths[garment.toLowerCase()] ?? { lost: 0, hex: null, where: [] };
    if (lost < PARTLY_LOST) return [];
    const isSame = (colourway: Colourway): boolean => colourway.hex.toLowerCase() === garment.toLowerCase();
    const name = colourways.find(isSame)?.name ?? garment;
    const better = clearestColourway(onCloths, colourways);
    const mostly = lost >= MOSTLY_LOST;
    const places = where.map((box) => mapBox(scale(page.width, page.height), box));
    return [
      {
        code: mostly ? 'lost-on-garment' : 'partly-lost',
        severity: mostly ? 'blocks' : 'warns',
        layerId: null,
        where: places[0] ?? null,
        places,
        title: mostly ? `Vanishes on ${name}` : `Partly lost on ${name}`,
        sentence: `${Math.round(lost * 100)} % of the ink (${hex}) can hardly be told from this garment colour.`,
        fix: better && !isSame(better) ? { kind: 'garment', hex: better.hex, label: `See it on ${better.name}` } : null,
        also: { kind: 'colours', label: 'Every colour at once' },
      },
    ];
  },
};

/** The colourway on which least of the art is lost; among equals the one with most contrast. */
export function clearestColourway(onCloths: OnCloths, colourways: readonly Colourway[]): Colourway | null {
  const judged = colourways.flatMap((colourway) => {
    const seen = onCloths[colourway.hex.toLowerCase()];
    return seen ? [{ colourway, seen }] : [];
  });
  judged.sort((a, b) => a.seen.lost - b.seen.lost || (b.seen.contrast ?? 0) - (a.seen.contrast ?? 0));
  return judged[0]?.colourway ?? null;
}
