import type { Point } from '../geometry/affine.js';

/** Most points along a side of a print area that bends. */
export const MOST_GRID = 5;

/** How a print area lies on a photo. Points are shares 0 to 1 of its width and height. */
export type AreaShape =
  /** A flat face seen at any slant: its corners, from the top left onwards as it is read. */
  | { readonly kind: 'corners'; readonly corners: readonly Point[] }
  /** Cloth that bends: points in rows from the top left, through which the surface runs smoothly. */
  | { readonly kind: 'grid'; readonly columns: number; readonly rows: number; readonly points: readonly Point[] }
  /** A cup or bottle: corners of what is seen of the area, and how round it is. */
  | {
      readonly kind: 'cylinder';
      readonly corners: readonly Point[];
      /** How far the middle of the upper and lower edge bulges down, a share of the height; below 0 up. */
      readonly sag: number;
      /** Degrees around the axis that lie between the left and right edge, 20 to 175. */
      readonly arc: number;
      /** The part of the area's width that is seen, shares from left to right. */
      readonly shows: readonly [number, number];
    };

/** The place on the photo of a place on the area, both in shares. */
export type PlaceOf = (u: number, v: number) => Point;

/** @throws RangeError with a sentence when the points are no area */
export function placeOnPhoto(shape: AreaShape): PlaceOf {
  switch (shape.kind) {
    case 'corners':
      return homography(shape.corners);
    case 'grid':
      return surface(shape);
    case 'cylinder': {
      const flat = homography(shape.corners);
      const half = (shape.arc * Math.PI) / 360;
      const [from, to] = shape.shows;
      return (u, v) => {
        const angle = ((u - from) / (to - from) - 0.5) * 2 * half;
        const across = Math.sin(Math.max(-Math.PI / 2, Math.min(Math.PI / 2, angle))) / Math.sin(half) / 2 + 0.5;
        const bulge = (shape.sag * (Math.cos(angle) - Math.cos(half))) / (1 - Math.cos(half));
        return flat(across, v + bulge);
      };
    }
  }
}

/** The projective map that takes the corners of the unit square to four points. Heckbert 1989, section 2.2.3. */
function homography(corners: readonly Point[]): PlaceOf {
  if (corners.length !== 4) throw new RangeError('A print area has four corners.');
  const [p0, p1, p2, p3] = corners;
  if (!isConvex(corners))
    throw new RangeError(
      'The corners of the print area are crossed. Drag them back around the area, one after the other.',
    );
  const [dx1, dx2, sx] = [p1.x - p2.x, p3.x - p2.x, p0.x - p1.x + p2.x - p3.x];
  const [dy1, dy2, sy] = [p1.y - p2.y, p3.y - p2.y, p0.y - p1.y + p2.y - p3.y];
  const whole = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / whole;
  const h = (dx1 * sy - sx * dy1) / whole;
  const [a, b] = [p1.x - p0.x + g * p1.x, p3.x - p0.x + h * p3.x];
  const [d, e] = [p1.y - p0.y + g * p1.y, p3.y - p0.y + h * p3.y];
  return (u, v) => {
    const w = g * u + h * v + 1;
    return { x: (a * u + b * v + p0.x) / w, y: (d * u + e * v + p0.y) / w };
  };
}

function isConvex(corners: readonly Point[]): boolean {
  const turns = corners.map((b, i) => {
    const [a, c] = [corners[(i + 3) % 4], corners[(i + 1) % 4]];
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);
  });
  // Clockwise on a picture, whose y runs down: a mirrored area would print mirrored.
  return turns.every((turn) => turn > 1e-7);
}

/** A smooth surface through a grid of points: Catmull-Rom along both axes, straight on beyond its rim. */
function surface({ columns, rows, points }: Extract<AreaShape, { kind: 'grid' }>): PlaceOf {
  if (columns < 2 || rows < 2 || columns > MOST_GRID || rows > MOST_GRID || points.length !== columns * rows)
    throw new RangeError(`A grid has 2 to ${MOST_GRID} points along each side.`);
  const at = (i: number, j: number): Point => points[j * columns + i];
  return (u, v) => {
    const across = weights(u * (columns - 1), columns);
    const down = weights(v * (rows - 1), rows);
    let [x, y] = [0, 0];
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const weight = across[i] * down[j];
        if (weight === 0) continue;
        x += weight * at(i, j).x;
        y += weight * at(i, j).y;
      }
    return { x, y };
  };
}

/** Weights of `count` points at a place from 0 to count − 1; the neighbours that a rim lacks lie straight beyond it. */
function weights(at: number, count: number): number[] {
  const out = new Array<number>(count).fill(0);
  const first = Math.min(count - 2, Math.max(0, Math.floor(at)));
  const t = at - first;
  const add = (i: number, weight: number): void => {
    if (i < 0) {
      out[0] += 2 * weight;
      out[1] -= weight;
    } else if (i >= count) {
      out[count - 1] += 2 * weight;
      out[count - 2] -= weight;
    } else out[i] += weight;
  };
  if (t < 0 || t > 1) {
    add(first, 1 - t);
    add(first + 1, t);
    return out;
  }
  add(first - 1, (-t + 2 * t * t - t ** 3) / 2);
  add(first, (2 - 5 * t * t + 3 * t ** 3) / 2);
  add(first + 1, (t + 4 * t * t - 3 * t ** 3) / 2);
  add(first + 2, (-t * t + t ** 3) / 2);
  return out;
}

