import { rgbOf } from '../colour/srgb.js';
import { flatField } from '../raster/flat-field.js';
import type { Pixels } from '../raster/pixels.js';
import type { ColourCut } from './treatment.js';
import { reduced } from './working.js';

/** Side of the copy that a ground is looked for on, px. */
const LOOKED_AT = 512;
/** Least and most tolerance that is guessed, levels. */
const [LEAST, MOST] = [3, 14];

/**
 * The step that takes a picture's flat ground out, with the tolerance its noise asks for; null where it stands on none.
 * @param working the working copy
 */
export function firstGuess(working: Pixels, id: string): ColourCut | null {
  const factor = Math.min(1, LOOKED_AT / Math.max(working.width, working.height));
  const looked = reduced(
    working,
    Math.max(1, Math.round(working.width * factor)),
    Math.max(1, Math.round(working.height * factor)),
  );
  const hex = flatField(looked);
  if (hex === null || isAll(looked, hex)) return null;
  return { id, kind: 'colour', hex, tolerance: toleranceFor(working, hex), from: 'border' };
}

/** True when there is nothing but the ground: taking it out would leave no art. */
function isAll({ data }: Pixels, hex: string): boolean {
  const { r, g, b } = rgbOf(hex);
  let art = 0;
  for (let i = 0; i < data.length; i += 4)
    if (data[i + 3] > 0 && Math.max(Math.abs(data[i] - r), Math.abs(data[i + 1] - g), Math.abs(data[i + 2] - b)) > MOST)
      art++;
  return art * 4 < data.length * 0.0005;
}

/** What most of the ground's own pixels stay within, and half as much again. */
function toleranceFor({ data }: Pixels, hex: string): number {
  const { r, g, b } = rgbOf(hex);
  const levels = new Uint32Array(MOST * 4);
  let count = 0;
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3] < 250) continue;
    const far = Math.sqrt(((data[i] - r) ** 2 + (data[i + 1] - g) ** 2 + (data[i + 2] - b) ** 2) / 3);
    if (far >= MOST) continue;
    levels[Math.floor(far * 4)]++;
    count++;
  }
  let [seen, at] = [0, 0];
  while (at < levels.length - 1 && seen + levels[at] < count * 0.985) seen += levels[at++];
  return Math.round(Math.min(MOST, Math.max(LEAST, (at / 4) * 1.5 + 1)) * 2) / 2;
}
