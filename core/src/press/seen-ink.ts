import type { Box } from '../geometry/affine.js';
import { components } from '../raster/components.js';
import type { Pixels } from '../geometry/pixels.js';
import { deltaE2000, labOf, type Lab } from '../colour/lab.js';
import { contrast, hexOf, rgbOf, type Rgb } from '../colour/srgb.js';

/** How a picture is seen on a cloth: what of it cannot be told from the cloth around it, and how well the rest stands out. */
export interface OnCloth {
  /** Share of the ink that is lost, 0 to 1, by area; fine lines and edges count more. */
  readonly lost: number;
  /** The colour that most of the lost ink has, if any is lost. */
  readonly hex: string | null;
  /** Contrast ratio of the ink that meets the cloth, of the worst part that matters; null where none meets it. */
  readonly contrast: number | null;
  /** Places of what is lost, the largest first; a picture is 1 wide and 1 high. */
  readonly where: readonly Box[];
}

/** Longest side of the picture that ink is judged on, px. */
export const SEEN_PX = 320;
/** Shares of lost ink from which a colour needs help, and from which it should not be sold. */
export const PARTLY_LOST = 0.05;
export const MOSTLY_LOST = 0.5;
/** From this contrast on, what is as large as print on cloth reads well (WCAG 2.2, 1.4.11). */
export const READS_WELL = 3;

/** Difference (CIEDE2000) below which ink is wholly lost on what it lies on, and from which it is wholly seen. */
export const LOST_BELOW = 8;
const SEEN_FROM = 16;
/** How much more a pixel counts that lies on a line or an edge, and from which difference to its neighbours it does. */
const FINE_WEIGHT = 3;
const FINE_FROM = 70;
/** Share of the ink along the cloth that the worst part must have to matter. */
const MATTERS = 0.05;
/** How near ink lies to the cloth that it meets, px. */
const MEETS = 2;
const MOST_PLACES = 12;
const BARE = 0xffff;

/** What is needed of a picture for every cloth. Measured once. */
export interface SeenInk {
  readonly width: number;
  readonly height: number;
  /** Number of each pixel's colour; bare cloth has none. */
  readonly colour: Uint16Array;
  /** Weight of each pixel. */
  readonly weight: Float32Array;
  readonly total: number;
  readonly colours: readonly { readonly rgb: Rgb; readonly lab: Lab; readonly meets: number }[];
}

/** Weighs the ink of a picture. Meant for a copy of `SEEN_PX`. */
export function seenInk({ width, height, data }: Pixels): SeenInk {
  const colour = new Uint16Array(width * height).fill(BARE);
  const weight = new Float32Array(width * height);
  const bins = new Map<number, { at: number; r: number; g: number; b: number; weight: number; meets: number }>();
  let total = 0;
  const differ = (i: number, j: number): boolean => {
    const [a, b] = [data[i + 3] / 255, data[j + 3] / 255];
    return (
      Math.abs(data[i] * a - data[j] * b) +
        Math.abs(data[i + 1] * a - data[j + 1] * b) +
        Math.abs(data[i + 2] * a - data[j + 2] * b) +
        Math.abs(data[i + 3] - data[j + 3]) >
      FINE_FROM
    );
  };
  const bare = (x: number, y: number): boolean =>
    x >= 0 && y >= 0 && x < width && y < height && data[(y * width + x) * 4 + 3] < 16;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      if (data[i + 3] < 16) continue;
      const fine =
        (x > 1 && differ(i, i - 8)) ||
        (x < width - 2 && differ(i, i + 8)) ||
        (y > 1 && differ(i, i - 8 * width)) ||
        (y < height - 2 && differ(i, i + 8 * width));
      const share = data[i + 3] / 255;
      const own = share * (fine ? FINE_WEIGHT : 1);
      const key = ((data[i] >> 3) << 10) | ((data[i + 1] >> 3) << 5) | (data[i + 2] >> 3);
      let bin = bins.get(key);
      if (!bin) bins.set(key, (bin = { at: bins.size, r: 0, g: 0, b: 0, weight: 0, meets: 0 }));
      bin.r += data[i] * own;
      bin.g += data[i + 1] * own;
      bin.b += data[i + 2] * own;
      bin.weight += own;
      if (bare(x - MEETS, y) || bare(x + MEETS, y) || bare(x, y - MEETS) || bare(x, y + MEETS)) bin.meets += share;
      total += own;
      colour[i / 4] = bin.at;
      weight[i / 4] = own;
    }
  const colours = [...bins.values()].map(({ r, g, b, weight: all, meets }) => {
    const rgb = { r: Math.round(r / all), g: Math.round(g / all), b: Math.round(b / all) };
    return { rgb, lab: labOf(rgb), meets };
  });
  return { width, height, colour, weight, total, colours };
}