/** A print area on a picture's grid: positions on it 0 to 1 across and down, and how much of each pixel it covers. */
export interface AreaPlanes {
  readonly u: Float32Array;
  readonly v: Float32Array;
  /** 0 to 1. */
  readonly coverage: Float32Array;
}

/** Cells of the mesh that stands for an area, along each side. */
const CELLS = 96;
/** Cells beyond the rim: what is displaced by folds finds its place there. */
const BEYOND = 4;

/**
 * Lays an area on a picture. @throws RangeError with a sentence when it folds over itself or is too small to be printed on
 */
export function layArea(shape: AreaShape, width: number, height: number): AreaPlanes {
  const place = placeOnPhoto(shape);
  const side = CELLS + 2 * BEYOND + 1;
  const mesh: Point[] = [];
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      const { x, y } = place((i - BEYOND) / CELLS, (j - BEYOND) / CELLS);
      mesh.push({ x: x * width, y: y * height });
    }
  const planes = {
    u: new Float32Array(width * height).fill(NaN),
    v: new Float32Array(width * height),
    coverage: new Float32Array(width * height),
  };
  const [from, to] = shape.kind === 'cylinder' ? shape.shows : [0, 1];
  let [covered, folded] = [0, 0];
  const triangle = (corners: readonly (readonly [number, number])[], counts: boolean): void => {
    const [a, b, c] = corners.map(([i, j]) => mesh[j * side + i]);
    const whole = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
    if (counts) {
      if (whole <= 0) folded++;
      covered += Math.max(0, whole) / 2;
    }
    if (whole <= 1e-9) return;
    const [ua, ub, uc] = corners.map(([i]) => (i - BEYOND) / CELLS);
    const [va, vb, vc] = corners.map(([, j]) => (j - BEYOND) / CELLS);
    // Slopes of u and v on the picture, per pixel.
    const slope = (p: number, q: number, r: number): readonly [number, number] => [
      ((q - p) * (c.y - a.y) - (r - p) * (b.y - a.y)) / whole,
      ((r - p) * (b.x - a.x) - (q - p) * (c.x - a.x)) / whole,
    ];
    const [su, sv] = [slope(ua, ub, uc), slope(va, vb, vc)];
    const [lengthU, lengthV] = [Math.hypot(...su), Math.hypot(...sv)];
    const top = Math.max(0, Math.ceil(Math.min(a.y, b.y, c.y) - 0.5));
    const bottom = Math.min(height - 1, Math.floor(Math.max(a.y, b.y, c.y) - 0.5));
    const left = Math.max(0, Math.ceil(Math.min(a.x, b.x, c.x) - 0.5));
    const right = Math.min(width - 1, Math.floor(Math.max(a.x, b.x, c.x) - 0.5));
    for (let y = top; y <= bottom; y++)
      for (let x = left; x <= right; x++) {
        const [px, py] = [x + 0.5 - a.x, y + 0.5 - a.y];
        const beta = (px * (c.y - a.y) - py * (c.x - a.x)) / whole;
        const gamma = (py * (b.x - a.x) - px * (b.y - a.y)) / whole;
        if (beta < -1e-6 || gamma < -1e-6 || beta + gamma > 1 + 1e-6) continue;
        const at = y * width + x;
        const u = ua + su[0] * px + su[1] * py;
        const v = va + sv[0] * px + sv[1] * py;
        planes.u[at] = u;
        planes.v[at] = v;
        // The share of the pixel on the area's side of each edge, as if the edge were straight there.
        const inside = Math.min((u - from) / lengthU, (to - u) / lengthU, v / lengthV, (1 - v) / lengthV);
        planes.coverage[at] = Math.min(1, Math.max(0, inside + 0.5));
      }
  };
  for (let j = 0; j + 1 < side; j++)
    for (let i = 0; i + 1 < side; i++) {
      const u = (i + 0.5 - BEYOND) / CELLS;
      const v = (j + 0.5 - BEYOND) / CELLS;
      const counts = u > from && u < to && v > 0 && v < 1;
      triangle(
        [
          [i, j],
          [i + 1, j],
          [i, j + 1],
        ],
        counts,
      );
      triangle(
        [
          [i + 1, j],
          [i + 1, j + 1],
          [i, j + 1],
        ],
        counts,
      );
    }
  if (folded)
    throw new RangeError(
      'The print area folds over itself. Drag its points apart, so that no two rows or columns cross.',
    );
  if (covered < 400)
    throw new RangeError(
      'The print area is smaller than 20 × 20 pixels on the photo. Make it larger, or take a closer photo.',
    );
  return planes;
}
