import type { Box } from '../geometry/affine.js';
import type { Pixels } from '../geometry/pixels.js';
import type { PressLimits } from '../model/press.js';
import { MM_PER_INCH } from '../units/length.js';
import { components, distances, type Component } from '../raster/components.js';
import { linesInInk, type PartOf } from './ink-lines.js';
import { lowLetters } from './letters.js';
import { GAP_FROM, LINE_FROM, thinParts, type ThinPart } from './thin.js';
import { DELTA_LEVELS, OUT_OF_GAMUT } from './colour-table.js';

/** Grows whenever the same print would be measured otherwise. */
export const PRESS_MEASURE_VERSION = 2;

/** Places of one kind: how many there are, and the largest of them. */
export interface Places {
  readonly count: number;
  /** Canvas mm, the gravest first. */
  readonly where: readonly Box[];
}

/** What was measured on the printed grid of a target. */
export interface PressMeasure {
  /** Lines thinner than the limit, on bare cloth or within other ink. */
  readonly thin: Places & { readonly thinnestMm: number };
  /** Gaps between ink that are narrower than the limit of a line. */
  readonly gaps: Places & { readonly thinnestMm: number };
  /** Rows of letters lower than the limit, whatever they are made of. */
  readonly letters: Places & { readonly lowestMm: number };
  readonly specks: Places;
  readonly holes: Places;
  /** Semi-transparent ink wider than the limit. */
  readonly fade: Places & { readonly widestMm: number };
  /** Ink on one spot, percent; null where no inks are known. */
  readonly coverage: (Places & { readonly most: number; readonly share: number }) | null;
  /** Colours that the press does not have; null where no inks are known. */
  readonly gamut:
    | (Places & {
        /** Share of the ink, 0 to 1. */
        readonly share: number;
        /** The most frequent of them: as designed, and as they will be. */
        readonly colours: readonly { readonly hex: string; readonly printed: string; readonly delta: number }[];
      })
    | null;
}

const NONE: Places = { count: 0, where: [] };

/** Most places that are told of a kind. */
const MOST_PLACES = 60;
/** Alpha from which a pixel counts as ink: the middle of a soft edge. */
const INK = 128;
/** A line is one when it is this many times as long as the limit: tips and corners of thick ink are shorter. */
const LINE_LENGTH = 3;
/** Alpha between these is neither ink nor bare. */
const [SOFT_FROM, SOFT_TO] = [20, 235];
/** A line of the very limit is none: what its measuring may be off by, mm. */
const LINE_SLACK_MM = 0.01;
/** The same of letters. */
const LETTER_SLACK_MM = 0.02;

const mmOf = ({ left, top, right, bottom }: Pick<Component, 'left' | 'top' | 'right' | 'bottom'>, mm: number): Box => ({
  x: left * mm,
  y: top * mm,
  width: (right - left) * mm,
  height: (bottom - top) * mm,
});

const places = (found: readonly Component[], mm: number): Places => ({
  count: found.length,
  where: found
    .toSorted((a, b) => b.area - a.area)
    .slice(0, MOST_PLACES)
    .map((one) => mmOf(one, mm)),
});

/** Resolution that is enough to measure limits with, at most that of the canvas. */
export function measuringDpi(dpi: number, { lineMm, speckMm }: PressLimits): number {
  const least = Math.min(...[lineMm, speckMm].filter((one): one is number => one !== null && one > 0), 1);
  return Math.min(dpi, 300, Math.max(100, Math.round((5 * MM_PER_INCH) / least)));
}

type Ink = Pick<PressMeasure, 'thin' | 'gaps' | 'letters' | 'specks' | 'holes' | 'fade'>;

/**
 * Measures ink on a print's own grid.
 * @param dpi of the grid
 */
export function measurePrint({ data, width, height }: Pixels, dpi: number, limits: PressLimits): Ink {
  const mm = MM_PER_INCH / dpi;
  const cell = fadeCell(mm, limits.fadeMm);
  // Around the ink lies enough bare ground for every disc and cell; what is farther away changes nothing.
  const room = Math.max(2 * cell, Math.ceil((limits.lineMm ?? 0) / mm) + 6);
  const part = partWithInk(data, width, height, room, cell);
  const ink = measurePart(part, mm, limits);
  const moved = <P extends Places>(found: P): P => ({
    ...found,
    where: found.where.map((box) => ({ ...box, x: box.x + part.left * mm, y: box.y + part.top * mm })),
  });
  return {
    thin: moved(ink.thin),
    gaps: moved(ink.gaps),
    letters: moved(ink.letters),
    specks: moved(ink.specks),
    holes: moved(ink.holes),
    fade: moved(ink.fade),
  };
}

