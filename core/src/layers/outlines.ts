import type { AssetFacts } from '../model/asset-facts.js';
import type { InkShare } from '../raster/ink.js';
import type { InkedLayer } from '../model/design.js';
import { coloursOfPaint, recolourPaint, type Paint, type Swap } from '../model/paint.js';

/** What kinds made of outlines have in common. */
export const OUTLINES = {
  isInked: false,
  hasParts: false,
  bulk: [] as never[],
  assetOf: (): string | null => null,
  treatmentsOf: () => undefined,
  fontOf: (): string | null => null,
  missingLetters: (): string => '',
} as const;

/** Facts of a layer of our own making: outlines are sharp at any size. */
export const factsOfInks = (inks: readonly InkShare[]): AssetFacts => ({
  width: 1,
  height: 1,
  vector: true,
  dpi: null,
  hasAlpha: true,
  format: 'shape',
  conversions: [],
  opaque: false,
  flatBorder: null,
  inkBox: inks.length ? { x: 0, y: 0, width: 1, height: 1 } : null,
  inks,
});

/** Shares by colour, the largest first. */
export function sharesOf(inks: readonly InkShare[]): InkShare[] {
  const each = new Map<string, number>();
  for (const { hex, share } of inks) each.set(hex.toLowerCase(), (each.get(hex.toLowerCase()) ?? 0) + share);
  return [...each].map(([hex, share]) => ({ hex, share })).sort((a, b) => b.share - a.share);
}

/** Colours of like weight. */
export const evenShares = (colours: readonly string[]): InkShare[] =>
  sharesOf(colours.map((hex) => ({ hex, share: 1 / colours.length })));

/** An outline counts as a fifth of the ink beside a fill. */
export function inkedShares({ fill, outline }: InkedLayer): InkShare[] {
  const fills = coloursOfPaint(fill);
  const rest = fills.length && outline ? 0.8 : 1;
  return sharesOf([
    ...fills.map((hex) => ({ hex, share: rest / fills.length })),
    ...(outline ? [{ hex: outline.hex, share: fills.length ? 0.2 : 1 }] : []),
  ]);
}

export const inkedPaints = ({ fill, outline }: InkedLayer): (Paint | null)[] => [fill, outline?.hex ?? null];

export const inkedRecoloured = <L extends InkedLayer>(layer: L, swap: Swap): L => ({
  ...layer,
  fill: recolourPaint(layer.fill, swap),
  outline: layer.outline && { ...layer.outline, hex: swap(layer.outline.hex) },
});
