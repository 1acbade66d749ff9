import { legibility, type InkShare } from '../colour/legibility.js';
import type { Colourway } from '../requirement/requirement.js';
import type { Check } from './check.js';
import type { SeenLayer } from './sight.js';

/** Ink lost in the cloth from these shares on: nearly all of it, or enough to be missed. */
const MOSTLY_LOST = 0.6;
const PARTLY_LOST = 0.12;

/** Inks of all visible layers together, weighted by the area each covers. */
export function allInks(seen: readonly Pick<SeenLayer, 'layer' | 'facts'>[]): InkShare[] {
  const weighted = seen.flatMap(({ layer, facts }) => {
    if (!facts?.inkBox) return [];
    const area = layer.place.width * layer.place.height * facts.inkBox.width * facts.inkBox.height;
    return facts.inks.map((ink) => ({ hex: ink.hex, share: ink.share * area }));
  });
  const total = weighted.reduce((sum, ink) => sum + ink.share, 0);
  return total > 0 ? weighted.map((ink) => ({ hex: ink.hex, share: ink.share / total })) : [];
}

/** Ink that can hardly be told from the garment it is seen on. */
export const lostOnGarment: Check = {
  hinders: [],
  find: ({ seen, garment, requirement: { colourways } }) => {
    const inks = allInks(seen);
    if (!inks.length) return [];
    const { lost, lostHex } = legibility(inks, garment);
    if (lost < PARTLY_LOST) return [];
    const isSame = (colourway: Colourway): boolean => colourway.hex.toLowerCase() === garment.toLowerCase();
    const name = colourways.find(isSame)?.name ?? garment;
    const better = clearestColourway(inks, colourways);
    const mostly = lost >= MOSTLY_LOST;
    return [
      {
        code: mostly ? 'lost-on-garment' : 'partly-lost',
        severity: mostly ? 'blocks' : 'warns',
        layerId: null,
        where: null,
        title: mostly ? `Vanishes on ${name}` : `Partly lost on ${name}`,
        sentence: `${Math.round(lost * 100)} % of the ink (${lostHex}) can hardly be told from this garment colour.`,
        fix: better && !isSame(better) ? { kind: 'garment', hex: better.hex, label: `See it on ${better.name}` } : null,
        also: { kind: 'colours', label: 'Every colour at once' },
      },
    ];
  },
};

/** The colourway on which least of the art is lost; among equals the one with most contrast. */
export function clearestColourway(inks: readonly InkShare[], colourways: readonly Colourway[]): Colourway | null {
  const judged = colourways.map((colourway) => ({ colourway, seen: legibility(inks, colourway.hex) }));
  judged.sort((a, b) => a.seen.lost - b.seen.lost || b.seen.bestContrast - a.seen.bestContrast);
  return judged[0]?.colourway ?? null;
}
