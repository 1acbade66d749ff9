import type { TextLayer } from '../model/design.js';
import { inkedMarks, outlineReach } from '../drawing/marks.js';
import type { LayerKind } from './layer-kind.js';
import { factsOfInks, inkedPaints, inkedRecoloured, inkedShares, OUTLINES } from './outlines.js';

/** Lettering, drawn from the outlines it was set with. */
export const TEXT: LayerKind<TextLayer> = {
  ...OUTLINES,
  kind: 'text',
  word: 'Lettering',
  isInked: true,
  bulk: ['outlines'],
  drawing: (layer) => {
    const { outlines } = layer;
    const unit = layer.place.width / outlines.width;
    return {
      marks: inkedMarks(outlines.path, layer.fill, layer.outline, unit),
      box: { x: 0, y: 0, width: outlines.width, height: outlines.height },
      reach: outlineReach(layer) / unit,
    };
  },
  fontOf: (layer) => layer.fontId,
  carried: (layer, { fontId }) => (fontId === undefined || fontId === layer.fontId ? layer : { ...layer, fontId }),
  paints: inkedPaints,
  recoloured: inkedRecoloured,
  inks: inkedShares,
  facts: (layer) => factsOfInks(inkedShares(layer)),
  missingLetters: (layer) => layer.missing ?? '',
};
