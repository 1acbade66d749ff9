import type { GraphicLayer } from '../model/design.js';
import { filled } from '../drawing/marks.js';
import { coloursOfPaint, recolourPaint } from '../model/paint.js';
import type { LayerKind } from './layer-kind.js';
import { evenShares, factsOfInks, OUTLINES } from './outlines.js';

const inks = ({ parts }: GraphicLayer) => evenShares(parts.flatMap((part) => coloursOfPaint(part.fill)));

/** A graphic from the library: outlines with a colour each. */
export const GRAPHIC: LayerKind<GraphicLayer> = {
  ...OUTLINES,
  kind: 'graphic',
  word: 'Graphic',
  hasParts: true,
  bulk: ['parts'],
  drawing: (layer) => ({
    marks: layer.parts.map(({ path, fill, rule }) => ({ ...filled(path, fill), ...(rule ? { rule } : {}) })),
    box: { x: 0, y: 0, ...layer.box },
    reach: 0,
  }),
  carried: (layer) => layer,
  paints: (layer) => layer.parts.map((part) => part.fill),
  recoloured: (layer, swap) => ({
    ...layer,
    parts: layer.parts.map((part) => ({ ...part, fill: recolourPaint(part.fill, swap) })),
  }),
  inks,
  facts: (layer) => factsOfInks(inks(layer)),
};
