import type { Box } from './affine.js';

export type SnapSource = 'edge' | 'centre' | 'safe' | 'guide' | 'layer';

/** A line that a dragged box may jump to. `box` is the layer it comes from. */
export interface SnapLine {
  readonly axis: 'x' | 'y';
  readonly at: number;
  readonly source: SnapSource;
  readonly box?: Box;
}

/**
 * A line that was jumped to, with the reach it is drawn over, or a gap with its length. All in the boxes' own units.
 */
export type SnapMark =
  | {
      readonly kind: 'line';
      readonly axis: 'x' | 'y';
      readonly at: number;
      readonly from: number;
      readonly to: number;
      readonly source: SnapSource;
    }
  | {
      readonly kind: 'gap';
      readonly axis: 'x' | 'y';
      readonly from: number;
      readonly to: number;
      readonly across: number;
    };

export interface Snap {
  readonly dx: number;
  readonly dy: number;
  readonly marks: readonly SnapMark[];
}

/** Edges and middles of boxes as lines. */
export const linesOfBox = (box: Box, source: SnapSource): SnapLine[] =>
  (['x', 'y'] as const).flatMap((axis) => {
    const size = axis === 'x' ? box.width : box.height;
    return [0, 0.5, 1].map((share): SnapLine => ({
      axis,
      at: box[axis] + share * size,
      source,
      ...(source === 'layer' ? { box } : {}),
    }));
  });

/** Lines of a canvas: its edges, its middle and its safe area. */
export function linesOfCanvas(width: number, height: number, safe: Box): SnapLine[] {
  const line = (axis: 'x' | 'y', at: number, source: SnapSource): SnapLine => ({ axis, at, source });
  return [
    line('x', 0, 'edge'),
    line('x', width, 'edge'),
    line('y', 0, 'edge'),
    line('y', height, 'edge'),
    line('x', width / 2, 'centre'),
    line('y', height / 2, 'centre'),
    ...(safe.x > 0
      ? [
          line('x', safe.x, 'safe'),
          line('x', safe.x + safe.width, 'safe'),
          line('y', safe.y, 'safe'),
          line('y', safe.y + safe.height, 'safe'),
        ]
      : []),
  ];
}

interface Jump {
  readonly shift: number;
  readonly marks: readonly SnapMark[];
}

/** What is nearer wins; among equals the canvas before layers, and lines before gaps. */
function nearest(jumps: readonly Jump[]): Jump | null {
  return jumps.reduce<Jump | null>(
    (best, jump) => (!best || Math.abs(jump.shift) < Math.abs(best.shift) - 1e-9 ? jump : best),
    null,
  );
}

const [start, size] = [
  (axis: 'x' | 'y') => axis,
  (axis: 'x' | 'y') => (axis === 'x' ? 'width' : 'height') as 'width' | 'height',
];
const other = (axis: 'x' | 'y'): 'x' | 'y' => (axis === 'x' ? 'y' : 'x');

function lineJumps(box: Box, axis: 'x' | 'y', lines: readonly SnapLine[], tolerance: number): Jump[] {
  const jumps: Jump[] = [];
  const cross = other(axis);
  for (const line of lines) {
    if (line.axis !== axis) continue;
    for (const share of [0.5, 0, 1]) {
      const shift = line.at - (box[start(axis)] + share * box[size(axis)]);
      if (Math.abs(shift) > tolerance) continue;
      const reach = [
        box[cross],
        box[cross] + box[size(cross)],
        ...(line.box ? [line.box[cross], line.box[cross] + line.box[size(cross)]] : []),
      ];
      const marks: SnapMark[] = [
        { kind: 'line', axis, at: line.at, from: Math.min(...reach), to: Math.max(...reach), source: line.source },
      ];
      // How far the box is from the layer it lines up with.
      if (line.box) {
        const [near, far] = line.box[cross] < box[cross] ? [line.box, box] : [box, line.box];
        const [from, to] = [near[cross] + near[size(cross)], far[cross]];
        if (to > from) marks.push({ kind: 'gap', axis: cross, from, to, across: line.at });
      }
      jumps.push({ shift, marks });
    }
  }
  return jumps;
}

