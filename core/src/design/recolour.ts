import type { Layer } from './design.js';
import { recolourPaint, type Swap } from './paint.js';

/** A layer with its own colours swapped, wherever it has them. Pictures are left alone. */
export function recolourLayer(layer: Layer, swap: Swap): Layer {
  switch (layer.kind) {
    case 'picture': return layer;
    case 'shape':
    case 'text': return { ...layer, fill: recolourPaint(layer.fill, swap), outline: layer.outline && { ...layer.outline, hex: swap(layer.outline.hex) } };
    case 'graphic': return { ...layer, parts: layer.parts.map((part) => ({ ...part, fill: recolourPaint(part.fill, swap) })) };
    case 'freehand': return { ...layer, strokes: layer.strokes.map((stroke) => ({ ...stroke, hex: swap(stroke.hex) })) };
  }
}
