import { compose, mapBox, scale, translate, type Affine, type Box } from '../geometry/affine.js';
import type { RepeatKind } from '../model/design.js';

export const REPEAT_KINDS: readonly RepeatKind[] = ['straight', 'half-drop', 'brick', 'mirror'];

export const REPEAT_WORDS: Readonly<Record<RepeatKind, string>> = {
  straight: 'in rows',
  'half-drop': 'half-drop',
  brick: 'as bricks',
  mirror: 'mirrored',
};

/** A repeat as it lies on a grid: all in the units of that grid. */
export interface PlacedRepeat {
  readonly kind: RepeatKind;
  /** The art that is repeated. */
  readonly tile: Box;
  readonly gap: number;
  /** What is covered. */
  readonly frame: Box;
}

/** Most copies of the art on one canvas. */
export const MOST_TILES = 400;

/** Copies that lie edge to edge are this much larger than they are, so that rounding leaves no light line between. */
const OVERLAP = 1.004;

/**
 * Where the art goes: a map from the art where it lies to each of its copies that touches the frame, itself among them,
 * row by row. Beyond {@link MOST_TILES} it is not repeated.
 */
export function tilesOf({ kind, tile, gap, frame }: PlacedRepeat): Affine[] {
  const [across, down] = [tile.width + gap, tile.height + gap];
  if (!(across > 0) || !(down > 0)) return [IDENTITY];
  const middle = { x: tile.x + tile.width / 2, y: tile.y + tile.height / 2 };
  const grow = gap > 0 ? 1 : OVERLAP;
  // A column or row more on each side, for those that are shifted by half.
  const first = (at: number, length: number, step: number, from: number): number =>
    Math.floor((from - at - length) / step) - 1;
  const last = (at: number, step: number, to: number): number => Math.ceil((to - at) / step) + 1;
  const [left, right] = [first(tile.x, tile.width, across, frame.x), last(tile.x, across, frame.x + frame.width)];
  const [top, bottom] = [first(tile.y, tile.height, down, frame.y), last(tile.y, down, frame.y + frame.height)];
  if ((right - left + 1) * (bottom - top + 1) > MOST_TILES * 4) return [IDENTITY];
  const tiles: Affine[] = [];
  for (let j = top; j <= bottom; j++)
    for (let i = left; i <= right; i++) {
      const dx = i * across + (kind === 'brick' && j % 2 ? across / 2 : 0);
      const dy = j * down + (kind === 'half-drop' && i % 2 ? down / 2 : 0);
      const map = compose(
        translate(middle.x + dx, middle.y + dy),
        scale(kind === 'mirror' && i % 2 ? -grow : grow, kind === 'mirror' && j % 2 ? -grow : grow),
        translate(-middle.x, -middle.y),
      );
      if (touches(mapBox(map, tile), frame)) tiles.push(map);
    }
  return tiles.length > MOST_TILES ? [IDENTITY] : tiles;
}

const IDENTITY: Affine = [1, 0, 0, 1, 0, 0];

const touches = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/**
 * How much larger or smaller art may become, as a factor, so that it still covers a frame by as many copies as there may
 * be.
 */
export function leastRepeat(tile: Box, gap: number, frame: Box): number {
  const cells = (factor: number): number =>
    (frame.width / (tile.width * factor + gap) + 2) * (frame.height / (tile.height * factor + gap) + 2);
  let factor = 1;
  while (cells(factor) > MOST_TILES && factor < 1e3) factor *= 1.05;
  while (cells(factor / 1.05) <= MOST_TILES && factor > 1e-3) factor /= 1.05;
  return factor;
}
