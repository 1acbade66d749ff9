import type { Panel } from '../model/requirement.js';
import type { Box, Point } from '../geometry/affine.js';
import type { Salience } from '../raster/salience.js';
import { isOnCloth } from './panel.js';

/** A way of laying art over a panel so that it covers it. */
export interface Cropping {
  /** The art on the panel's canvas, mm; at least as large as that. */
  readonly art: Box;
  /** How much of what draws the eye stays on the cloth, 0 to 1. */
  readonly kept: number;
}

/** How much larger than it need be the art is tried at. */
const SIZES = [1, 1.3, 1.7, 2.2];
/** Places tried along each way at each size. */
const PLACES = 7;
/** Croppings that are proposed. */
const MOST = 4;
/** Two whose middles are less than this share of the canvas apart, and of one size, look the same. */
const ALIKE = 0.12;

/**
 * Croppings of art that covers a panel, to choose from: the one in the middle first, then those that keep most of what
 * draws the eye at each size, the least enlarged before others. They look different from each other.
 * @param art proportions of the art
 * @param salience of the art, over all of its box
 */
export function croppingsOf(
  art: Pick<Box, 'width' | 'height'>,
  salience: Salience,
  panel: Pick<Panel, 'cut'>,
  canvas: { readonly widthMm: number; readonly heightMm: number },
): Cropping[] {
  const { widthMm, heightMm } = canvas;
  const least = Math.max(widthMm / art.width, heightMm / art.height);
  const at = (size: number, across: number, down: number): Cropping => {
    const [width, height] = [art.width * least * size, art.height * least * size];
    const box = { x: (widthMm - width) * across, y: (heightMm - height) * down, width, height };
    return { art: box, kept: keptOn(panel, salience, box) };
  };
  const found: Cropping[] = [at(1, 0.5, 0.5)];
  for (const size of SIZES) {
    const tried: Cropping[] = [];
    for (let j = 0; j < PLACES; j++)
      for (let i = 0; i < PLACES; i++) tried.push(at(size, i / (PLACES - 1), j / (PLACES - 1)));
    // Of as good ones, the one nearest to the middle.
    const off = ({ art: box }: Cropping): number =>
      Math.hypot(box.x + box.width / 2 - widthMm / 2, box.y + box.height / 2 - heightMm / 2) / widthMm;
    tried.sort((a, b) => b.kept - 0.02 * off(b) - (a.kept - 0.02 * off(a)));
    const best = tried.find((one) => !found.some((other) => looksAlike(one, other, canvas)));
    if (best) found.push(best);
  }
  return found.slice(0, MOST);
}

const middleOf = ({ x, y, width, height }: Box): Point => ({ x: x + width / 2, y: y + height / 2 });

function looksAlike(
  { art: one }: Cropping,
  { art: other }: Cropping,
  { widthMm, heightMm }: { widthMm: number; heightMm: number },
): boolean {
  const [a, b] = [middleOf(one), middleOf(other)];
  return (
    Math.abs(one.width - other.width) < 0.05 * one.width &&
    Math.abs(a.x - b.x) < ALIKE * widthMm &&
    Math.abs(a.y - b.y) < ALIKE * heightMm
  );
}

/** Share of the salience that lies on the cloth. */
function keptOn(panel: Pick<Panel, 'cut'>, { width, height, shares }: Salience, art: Box): number {
  let kept = 0;
  // Every other cell of a fine map tells as much.
  const step = Math.max(1, Math.round(Math.max(width, height) / 32));
  let all = 0;
  for (let y = step >> 1; y < height; y += step)
    for (let x = step >> 1; x < width; x += step) {
      const share = shares[y * width + x];
      if (share === 0) continue;
      all += share;
      const place = {
        x: art.x + ((x + 0.5) / width) * art.width,
        y: art.y + ((y + 0.5) / height) * art.height,
      };
      if (isOnCloth(panel, place)) kept += share;
    }
  return all > 0 ? kept / all : 1;
}
