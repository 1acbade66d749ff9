import type { Box, Point } from '@kettle/core/geometry';

/** Which edges of a crop a press holds: those it is near; all of it inside, a new one outside. */
export function edgesAt(crop: Box | null, at: Point, width: number, height: number): string {
  if (!crop) return 'new';
  const near = (a: number, b: number, px: number): boolean => Math.abs(a - b) * px < 12;
  const edges =
    (near(at.x, crop.x, width) ? 'l' : near(at.x, crop.x + crop.width, width) ? 'r' : '') +
    (near(at.y, crop.y, height) ? 't' : near(at.y, crop.y + crop.height, height) ? 'b' : '');
  return edges || 'new';
}

const LEAST_CROP = 0.01;
const held = (value: number): number => Math.min(1, Math.max(0, value));

/** A crop whose held edges were moved from one point to another. */
export function cropBy(crop: Box | null, edges: string, from: Point, to: Point): Box {
  const box =
    edges === 'new' || !crop
      ? { l: from.x, t: from.y, r: to.x, b: to.y }
      : { l: crop.x, t: crop.y, r: crop.x + crop.width, b: crop.y + crop.height };
  if (edges.includes('l')) box.l = to.x;
  if (edges.includes('r')) box.r = to.x;
  if (edges.includes('t')) box.t = to.y;
  if (edges.includes('b')) box.b = to.y;
  const [x0, x1] = [held(Math.min(box.l, box.r)), held(Math.max(box.l, box.r))];
  const [y0, y1] = [held(Math.min(box.t, box.b)), held(Math.max(box.t, box.b))];
  return {
    x: Math.min(x0, 1 - LEAST_CROP),
    y: Math.min(y0, 1 - LEAST_CROP),
    width: Math.max(LEAST_CROP, x1 - x0),
    height: Math.max(LEAST_CROP, y1 - y0),
  };
}