/**
 * How ink is seen on a cloth. Ink of the cloth's colour is lost where the nearest thing that is not is bare cloth; where
 * other ink lies around it, it is seen against that.
 */
export function seenOn(ink: SeenInk, garment: string): OnCloth {
  const cloth = rgbOf(garment);
  const clothLab = labOf(cloth);
  const like = ink.colours.map(({ lab }) =>
    Math.max(0, Math.min(1, (SEEN_FROM - deltaE2000(lab, clothLab)) / (SEEN_FROM - LOST_BELOW))),
  );
  const contrastOf = worstContrast(ink, cloth);
  if (!like.some((share) => share > 0)) return { lost: 0, hex: null, contrast: contrastOf, where: [] };
  const lies = liesAgainst(ink, like);
  const mask = new Uint8Array(lies.length);
  const lostOf = new Float64Array(like.length);
  let lost = 0;
  for (let i = 0; i < lies.length; i++) {
    if (lies[i] !== CLOTH) continue;
    const colour = ink.colour[i];
    mask[i] = like[colour] >= 0.5 ? 1 : 0;
    lostOf[colour] += ink.weight[i] * like[colour];
    lost += ink.weight[i] * like[colour];
  }
  const most = lostOf.indexOf(Math.max(...lostOf));
  const where = components(mask, ink.width, ink.height, 1)
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_PLACES)
    .map(({ left, top, right, bottom }) => ({
      x: left / ink.width,
      y: top / ink.height,
      width: (right - left) / ink.width,
      height: (bottom - top) / ink.height,
    }));
  return {
    lost: ink.total > 0 ? Math.min(1, lost / ink.total) : 0,
    hex: lost > 0 ? hexOf(ink.colours[most].rgb) : null,
    contrast: contrastOf,
    where,
  };
}

/** Contrast below which a twentieth of the ink lies that meets the cloth. */
function worstContrast({ colours }: SeenInk, cloth: Rgb): number | null {
  const meeting = colours
    .filter(({ meets }) => meets > 0)
    .map(({ rgb, meets }) => ({ meets, contrast: contrast(rgb, cloth) }))
    .sort((a, b) => a.contrast - b.contrast);
  let left = meeting.reduce((sum, one) => sum + one.meets, 0) * MATTERS;
  for (const one of meeting) if ((left -= one.meets) < 0) return one.contrast;
  return null;
}

const [INK, CLOTH] = [1, 2];

/**
 * What each pixel of ink like the cloth lies against: 1 other ink, 2 cloth; 0 for whatever is not like it. Nearest by a
 * chamfer of 3 and 4 (Borgefors 1986, «Distance Transformations in Digital Images»), at equal distance other ink.
 */
function liesAgainst({ width, height, colour }: SeenInk, like: readonly number[]): Uint8Array {
  const far = 0x3fffffff;
  const distance = new Int32Array(colour.length).fill(far);
  const nearest = new Uint8Array(colour.length);
  for (let i = 0; i < colour.length; i++) {
    const isBare = colour[i] === BARE;
    if (!isBare && like[colour[i]] > 0) continue;
    // A hair farther, so that other ink is nearer where both are as near.
    distance[i] = isBare ? 1 : 0;
    nearest[i] = isBare ? CLOTH : INK;
  }
  const take = (i: number, j: number, step: number): void => {
    if (distance[j] + step >= distance[i]) return;
    distance[i] = distance[j] + step;
    nearest[i] = nearest[j];
  };
  const [near, across] = [6, 8];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (x > 0) take(i, i - 1, near);
      if (y === 0) continue;
      take(i, i - width, near);
      if (x > 0) take(i, i - width - 1, across);
      if (x < width - 1) take(i, i - width + 1, across);
    }
  for (let y = height - 1, i = colour.length - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--, i--) {
      if (x < width - 1) take(i, i + 1, near);
      if (y === height - 1) continue;
      take(i, i + width, near);
      if (x > 0) take(i, i + width - 1, across);
      if (x < width - 1) take(i, i + width + 1, across);
    }
  for (let i = 0; i < colour.length; i++)
    if (colour[i] === BARE || like[colour[i]] === 0) nearest[i] = 0;
    // A picture that is nothing but ink like the cloth lies against cloth alone.
    else if (nearest[i] === 0) nearest[i] = CLOTH;
  return nearest;
}

/** What is said of a print on a cloth: lost for the most or in part, faint where it meets the cloth, or well seen. */
export type SeenAs = 'lost' | 'partly' | 'faint' | 'well';

export const seenAs = ({ lost, contrast: worst }: OnCloth): SeenAs =>
  lost >= MOSTLY_LOST
    ? 'lost'
    : lost >= PARTLY_LOST
      ? 'partly'
      : worst !== null && worst < READS_WELL
        ? 'faint'
        : 'well';
