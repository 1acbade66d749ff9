import { unite, type Box } from '../geometry/affine.js';
import { boundsOfPlace } from '../geometry/place.js';
import type { Layer } from '../model/design.js';

/** Box around the visible part of a design, or null when everything is hidden. */
export function boundsOfLayers(layers: readonly Layer[]): Box | null {
  return unite(layers.filter((layer) => !layer.hidden).map((layer) => boundsOfPlace(layer.place)));
}
