import { decode, type DecodedPng } from 'fast-png';
import { around, hazeOf, patchesOf, type Place, type Remark } from './marks.js';
import type { Trade } from './print-shop.js';

/** Thinnest line that the machine lays down, and smallest dot that holds on cloth, mm. */
const LINE_MM = 0.28;
const DOT_MM = 0.5;
/** A thin line shorter than this is a corner, mm. */
const LINE_LENGTH_MM = 1.5;
/** Ink over more of the sheet than this stays wet. */
const MOST_INK = 0.85;
/** Half-clear ink over more of the print than this is laid on white that shows. */
const MOST_HAZE = 0.15;
/** Smallest and largest place where the machine prints, mm. */
const LARGEST = { width: 345, height: 455 };
const INK = 128;

/** Hobnail Direct Print: prints straight onto shirts. Prices in pence. */
export const HOBNAIL: Trade = {
  letter: 'H',
  prices: [
    [50, 840],
    [25, 980],
    [12, 1150],
    [1, 1450],
  ],
  setUp: 1500,
  currency: 'GBP',
  days: 6,
  inspect,
};

/**
 * Looks at a file as the person at the machine does: with a reader of this shop's own.
 * @returns what is to be mended, and the picture for showing places; null picture when it cannot be opened
 */
function inspect(bytes: Uint8Array): { readonly remarks: readonly Remark[]; readonly shown: DecodedPng | null } {
  let png: DecodedPng;
  try {
    png = decode(bytes, { checkCrc: true });
  } catch {
    return {
      remarks: [{ text: 'We cannot open this. We print from PNG and from nothing else.', where: null }],
      shown: null,
    };
  }
  const { width, height, channels, depth, resolution } = png;
  const remarks: Remark[] = [];
  const tell = (text: string, where: Place | null = null): void => void remarks.push({ text, where });
  const perMetre = resolution?.unit === 1 ? resolution.x : 0;
  if (!perMetre) tell('The file does not say how large it is: no resolution.');
  else if (resolution!.x !== resolution!.y) tell('Its resolution is not the same both ways.');
  const perMm = (perMetre || 11_811) / 1000;
  if (perMetre && perMetre < 5905)
    tell(`${Math.round(perMetre * 0.0254)} DPI is too coarse for our heads; 150 is the least.`);
  if (width / perMm > LARGEST.width || height / perMm > LARGEST.height)
    tell(
      `${Math.round(width / perMm)} × ${Math.round(height / perMm)} mm does not fit our platen of ${LARGEST.width} × ${LARGEST.height} mm.`,
    );
  if (depth !== 8 || png.palette || (channels !== 3 && channels !== 4))
    tell('We need plain RGB of 8 bits, without a palette.');
  if (!png.iccEmbeddedProfile) tell('It has no colour profile, so we would have to guess its colours.');
  if (channels !== 4 && channels !== 2) {
    tell('There is nothing clear in it: we would print the whole rectangle, box and all.', {
      x: 0,
      y: 0,
      width,
      height,
    });
    return { remarks, shown: png };
  }
  const alpha = alphaOf(png);
  const { ink, haze } = hazeOf(alpha, width);
  if (!ink) tell('The file is empty.');
  const corners = [0, width - 1, (height - 1) * width, height * width - 1];
  if (corners.every((at) => alpha[at] === 255))
    tell('All four corners are inked: that is a box on the shirt.', { x: 0, y: 0, width, height });
  if (ink > MOST_INK * alpha.length)
    tell(`${Math.round((ink / alpha.length) * 100)} % of it is ink. Over ${MOST_INK * 100} % does not dry through.`);
  if (haze > MOST_HAZE * ink)
    tell(
      `${Math.round((haze / ink) * 100)} % of the ink is half clear. On our machine white shows through that; use dots or full ink.`,
    );
  const solid = alpha.map((value) => (value >= INK ? 1 : 0));
  for (const one of thinLines(solid, width, height, perMm).slice(0, 3))
    tell(`This line is thinner than the ${LINE_MM} mm that our heads hold.`, one);
  const dots = patchesOf(
    alpha.map((value) => (value > 24 ? 1 : 0)),
    width,
    height,
  ).filter(({ area }) => area < (DOT_MM * perMm) ** 2);
  if (dots.length > 2)
    tell(
      `${dots.length} specks smaller than ${DOT_MM} mm: they wash out. Here is one.`,
      around(dots[0], perMm, width, height),
    );
  return { remarks, shown: png };
}

function alphaOf({ data, channels, width, height }: DecodedPng): Uint8Array {
  const alpha = new Uint8Array(width * height);
  for (let i = 0; i < alpha.length; i++) alpha[i] = data[i * channels + channels - 1];
  return alpha;
}

/** Ink that goes when it is worn away from both sides and grown again: what is thinner than a line may be. */
function thinLines(solid: Uint8Array, width: number, height: number, perMm: number): Place[] {
  const side = Math.max(2, Math.floor(LINE_MM * perMm));
  const worn = slide(slide(solid, width, height, side, 0, true, true), width, height, side, 0, true, false);
  const grown = slide(
    slide(worn, width, height, side, side - 1, false, true),
    width,
    height,
    side,
    side - 1,
    false,
    false,
  );
  const rest = solid.map((value, i) => (value && !grown[i] ? 1 : 0));
  const length = LINE_LENGTH_MM * perMm;
  return patchesOf(rest, width, height)
    .filter((one) => Math.max(one.width, one.height) >= length)
    .sort((a, b) => b.area - a.area)
    .map((one) => around(one, perMm, width, height));
}

/** The least (all set) or the most (any set) of a run of marks, along rows or columns. @param back how many lie before */
function slide(
  marks: Uint8Array,
  width: number,
  height: number,
  side: number,
  back: number,
  all: boolean,
  along: boolean,
): Uint8Array {
  const out = new Uint8Array(marks.length);
  const [lines, length, step, across] = along ? [height, width, 1, width] : [width, height, width, 1];
  for (let line = 0; line < lines; line++) {
    const start = line * across;
    let count = 0;
    for (let i = -side; i < length; i++) {
      const coming = i + side - back;
      if (coming >= 0 && coming < length) count += marks[start + coming * step];
      const leaving = i - back;
      if (leaving >= 0 && leaving < length) count -= marks[start + leaving * step];
      const at = i + 1;
      if (at >= 0 && at < length) out[start + at * step] = (all ? count === side : count > 0) ? 1 : 0;
    }
  }
  return out;
}