/**
 * Equal gaps to neighbours that lie in the same row or column: in the middle of two, or as far from one as it is from
 * the next.
 */
function gapJumps(box: Box, axis: 'x' | 'y', others: readonly Box[], tolerance: number): Jump[] {
  const [s, l, cross] = [start(axis), size(axis), other(axis)];
  const row = others
    .filter((one) => one[cross] < box[cross] + box[size(cross)] && one[cross] + one[size(cross)] > box[cross])
    .sort((a, b) => a[s] - b[s]);
  const jumps: Jump[] = [];
  const end = (one: Box) => one[s] + one[l];
  const across = box[cross] + box[size(cross)] / 2;
  const gap = (from: number, to: number): SnapMark => ({ kind: 'gap', axis, from, to, across });
  const tryAt = (at: number, marks: SnapMark[]) => {
    const shift = at - box[s];
    if (Math.abs(shift) <= tolerance) jumps.push({ shift, marks });
  };
  for (let i = 0; i + 1 < row.length; i++) {
    const [a, b] = [row[i], row[i + 1]];
    const room = b[s] - end(a);
    if (room <= 0) continue;
    if (room > box[l]) {
      const at = end(a) + (room - box[l]) / 2;
      tryAt(at, [gap(end(a), at), gap(at + box[l], b[s])]);
    }
    tryAt(end(b) + room, [gap(end(a), b[s]), gap(end(b), end(b) + room)]);
    tryAt(a[s] - room - box[l], [gap(a[s] - room, a[s]), gap(end(a), b[s])]);
  }
  return jumps;
}

/**
 * Where a moved box jumps to, if anything is within `tolerance`.
 * @param others boxes of the other visible layers
 */
export function snapMove(box: Box, lines: readonly SnapLine[], others: readonly Box[], tolerance: number): Snap {
  const all = [...lines, ...others.flatMap((one) => linesOfBox(one, 'layer'))];
  const x = nearest([...lineJumps(box, 'x', all, tolerance), ...gapJumps(box, 'x', others, tolerance)]);
  const y = nearest([...lineJumps(box, 'y', all, tolerance), ...gapJumps(box, 'y', others, tolerance)]);
  // Marks were measured before the other axis jumped; they are drawn after it.
  const moved = { x: x?.shift ?? 0, y: y?.shift ?? 0 };
  const settle = (mark: SnapMark): SnapMark =>
    mark.kind === 'gap' ? { ...mark, across: mark.across + (across(mark) ? 0 : moved[other(mark.axis)]) } : mark;
  const across = (mark: SnapMark) =>
    mark.kind === 'gap' && all.some((line) => line.axis !== mark.axis && line.at === mark.across);
  return { dx: moved.x, dy: moved.y, marks: [...(x?.marks ?? []), ...(y?.marks ?? [])].map(settle) };
}

/**
 * Factor by which a box that is scaled from a fixed corner should be scaled further so that its free edges meet a line.
 * @param fixed the corner that stays, as shares of the box: 0 or 1 each
 */
export function snapScale(
  box: Box,
  fixed: { x: number; y: number },
  lines: readonly SnapLine[],
  tolerance: number,
): { factor: number; line: SnapLine | null } {
  let best: { factor: number; line: SnapLine | null; off: number } = { factor: 1, line: null, off: tolerance };
  for (const line of lines) {
    const length = box[size(line.axis)];
    const anchor = box[line.axis] + fixed[line.axis] * length;
    const free = box[line.axis] + (1 - fixed[line.axis]) * length;
    const off = Math.abs(line.at - free);
    const factor = (line.at - anchor) / (free - anchor);
    if (off <= best.off && factor > 0.05 && Number.isFinite(factor)) best = { factor, line, off };
  }
  return { factor: best.factor, line: best.line };
}
