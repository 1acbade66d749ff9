import type { ShapeLayer } from '../model/design.js';
import { inkedMarks, outlineReach } from '../drawing/marks.js';
import { shapePath } from '../drawing/shape.js';
import type { LayerKind } from './layer-kind.js';
import { factsOfInks, inkedPaints, inkedRecoloured, inkedShares, OUTLINES } from './outlines.js';

/** A parametric shape. */
export const SHAPE: LayerKind<ShapeLayer> = {
  ...OUTLINES,
  kind: 'shape',
  word: 'Shape',
  isInked: true,
  drawing: (layer) => {
    const { width, height } = layer.place;
    return {
      marks: inkedMarks(shapePath(layer, width, height), layer.fill, layer.outline, 1),
      box: { x: 0, y: 0, width, height },
      reach: outlineReach(layer),
    };
  },
  carried: (layer) => layer,
  paints: inkedPaints,
  recoloured: inkedRecoloured,
  inks: inkedShares,
  facts: (layer) => factsOfInks(inkedShares(layer)),
};
