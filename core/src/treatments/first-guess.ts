import { rgbOf } from '../colour/srgb.js';
import { boxMean } from '../raster/box-mean.js';
import { flatField } from '../raster/flat-field.js';
import type { Pixels } from '../geometry/pixels.js';
import { USUAL_SOFT_EDGE, type ColourCut, type Dissolve } from '../model/treatment.js';
import { reduced } from './working.js';

/** Side of the copy that a ground is looked for on, px. */
const LOOKED_AT = 512;
/** Least and most tolerance that is guessed, levels. */
const [LEAST, MOST] = [3, 14];

/** A ground is black up to this level of its lightest channel. */
const BLACK = 32;
/** How far from the ground it is looked what the art has become, share of the longer side; and how far it then is at an edge, levels. */
const [INWARDS, EDGE_LEVELS] = [0.012, 70];
/** Share of the places where art and ground meet that are soft in art that glows. */
const GLOWS = 0.5;

/**
 * The step that takes a picture's flat ground out, with the tolerance its noise asks for; null where it stands on none.
 * What glows on black is dissolved from it: a cut would leave dark rims, or take the glow away.
 * @param working the working copy
 */
export function firstGuess(working: Pixels, id: string): ColourCut | Dissolve | null {
  const factor = Math.min(1, LOOKED_AT / Math.max(working.width, working.height));
  const looked = reduced(
    working,
    Math.max(1, Math.round(working.width * factor)),
    Math.max(1, Math.round(working.height * factor)),
  );
  const hex = flatField(looked);
  if (hex === null || isAll(looked, hex)) return null;
  const tolerance = toleranceFor(working, hex);
  if (glowsOn(looked, hex, tolerance)) return { id, kind: 'dissolve', hex, clean: tolerance / 255 };
  return { id, kind: 'colour', hex, tolerance, from: 'border', soft: USUAL_SOFT_EDGE };
}

/** True for art on black that fades into it where they meet, at most places. */
function glowsOn({ width, height, data }: Pixels, hex: string, tolerance: number): boolean {
  const { r, g, b } = rgbOf(hex);
  if (Math.max(r, g, b) > BLACK) return false;
  const inwards = Math.max(2, Math.round(INWARDS * Math.max(width, height)));
  const far = (x: number, y: number): number => {
    const i = (y * width + x) * 4;
    return Math.max(Math.abs(data[i] - r), Math.abs(data[i + 1] - g), Math.abs(data[i + 2] - b));
  };
  let [soft, all] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (far(x, y) > tolerance) continue;
      for (const [dx, dy] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ]) {
        const [nx, ny, ex, ey] = [x + dx, y + dy, x + dx * inwards, y + dy * inwards];
        if (ex < 0 || ey < 0 || ex >= width || ey >= height || far(nx, ny) <= tolerance) continue;
        all++;
        if (far(ex, ey) < EDGE_LEVELS) soft++;
      }
    }
  return soft > all * GLOWS;
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

/** What is noise lies around the mean of its neighbours so many px about; what art shades into does not leave it. */
const NEAR = 4;

/** What most of the ground's own pixels stay within, and half as much again. */
function toleranceFor(working: Pixels, hex: string): number {
  const { width, height, data } = working;
  const { r, g, b } = rgbOf(hex);
  const off = [0, 1, 2].map(() => new Float32Array(width * height));
  const isGround = new Float32Array(width * height);
  const farOf = (red: number, green: number, blue: number): number =>
    Math.sqrt((red ** 2 + green ** 2 + blue ** 2) / 3);
  for (let n = 0, i = 0; n < isGround.length; n++, i += 4) {
    const [red, green, blue] = [data[i] - r, data[i + 1] - g, data[i + 2] - b];
    if (data[i + 3] < 250 || farOf(red, green, blue) >= MOST) continue;
    isGround[n] = 1;
    off[0][n] = red;
    off[1][n] = green;
    off[2][n] = blue;
  }
  const around = boxMean(isGround, width, height, NEAR);
  const means = off.map((channel) => boxMean(channel, width, height, NEAR));
  const levels = new Uint32Array(MOST * 4);
  let count = 0;
  for (let n = 0; n < isGround.length; n++) {
    if (!isGround[n]) continue;
    const own = off.map((channel) => channel[n]);
    const [red, green, blue] = own.map((value, k) => value - means[k][n] / around[n]);
    const far = Math.min(farOf(own[0], own[1], own[2]), farOf(red, green, blue) * 1.1);
    levels[Math.min(levels.length - 1, Math.floor(far * 4))]++;
    count++;
  }
  let [seen, at] = [0, 0];
  while (at < levels.length - 1 && seen + levels[at] < count * 0.985) seen += levels[at++];
  return Math.round(Math.min(MOST, Math.max(LEAST, (at / 4) * 1.5 + 1)) * 2) / 2;
}
