import type { DesignDocument, Layer } from './design.js';
import { ownValue } from './own-value.js';

/** A design with its pictures under other ids. Layers whose picture is not among them are left out. */
export const withAssets = (design: DesignDocument, ids: Readonly<Record<string, string>>): DesignDocument => carried(design, (layer) => {
  if (layer.kind !== 'picture') return layer;
  const id = ownValue(ids, layer.assetId);
  return id === undefined ? null : id === layer.assetId ? layer : { ...layer, assetId: id };
});

/** A design with its lettering's fonts under other ids; those not named stay. */
export const withFonts = (design: DesignDocument, ids: Readonly<Record<string, string>>): DesignDocument => carried(design, (layer) => (
  layer.kind === 'text' && (ownValue(ids, layer.fontId) ?? layer.fontId) !== layer.fontId ? { ...layer, fontId: ids[layer.fontId] } : layer));

/** The same object when nothing changes. */
function carried(design: DesignDocument, change: (layer: Layer) => Layer | null): DesignDocument {
  const layers = design.layers.map(change);
  return layers.every((layer, i) => layer === design.layers[i]) ? design : { ...design, layers: layers.filter((layer) => layer !== null) };
}
