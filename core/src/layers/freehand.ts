import type { FreehandLayer } from '../model/design.js';
import { marksOfStroke } from '../drawing/freehand.js';
import type { LayerKind } from './layer-kind.js';
import { evenShares, factsOfInks, OUTLINES } from './outlines.js';

const inking = ({ strokes }: FreehandLayer): string[] =>
  strokes.filter((stroke) => !stroke.erase).map((stroke) => stroke.hex);

/** Lines drawn by hand. */
export const FREEHAND: LayerKind<FreehandLayer> = {
  ...OUTLINES,
  kind: 'freehand',
  word: 'Freehand',
  hasParts: true,
  bulk: ['strokes'],
  drawing: (layer) => ({ marks: layer.strokes.flatMap(marksOfStroke), box: layer.frame, reach: 0 }),
  carried: (layer) => layer,
  paints: inking,
  recoloured: (layer, swap) => ({
    ...layer,
    strokes: layer.strokes.map((stroke) => ({ ...stroke, hex: swap(stroke.hex) })),
  }),
  inks: (layer) => evenShares(inking(layer)),
  facts: (layer) => factsOfInks(evenShares(inking(layer))),
};
