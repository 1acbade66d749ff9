import { kindOf, marksOf } from '../layers/layer-kinds.js';
import { PROCESS_WORDS } from '../model/press.js';
import { limitsOf, processOf } from '../model/requirement.js';
import { ofEachLayer } from './check.js';

/** Parts of letters lower than this share of the highest are dots and accents. */
const LETTER_FROM = 0.4;

/**
 * Height of the small letters of a path, in its own units: that of the lowest contours which are not dots or accents.
 * @param path SVG path data in absolute coordinates
 */
export function letterHeight(path: string): number {
  const heights = path
    .split(/(?=M)/)
    .map((contour) => {
      let [least, most] = [Infinity, -Infinity];
      // Points of a contour; its control points reach a little beyond, which a limit forgives.
      const numbers = contour.match(/-?\d*\.?\d+(?:e-?\d+)?/gi) ?? [];
      for (let i = 1; i < numbers.length; i += 2) {
        const y = Number(numbers[i]);
        if (y < least) least = y;
        if (y > most) most = y;
      }
      return most - least;
    })
    .filter((height) => height > 0)
    .sort((a, b) => a - b);
  const letters = heights.filter((height) => height >= LETTER_FROM * heights.at(-1)!);
  return letters[Math.floor(letters.length * 0.1)] ?? 0;
}

/** Lettering lower than the process holds, measured on its outlines where they are printed. */
export const smallLetters = ofEachLayer([], ({ layer, where }, { layout, requirement }) => {
  const limit = limitsOf(requirement).letterMm;
  if (limit === null || kindOf(layer).fontOf(layer) === null) return null;
  const drawing = marksOf(layer);
  const path = drawing?.marks.find((mark) => !mark.erase)?.path;
  if (!drawing || !path || !(drawing.box.height > 0)) return null;
  const height = letterHeight(path) * (layer.place.height / drawing.box.height) * layout.factor;
  if (!(height > 0) || height >= limit - 0.02) return null;
  const times = Math.min(20, (limit / height) * 1.02);
  return {
    code: 'small-letters',
    severity: 'warns',
    title: 'Letters too small to read',
    layerId: layer.id,
    where,
    sentence: `The small letters of “${layer.name}” are ${height.toFixed(1)} mm high; ${PROCESS_WORDS[processOf(requirement)]} holds ${limit} mm. Smaller ones close up.`,
    fix: {
      kind: 'own-pixels',
      layerId: layer.id,
      width: layer.place.width * times,
      height: layer.place.height * times,
      label: `Enlarge it to ${Math.round(times * 100)} %`,
    },
  };
});
