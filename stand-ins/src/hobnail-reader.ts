import { decode, encode, type DecodedPng } from 'fast-png';

/** A place of a file, px. */
export interface Place {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** What this print shop would have mended, in its own words. */
export interface Remark {
  readonly text: string;
  readonly where: Place | null;
}

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

/** A patch of connected marks. */
interface Patch extends Place {
  readonly area: number;
}

/**
 * Looks at a file as the person at the machine does: with a reader of this shop's own.
 * @returns what is to be mended, and the picture for showing places; null picture when it cannot be opened
 */
export function inspect(bytes: Uint8Array): { readonly remarks: readonly Remark[]; readonly png: DecodedPng | null } {
  let png: DecodedPng;
  try {
    png = decode(bytes, { checkCrc: true });
  } catch {
    return {
      remarks: [{ text: 'We cannot open this. We print from PNG and from nothing else.', where: null }],
      png: null,
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
    return { remarks, png };
  }
  const alpha = alphaOf(png);
  const isHaze = (at: number): boolean => alpha[at] > 24 && alpha[at] < 230;
  let [ink, haze] = [0, 0];
  for (let at = 0; at < alpha.length; at++) {
    if (alpha[at] > 24) ink++;
    // The soft edge of an outline is none: haze has haze on all sides.
    if (isHaze(at) && isHaze(at - 1) && isHaze(at + 1) && isHaze(at - width) && isHaze(at + width)) haze++;
  }
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
  return { remarks, png };
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

/** Patches of marks that touch, with their boxes. */
function patchesOf(marks: Uint8Array, width: number, height: number): Patch[] {
  const seen = new Uint8Array(marks.length);
  const patches: Patch[] = [];
  const stack: number[] = [];
  for (let start = 0; start < marks.length; start++) {
    if (!marks[start] || seen[start]) continue;
    let [left, right, top, bottom, area] = [width, 0, height, 0, 0];
    stack.push(start);
    seen[start] = 1;
    while (stack.length) {
      const at = stack.pop()!;
      const [x, y] = [at % width, Math.floor(at / width)];
      area++;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [nx, ny] = [x + dx, y + dy];
          if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
          const next = ny * width + nx;
          if (!marks[next] || seen[next]) continue;
          seen[next] = 1;
          stack.push(next);
        }
    }
    patches.push({ x: left, y: top, width: right - left + 1, height: bottom - top + 1, area });
  }
  return patches;
}

/** A place with a little room around it. */
function around({ x, y, width, height }: Place, perMm: number, most: number, tall: number): Place {
  const room = Math.round(perMm);
  const [left, top] = [Math.max(0, x - room), Math.max(0, y - room)];
  return {
    x: left,
    y: top,
    width: Math.min(most, x + width + room) - left,
    height: Math.min(tall, y + height + room) - top,
  };
}

/** Longest side of the picture of a place, px. */
const SHOWN = 480;

/** A place of the file on grey card with a red frame, as a PNG. */
export function pictureOfPlace({ data, channels, width, height }: DecodedPng, where: Place): Uint8Array {
  const margin = Math.round(Math.max(where.width, where.height) * 0.15) + 4;
  const [x, y] = [Math.max(0, where.x - margin), Math.max(0, where.y - margin)];
  const wide = Math.min(width, where.x + where.width + margin) - x;
  const tall = Math.min(height, where.y + where.height + margin) - y;
  const scale = Math.min(1, SHOWN / Math.max(wide, tall));
  const [w, h] = [Math.max(1, Math.round(wide * scale)), Math.max(1, Math.round(tall * scale))];
  const out = new Uint8Array(w * h * 3);
  const colours = Math.min(3, channels);
  for (let j = 0; j < h; j++)
    for (let i = 0; i < w; i++) {
      const [px, py] = [x + Math.min(wide - 1, Math.floor(i / scale)), y + Math.min(tall - 1, Math.floor(j / scale))];
      const at = (py * width + px) * channels;
      const alpha = channels === 4 || channels === 2 ? data[at + channels - 1] / 255 : 1;
      const edge =
        Math.abs(px - where.x) <= 1 / scale ||
        Math.abs(px - where.x - where.width) <= 1 / scale ||
        Math.abs(py - where.y) <= 1 / scale ||
        Math.abs(py - where.y - where.height) <= 1 / scale;
      const framed =
        edge &&
        px >= where.x - 2 &&
        px <= where.x + where.width + 2 &&
        py >= where.y - 2 &&
        py <= where.y + where.height + 2;
      for (let c = 0; c < 3; c++)
        out[(j * w + i) * 3 + c] = framed
          ? [200, 40, 30][c]
          : Math.round(data[at + (colours === 3 ? c : 0)] * alpha + 140 * (1 - alpha));
    }
  return encode({ width: w, height: h, data: out, channels: 3, depth: 8 });
}