/**
 * The part of a grid that has ink, with room around it where the grid has that. It begins and ends at whole cells or at the
 * grid's end. Empty where there is no ink.
 */
function partWithInk(data: PartOf['data'], width: number, height: number, room: number, cell: number): PartOf {
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (let y = 0; y < height; y++) {
    const from = y * width;
    let x = 0;
    while (x < width && data[(from + x) * 4 + 3] <= SOFT_FROM) x++;
    if (x === width) continue;
    let last = width - 1;
    while (data[(from + last) * 4 + 3] <= SOFT_FROM) last--;
    left = Math.min(left, x);
    right = Math.max(right, last + 1);
    top = Math.min(top, y);
    bottom = y + 1;
  }
  if (right <= left) return { data, stride: width, left: 0, top: 0, width: 0, height: 0 };
  const begin = (at: number): number => Math.max(0, Math.floor((at - room) / cell) * cell);
  const end = (at: number, most: number): number => Math.min(most, Math.ceil((at + room) / cell) * cell);
  [left, top, right, bottom] = [begin(left), begin(top), end(right, width), end(bottom, height)];
  return { data, stride: width, left, top, width: right - left, height: bottom - top };
}

function measurePart(part: PartOf, mm: number, limits: PressLimits): Ink {
  const { data, stride, left, top, width, height } = part;
  const alpha = new Uint8Array(width * height);
  const ink = new Uint8Array(alpha.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0, j = ((top + y) * stride + left) * 4 + 3; x < width; x++, i++, j += 4) {
      alpha[i] = data[j];
      ink[i] = alpha[i] >= INK ? 1 : 0;
    }
  return {
    ...lines(part, alpha, mm, limits.lineMm),
    letters: letters(part, mm, limits.letterMm),
    ...(limits.speckMm ? dots(ink, width, height, mm, limits.speckMm) : { specks: NONE, holes: NONE }),
    fade: limits.fadeMm ? fades(alpha, width, height, mm, limits.fadeMm) : { ...NONE, widestMm: 0 },
  };
}

/** Lines of ink, on bare ground and within other ink, and of bare ground within ink, that are thinner than the limit. */
function lines(part: PartOf, alpha: Uint8Array, mm: number, limit: number | null): Pick<Ink, 'thin' | 'gaps'> {
  const told = (found: readonly ThinPart[]): Ink['thin'] => ({
    ...places(found, mm),
    thinnestMm: found.length ? found.reduce((least, one) => Math.min(least, one.width), Infinity) * mm : 0,
  });
  if (!limit) return { thin: told([]), gaps: told([]) };
  const { width, height } = part;
  const px = (limit - LINE_SLACK_MM) / mm;
  const least = (limit * LINE_LENGTH) / mm;
  return {
    thin: told([
      ...thinParts(alpha, width, height, { limit: px, length: least, from: LINE_FROM }),
      ...linesInInk(part, px, least),
    ]),
    gaps: told(thinParts(inverted(alpha), width, height, { limit: px, length: least, from: GAP_FROM })),
  };
}

function inverted(alpha: Uint8Array): Uint8Array {
  const out = new Uint8Array(alpha.length);
  for (let i = 0; i < alpha.length; i++) out[i] = 255 - alpha[i];
  return out;
}

function letters(part: PartOf, mm: number, limit: number | null): Ink['letters'] {
  const rows = limit ? lowLetters(part, (limit - LETTER_SLACK_MM) / mm) : [];
  return {
    count: rows.length,
    where: rows
      .toSorted((a, b) => a.low - b.low)
      .slice(0, MOST_PLACES)
      .map((row) => mmOf(row, mm)),
    lowestMm: rows.length ? Math.min(...rows.map(({ low }) => low)) * mm : 0,
  };
}

