import type { Layer } from './design.js';
import { coloursOfPaint, recolourPaint, type Paint, type Swap } from './paint.js';

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

/** Colours a layer was given, `#rrggbb` in lower case, each once. Pictures have none. */
export function ownColours(layer: Layer): string[] {
  return [...new Set(paintsOf(layer).flatMap(coloursOfPaint).map((hex) => hex.toLowerCase()))];
}

function paintsOf(layer: Layer): (Paint | null)[] {
  switch (layer.kind) {
    case 'picture': return [];
    case 'shape':
    case 'text': return [layer.fill, layer.outline?.hex ?? null];
    case 'graphic': return layer.parts.map((part) => part.fill);
    case 'freehand': return layer.strokes.filter((stroke) => !stroke.erase).map((stroke) => stroke.hex);
  }
}
