import type { Pixels } from '../geometry/pixels.js';

export type DotShape = 'round' | 'line' | 'diamond';

/** How semi-transparent ink is printed where a printer cannot hold it. */
export type InkScreen =
  /** Solid from an alpha on, clear below; 0 to 1. */
  | { readonly kind: 'solid'; readonly threshold: number }
  /** Dots whose size stands for alpha. */
  | {
      readonly kind: 'dots';
      /** Rows of dots an inch. */
      readonly lpi: number;
      /** Degrees clockwise. */
      readonly angle: number;
      readonly shape: DotShape;
    };

/** Fewest pixels from one row of dots to the next: a dot of less has too few sizes to stand for alpha. */
export const LEAST_CELL = 4;

/** Finest screen that a resolution can hold, rows of dots an inch. */
export const finestScreen = (dpi: number): number => dpi / LEAST_CELL;

/** Samples across a pixel and down it that its share of a dot is counted with. */
const SAMPLES = 3;

/**
 * Makes every pixel wholly solid or wholly clear, in place; colours stay. Alpha 0 and 255 stay as they are.
 * @param dpi of this grid. A screen finer than it can hold is refused with a RangeError, never made coarser.
 * @param left, top where the grid's first pixel lies, so that neighbouring parts share one pattern
 */
export function screenInk(pixels: Pixels, screen: InkScreen, dpi: number, left = 0, top = 0): void {
  if (screen.kind === 'solid') {
    harden(pixels, screen.threshold);
    return;
  }
  const cell = dpi / screen.lpi;
  if (cell < LEAST_CELL - 1e-9)
    throw new RangeError(
      `${screen.lpi} rows of dots an inch are too fine for ${Math.round(dpi)} DPI: at most ${Math.floor(finestScreen(dpi))} can be held.`,
    );
  const { width, height, data } = pixels;
  const ranks = ranksOf(screen.shape);
  const turn = (screen.angle * Math.PI) / 180;
  const across = Math.cos(turn) / cell;
  const down = Math.sin(turn) / cell;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const alpha = data[i + 3];
      if (alpha === 0 || alpha === 255) continue;
      let inside = 0;
      for (let n = 0; n < SAMPLES * SAMPLES; n++) {
        const px = x + left + ((n % SAMPLES) + 0.5) / SAMPLES;
        const py = y + top + (Math.floor(n / SAMPLES) + 0.5) / SAMPLES;
        const u = px * across + py * down;
        const v = py * across - px * down;
        const at = Math.floor((u - Math.floor(u)) * RANKS) + RANKS * Math.floor((v - Math.floor(v)) * RANKS);
        if (ranks[at] < alpha) inside++;
      }
      if (inside * 2 > SAMPLES * SAMPLES) data[i + 3] = 255;
      else data[i] = data[i + 1] = data[i + 2] = data[i + 3] = 0;
    }
}

function harden({ data }: Pixels, threshold: number): void {
  const from = Math.max(1, Math.round(threshold * 255));
  for (let i = 3; i < data.length; i += 4) {
    if (data[i] >= from) data[i] = 255;
    else data[i] = data[i - 1] = data[i - 2] = data[i - 3] = 0;
  }
}

/** Places of a dot's cell, across and down. */
const RANKS = 64;
const known = new Map<DotShape, Uint8Array>();

/**
 * For each place of a cell, how much of the cell is nearer to the dot's middle, 0 to 254: places of a rank below an alpha
 * are a dot of just that share of the cell, whatever its shape.
 */
function ranksOf(shape: DotShape): Uint8Array {
  let ranks = known.get(shape);
  if (ranks) return ranks;
  const places = Array.from({ length: RANKS * RANKS }, (_, at) => {
    const u = ((at % RANKS) + 0.5) / RANKS - 0.5;
    const v = (Math.floor(at / RANKS) + 0.5) / RANKS - 0.5;
    const far = { round: Math.hypot(u, v), line: Math.abs(v), diamond: Math.abs(u) + Math.abs(v) }[shape];
    return { at, far };
  }).sort((a, b) => a.far - b.far || a.at - b.at);
  ranks = new Uint8Array(RANKS * RANKS);
  places.forEach(({ at }, n) => (ranks![at] = Math.floor((n / places.length) * 255)));
  known.set(shape, ranks);
  return ranks;
}
