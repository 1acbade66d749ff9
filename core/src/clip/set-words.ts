import { luminance, rgbOf } from '../colour/srgb.js';
import type { ClipShape, ClipWords } from '../model/clip.js';
import { clearOfEdges } from './words.js';

/** Faces that words are set in: a title's and a line's, with their weights. */
export interface WordFace {
  readonly face: 'serif' | 'sans';
  readonly weight: number;
}

/** A line of words as it is set, px of their own picture. */
export interface SetLine extends WordFace {
  readonly text: string;
  readonly size: number;
  /** Middle of the line across, and its baseline. */
  readonly x: number;
  readonly baseline: number;
}

/** Words that are set for a clip of a size. */
export interface SetWords {
  readonly lines: readonly SetLine[];
  /** Size of their picture, px, and where it lies on the clip. */
  readonly width: number;
  readonly height: number;
  readonly x: number;
  readonly y: number;
  readonly hex: string;
  /** A breath of the opposite around the letters, so that they read before anything; drawn so many times, for it is thin. */
  readonly halo: { readonly css: string; readonly blur: number; readonly times: number };
}

/** Height of the title's letters, and of the line's, as shares of the clip's shorter side. */
const [TITLE, LINE] = [0.085, 0.042];
/** Softness of the halo around letters. */
const HALO = 0.012;
/** Smallest that a long title is set, as a share of what it would be. */
const SMALLEST = 0.45;

/**
 * Sets words at the foot of what a phone leaves free. Null without words.
 * @param widthOf width of a text, px, in a face of a size
 */
export function setWords(
  words: ClipWords | undefined,
  shape: ClipShape,
  { width, height }: { readonly width: number; readonly height: number },
  widthOf: (text: string, face: WordFace & { readonly size: number }) => number,
): SetWords | null {
  if (!words || !(words.title.trim() || words.line.trim())) return null;
  const side = Math.min(width, height);
  const clear = clearOfEdges(shape);
  const most = clear.width * width;
  const wanted: readonly (WordFace & { readonly text: string; readonly size: number })[] = [
    { text: words.title.trim(), size: TITLE * side, weight: 600, face: 'serif' },
    { text: words.line.trim(), size: LINE * side, weight: 500, face: 'sans' },
  ];
  const own = { width: Math.ceil(most), x: clear.x * width };
  let y = 0;
  const lines = wanted
    .filter(({ text }) => text)
    .map((line): SetLine => {
      const size = line.size * Math.max(SMALLEST, Math.min(1, most / widthOf(line.text, line)));
      const baseline = y + size * 1.02;
      y += size * 1.25;
      return { ...line, size, x: own.width / 2, baseline };
    });
  const tall = Math.ceil(y + side * 0.02);
  return {
    ...own,
    lines,
    height: tall,
    y: (clear.y + clear.height) * height - tall,
    hex: words.hex,
    halo: {
      css: luminance(rgbOf(words.hex)) > 0.4 ? 'rgb(20 24 22 / 85%)' : 'rgb(255 253 248 / 95%)',
      blur: side * HALO,
      times: 3,
    },
  };
}
