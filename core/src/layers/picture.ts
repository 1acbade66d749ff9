import type { PictureLayer } from '../document/design.js';
import { ownValue } from '../units/own-value.js';
import type { LayerKind } from './layer-kind.js';

/** An artwork file. Its colours are its own. */
export const PICTURE: LayerKind<PictureLayer> = {
  kind: 'picture',
  word: 'Picture',
  isInked: false,
  hasParts: false,
  bulk: [],
  drawing: () => null,
  assetOf: (layer) => layer.assetId,
  fontOf: () => null,
  carried: (layer, { assetId }) => (assetId === undefined || assetId === layer.assetId ? layer : { ...layer, assetId }),
  paints: () => [],
  recoloured: (layer) => layer,
  inks: () => [],
  facts: (layer, facts) => ownValue(facts, layer.assetId),
  missingLetters: () => '',
};
