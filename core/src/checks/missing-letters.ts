import { isUnset } from '../document/text-layer.js';
import { kindOf } from '../layers/layer-kinds.js';
import { ofEachLayer } from './check.js';

/** Letters that no face has, so that a gap would be printed. */
export const missingLetters = ofEachLayer(['missing-letters'], ({ layer, where }) => {
  if (isUnset(layer))
    return {
      code: 'missing-letters',
      severity: 'blocks',
      title: 'Lettering is not set yet',
      layerId: layer.id,
      where,
      fix: null,
      sentence: `“${layer.name}” is not set in its face yet, so nothing of it would be printed. That happens by itself while the design is open.`,
    };
  const missing = kindOf(layer).missingLetters(layer);
  return missing === ''
    ? null
    : {
        code: 'missing-letters',
        severity: 'blocks',
        title: 'Letters are missing',
        layerId: layer.id,
        where,
        fix: null,
        sentence: `The face of “${layer.name}” has no ${[...missing].join(' ')}: nothing would be printed there. Choose another face, or other words.`,
      };
});
