import { effectiveDpi } from '../document/target.js';
import { MM_PER_INCH } from '../units/length.js';
import type { AssetFacts } from '../model/asset-facts.js';
import { ofEachLayer } from './check.js';

/** Enlargement below this is invisible in print and not worth a word. */
const ENLARGED_FROM = 1.02;
/** From here on the softness is seen at arm's length. */
const VERY_ENLARGED = 1.6;

/** Most inks of flat art, and how much of it they must make up; photos have more. */
const FLAT_INKS = 6;
const FLAT_SHARE = 0.93;

const isFlatArt = ({ inks }: Pick<AssetFacts, 'inks'>): boolean =>
  inks.slice(0, FLAT_INKS).reduce((sum, ink) => sum + ink.share, 0) >= FLAT_SHARE;

/** A picture that is printed larger than its own pixels allow. */
export const enlarged = ofEachLayer([], ({ layer, facts, where }, { layout: { canvas, factor } }) => {
  if (facts.vector) return null;
  const dpi = effectiveDpi(layer, facts, factor);
  const enlargement = canvas.dpi / dpi;
  if (enlargement <= ENLARGED_FROM) return null;
  const own = (pixels: number): number => ((pixels / canvas.dpi) * MM_PER_INCH) / factor;
  return {
    code: 'enlarged',
    severity: enlargement >= VERY_ENLARGED ? 'blocks' : 'warns',
    title: 'Soft print',
    layerId: layer.id,
    where,
    sentence: `“${layer.name}” is enlarged to ${Math.round(enlargement * 100)} % of its own pixels: ${Math.round(dpi)} DPI where ${canvas.dpi} DPI is wanted.`,
    fix: {
      kind: 'own-pixels',
      layerId: layer.id,
      width: own(facts.width),
      height: own(facts.height),
      label: 'Shrink to its own pixels',
    },
    ...(isFlatArt(facts)
      ? { also: { kind: 'trace', layerId: layer.id, label: 'Redraw it as outlines' } as const }
      : {}),
  };
});
