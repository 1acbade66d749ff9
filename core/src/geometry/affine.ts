/** 2D affine map `[a, b, c, d, e, f]` as in CSS `matrix()`: x' = a·x + c·y + e, y' = b·x + d·y + f. */
export type Affine = readonly [number, number, number, number, number, number];

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** Axis-aligned box, left and top inclusive. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export const IDENTITY: Affine = [1, 0, 0, 1, 0, 0];

export const translate = (x: number, y: number): Affine => [1, 0, 0, 1, x, y];

export const scale = (x: number, y = x): Affine => [x, 0, 0, y, 0, 0];

/** Clockwise on a y-down plane, in degrees. */
export function rotate(degrees: number): Affine {
  const angle = (degrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return [cos, sin, -sin, cos, 0, 0];
}

/** The map that applies the last argument first, as matrices multiply. */
export function compose(...maps: Affine[]): Affine {
  return maps.reduce((m, n) => [
    m[0] * n[0] + m[2] * n[1],
    m[1] * n[0] + m[3] * n[1],
    m[0] * n[2] + m[2] * n[3],
    m[1] * n[2] + m[3] * n[3],
    m[0] * n[4] + m[2] * n[5] + m[4],
    m[1] * n[4] + m[3] * n[5] + m[5],
  ]);
}

/** Inverse map. Throws a RangeError when the map flattens the plane. */
export function invert(m: Affine): Affine {
  const det = m[0] * m[3] - m[1] * m[2];
  if (Math.abs(det) < 1e-12) throw new RangeError('A flattened map has no inverse.');
  return [
    m[3] / det,
    -m[1] / det,
    -m[2] / det,
    m[0] / det,
    (m[2] * m[5] - m[3] * m[4]) / det,
    (m[1] * m[4] - m[0] * m[5]) / det,
  ];
}

export const apply = (m: Affine, p: Point): Point => ({
  x: m[0] * p.x + m[2] * p.y + m[4],
  y: m[1] * p.x + m[3] * p.y + m[5],
});

/** Smallest axis-aligned box around a mapped box. */
export function mapBox(m: Affine, box: Box): Box {
  const corners = [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ].map(([i, j]) => apply(m, { x: box.x + i * box.width, y: box.y + j * box.height }));
  return boxAround(corners);
}

export function boxAround(points: readonly Point[]): Box {
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}

/** Smallest box around all boxes, or null when there are none. */
export function unite(boxes: readonly Box[]): Box | null {
  if (!boxes.length) return null;
  return boxAround(
    boxes.flatMap((b) => [
      { x: b.x, y: b.y },
      { x: b.x + b.width, y: b.y + b.height },
    ]),
  );
}

/** Common part of two boxes, or null when they do not meet. */
export function intersect(a: Box, b: Box): Box | null {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  const width = Math.min(a.x + a.width, b.x + b.width) - x;
  const height = Math.min(a.y + a.height, b.y + b.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

/** A box that stands out by as much on all sides, or draws in by a negative length as far as it can. */
export function grown({ x, y, width, height }: Box, by: number): Box {
  const [across, down] = [Math.max(by, -width / 2), Math.max(by, -height / 2)];
  return { x: x - across, y: y - down, width: width + across * 2, height: height + down * 2 };
}
