import { EM_MM, PLAIN_LETTERING, type Lettering } from '../text/lettering.js';
import { shortName } from '../text/short-name.js';
import type { Layer, TextLayer } from '../model/design.js';

/** New lettering near the top of a field, about half as wide as it. */
export function textLayer(
  id: string,
  set: Pick<TextLayer, 'text' | 'fontId' | 'missing'>,
  outlines: Lettering,
  field: { width: number; height: number },
  fill: string,
): TextLayer {
  const width = Math.min(field.width * 0.55, (field.height * 0.3 * outlines.width) / outlines.height);
  const height = (width * outlines.height) / outlines.width;
  return {
    kind: 'text',
    id,
    name: nameOfText(set.text),
    ...set,
    settings: PLAIN_LETTERING,
    outlines,
    fill,
    outline: null,
    opacity: 1,
    hidden: false,
    place: {
      x: field.width / 2,
      y: field.height * 0.12 + height / 2,
      width,
      height,
      turn: 0,
      flipX: false,
      flipY: false,
    },
  };
}

/** Outlines of words that no face has set yet: no ink, about as large as they will be. */
export function unsetLettering(text: string): Lettering {
  const lines = text.split('\n');
  const letters = Math.max(1, ...lines.map((line) => line.length));
  return { path: UNSET, width: letters * 0.55 * EM_MM, height: (0.72 + (lines.length - 1) * 1.1) * EM_MM };
}
const UNSET = 'M0 0';

/** True for lettering that waits to be set: nothing of it would be printed. */
export const isUnset = (layer: Layer): layer is TextLayer => layer.kind === 'text' && layer.outlines.path === UNSET;

/** A layer's name from its first words. */
export const nameOfText = (text: string): string => shortName(text, 40, 'Lettering');

/** What lettering is set with. */
export type TextSetting = Partial<Pick<TextLayer, 'text' | 'fontId' | 'settings' | 'missing'>>;

/** Lettering set anew: the letters keep their size and their middle, the box follows them. */
export function resetText(layer: TextLayer, set: TextSetting, outlines: Lettering): TextLayer {
  const unit = layer.place.width / layer.outlines.width;
  const named = layer.name === nameOfText(layer.text) && set.text !== undefined ? { name: nameOfText(set.text) } : {};
  return {
    ...layer,
    ...set,
    ...named,
    outlines,
    place: { ...layer.place, width: outlines.width * unit, height: outlines.height * unit },
  };
}
