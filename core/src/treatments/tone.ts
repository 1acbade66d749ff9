import { oklchOf, rgbOfOklch } from '../colour/harmony.js';
import { luminance, rgbOf, type Rgb } from '../colour/srgb.js';
import type { Pixels } from '../geometry/pixels.js';
import type { Tone } from '../model/treatment.js';

/** Steps of a channel in a table of colours; between them colours are mixed. */
const STEPS = 17;
const WIDTH = 255 / (STEPS - 1);

/** Grey levels over which black turns into white at a threshold: as wide as a clean edge, so that it stays one. */
const THRESHOLD_EDGE = 0.06;

const held = (value: number): number => Math.min(1, Math.max(0, value));

/** A colour with its tone changed; hue and lightness in OKLCH, where equal steps look equal. */
export function toned(rgb: Rgb, tone: Tone): Rgb {
  let { l, c, h } = oklchOf(rgb);
  if (tone.turnedOver) l = 1 - l;
  l = held((l - 0.5) * (1 + tone.contrast) + 0.5 + tone.lightness * 0.5);
  c *= 1 + tone.saturation;
  h += tone.hue;
  if (tone.warmth !== 0) {
    // Warmth lies along the axis from blue to orange, which grey is moved along too.
    const [a, b] = [c * Math.cos((h * Math.PI) / 180), c * Math.sin((h * Math.PI) / 180)];
    const [wa, wb] = [a + tone.warmth * 0.03, b + tone.warmth * 0.06];
    c = Math.hypot(wa, wb);
    h = (Math.atan2(wb, wa) * 180) / Math.PI;
  }
  if (tone.ink !== null) {
    const ink = oklchOf(rgbOf(tone.ink));
    // Dark becomes the ink itself, light its tint, up to the cloth's own lightest.
    const share = held((l - ink.l) / Math.max(0.001, 1 - ink.l));
    return rgbOfOklch(held(Math.max(l, ink.l)), ink.c * (1 - share), ink.h);
  }
  return rgbOfOklch(l, Math.max(0, c), (h + 360) % 360);
}

/** Colours of a tone at even steps of each channel, RGB after each other. */
export function toneTable(tone: Tone): Float32Array {
  const table = new Float32Array(STEPS * STEPS * STEPS * 3);
  let at = 0;
  for (let r = 0; r < STEPS; r++)
    for (let g = 0; g < STEPS; g++)
      for (let b = 0; b < STEPS; b++) {
        const colour = toned({ r: Math.round(r * WIDTH), g: Math.round(g * WIDTH), b: Math.round(b * WIDTH) }, tone);
        table[at++] = colour.r;
        table[at++] = colour.g;
        table[at++] = colour.b;
      }
  return table;
}

/** Changes the colours of a picture by a tone, in place. Alpha stays. */
export function applyTone({ data }: Pixels, tone: Tone, table = toneTable(tone)): void {
  const step = new Uint8Array(256);
  const share = new Float32Array(256);
  for (let value = 0; value < 256; value++) {
    step[value] = Math.min(STEPS - 2, Math.floor(value / WIDTH));
    share[value] = value / WIDTH - step[value];
  }
  const [dr, dg, db] = [STEPS * STEPS * 3, STEPS * 3, 3];
  const ink = tone.ink ? rgbOf(tone.ink) : { r: 0, g: 0, b: 0 };
  let last = -1;
  let [lr, lg, lb] = [0, 0, 0];
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3] === 0) continue;
    const r = data[i];
    const g = data[i + 1];
    const b = data[i + 2];
    // Neighbours are often alike: the last colour is not worked out again.
    const key = (r << 16) | (g << 8) | b;
    if (key !== last) {
      last = key;
      const at = step[r] * dr + step[g] * dg + step[b] * db;
      const x = share[r];
      const y = share[g];
      const z = share[b];
      // Tetrahedral interpolation: of the six ways from the cell's dark corner to its light one, along the largest shares.
      let second = at;
      let third = at;
      let [most, middle, least] = [x, y, z];
      if (x >= y) {
        if (y >= z) [second, third] = [at + dr, at + dr + dg];
        else if (x >= z) [second, third, middle, least] = [at + dr, at + dr + db, z, y];
        else [second, third, most, middle, least] = [at + db, at + db + dr, z, x, y];
      } else if (z >= y) [second, third, most, middle, least] = [at + db, at + db + dg, z, y, x];
      else if (z >= x) [second, third, most, middle, least] = [at + dg, at + dg + db, y, z, x];
      else [second, third, most, middle, least] = [at + dg, at + dg + dr, y, x, z];
      const end = at + dr + dg + db;
      const [w0, w1, w2] = [1 - most, most - middle, middle - least];
      lr = table[at] * w0 + table[second] * w1 + table[third] * w2 + table[end] * least;
      lg = table[at + 1] * w0 + table[second + 1] * w1 + table[third + 1] * w2 + table[end + 1] * least;
      lb = table[at + 2] * w0 + table[second + 2] * w1 + table[third + 2] * w2 + table[end + 2] * least;
      if (tone.threshold !== null) {
        const grey = luminance({ r: Math.round(lr), g: Math.round(lg), b: Math.round(lb) }) ** (1 / 2.2);
        const white = held((grey - tone.threshold) / THRESHOLD_EDGE + 0.5);
        lr = ink.r + (255 - ink.r) * white;
        lg = ink.g + (255 - ink.g) * white;
        lb = ink.b + (255 - ink.b) * white;
      }
    }
    data[i] = (lr + 0.5) | 0;
    data[i + 1] = (lg + 0.5) | 0;
    data[i + 2] = (lb + 0.5) | 0;
  }
}
