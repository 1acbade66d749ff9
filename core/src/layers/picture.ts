import type { PictureLayer } from '../model/design.js';
import { pictureKey } from '../treatments/treated.js';
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
  treatmentsOf: (layer) => layer.treatments,
  fontOf: () => null,
  carried: (layer, { assetId }) => (assetId === undefined || assetId === layer.assetId ? layer : { ...layer, assetId }),
  paints: () => [],
  recoloured: (layer) => layer,
  inks: () => [],
  facts: (layer, facts) => ownValue(facts, pictureKey(layer.assetId, layer.treatments)),
  missingLetters: () => '',
};
