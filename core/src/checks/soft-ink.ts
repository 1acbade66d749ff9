import { ofEachLayer } from './check.js';

/** Share of the ink that must be semi-transparent to be worth a word: edges of clean art stay below. */
const SOFT_FROM = 0.06;

/** Semi-transparent ink on cloth: printers lay it down as a pale haze, or not at all. */
export const softInk = ofEachLayer([], ({ layer, facts, where }, { requirement }) => {
  if (
    layer.screen ||
    requirement.transparency === 'forbidden' ||
    !requirement.product.match(/shirt|tee|hood|tote|sweat/i)
  )
    return null;
  const share = Math.max(facts.softShare ?? 0, layer.opacity < 0.98 ? 1 : 0);
  if (share < SOFT_FROM) return null;
  return {
    code: 'soft-ink',
    severity: 'warns',
    title: 'Semi-transparent ink',
    layerId: layer.id,
    where,
    sentence: `${Math.round(share * 100)} % of the ink of “${layer.name}” is semi-transparent. Many printers lay it on cloth as a pale haze.`,
    fix: { kind: 'dots', layerId: layer.id, label: 'Print it as dots' },
  };
});