/** Spots of ink, and bare spots within ink, smaller than the limit. */
function dots(
  ink: Uint8Array,
  width: number,
  height: number,
  mm: number,
  limit: number,
): Pick<PressMeasure, 'specks' | 'holes'> {
  const most = Math.PI * (limit / mm / 2) ** 2;
  const isSmall = ({ area, left, right, top, bottom }: Component): boolean =>
    area < most && Math.max(right - left, bottom - top) * mm < limit * 2;
  const inside = ({ left, top, right, bottom }: Component): boolean =>
    left > 0 && top > 0 && right < width && bottom < height;
  return {
    specks: places(components(ink, width, height, 1).filter(isSmall), mm),
    holes: places(
      components(ink, width, height, 0).filter((one) => isSmall(one) && inside(one)),
      mm,
    ),
  };
}

/** Side of the cells that semi-transparent ink is told on, px: a sixth of the limit. */
const fadeCell = (mm: number, limit: number | null): number => (limit ? Math.max(1, Math.round(limit / 6 / mm)) : 1);

/** Semi-transparent ink into which a disc of the limit's width fits, on cells of a sixth of it. */
function fades(alpha: Uint8Array, width: number, height: number, mm: number, limit: number): PressMeasure['fade'] {
  const cell = fadeCell(mm, limit);
  const [across, down] = [Math.ceil(width / cell), Math.ceil(height / cell)];
  const soft = new Uint8Array(across * down);
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++) {
      let [count, all] = [0, 0];
      for (let j = y * cell; j < Math.min(height, (y + 1) * cell); j++)
        for (let i = x * cell; i < Math.min(width, (x + 1) * cell); i++, all++) {
          const value = alpha[j * width + i];
          if (value > SOFT_FROM && value < SOFT_TO) count++;
        }
      soft[y * across + x] = count * 2 > all ? 1 : 0;
    }
  const reach = 60;
  const deep = distances(soft, across, down, reach);
  const wide = components(soft, across, down, 1, deep);
  const acrossOf = ({ most }: Component): number => (2 * Math.sqrt(most) - 1) * cell * mm;
  const found = wide.filter((one) => acrossOf(one) > limit);
  return { ...places(found, cell * mm), widestMm: found.length ? Math.max(...found.map(acrossOf)) : 0 };
}

/**
 * Measures colours on a small grid of a print.
 * @param inks four bytes a pixel, 255 for a full ink
 * @param seen three bytes of sRGB as printed, and the difference from the design in tenths of CIEDE2000
 * @param dpi of the small grid
 */
export function measureColour(
  { data, width, height }: Pixels,
  inks: Uint8Array,
  seen: Uint8Array,
  dpi: number,
  limits: PressLimits,
): Pick<PressMeasure, 'coverage' | 'gamut'> {
  const mm = MM_PER_INCH / dpi;
  const count = width * height;
  const [heavy, strange] = [new Uint8Array(count), new Uint8Array(count)];
  let [most, over, inked, outside] = [0, 0, 0, 0];
  const tally = new Map<number, { count: number; at: number }>();
  for (let i = 0; i < count; i++) {
    if (data[i * 4 + 3] < INK) continue;
    inked++;
    const sum = ((inks[i * 4] + inks[i * 4 + 1] + inks[i * 4 + 2] + inks[i * 4 + 3]) / 255) * 100;
    if (sum > most) most = sum;
    if (limits.coverage !== null && sum > limits.coverage + 1) {
      heavy[i] = 1;
      over++;
    }
    if (seen[i * 4 + 3] <= OUT_OF_GAMUT * DELTA_LEVELS) continue;
    strange[i] = 1;
    outside++;
    const key = ((data[i * 4] >> 4) << 8) | ((data[i * 4 + 1] >> 4) << 4) | (data[i * 4 + 2] >> 4);
    const kept = tally.get(key);
    if (kept) kept.count++;
    else tally.set(key, { count: 1, at: i });
  }
  const hex = (values: Uint8Array | Uint8ClampedArray, at: number): string =>
    `#${[0, 1, 2].map((k) => values[at * 4 + k].toString(16).padStart(2, '0')).join('')}`;
  const worst = [...tally.values()].sort((a, b) => b.count - a.count).slice(0, 4);
  return {
    coverage: { ...places(components(heavy, width, height, 1), mm), most, share: inked ? over / inked : 0 },
    gamut: {
      ...places(components(strange, width, height, 1), mm),
      share: inked ? outside / inked : 0,
      colours: worst.map(({ at }) => ({
        hex: hex(data, at),
        printed: hex(seen, at),
        delta: Math.round((seen[at * 4 + 3] / DELTA_LEVELS) * 10) / 10,
      })),
    },
  };
}
