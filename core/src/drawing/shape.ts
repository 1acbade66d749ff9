import type { ShapeKind, ShapeLayer } from '../model/design.js';
import { pathNumber as n } from '../geometry/path-number.js';

/** A line in the unit box of a shape along which a parameter's handle runs, from its least to its most. */
export type Track = readonly [fromX: number, fromY: number, toX: number, toY: number];

/**
 * A number that shapes a shape, with its range. Percentages are of the half of the shorter side unless the hint says
 * otherwise.
 */
export interface ShapeParameter {
  readonly key: string;
  readonly label: string;
  readonly unit: '' | '%';
  readonly least: number;
  readonly most: number;
  readonly start: number;
  readonly track: Track;
}

export interface ShapeDescription {
  readonly kind: ShapeKind;
  readonly label: string;
  readonly aspect: number;
  readonly parameters: readonly ShapeParameter[];
}

const count = (label: string, start: number, least = 3, most = 60): ShapeParameter => ({
  key: 'count',
  label,
  unit: '',
  least,
  most,
  start,
  track: [0.06, 1, 0.94, 1],
});
const percent = (key: string, label: string, start: number, track: Track, least = 0, most = 100): ShapeParameter => ({
  key,
  label,
  unit: '%',
  least,
  most,
  start,
  track,
});
/** A share of the way from the edge to the middle, or from the middle to the edge. */
const [inward, outward]: Track[] = [
  [0.5, 0, 0.5, 0.5],
  [0.5, 0.5, 0.5, 0],
];

/** All shapes in the order they are offered. `aspect` is the width to height they begin with. */
export const SHAPES: readonly ShapeDescription[] = [
  { kind: 'rectangle', label: 'Rectangle', aspect: 1.5, parameters: [percent('round', 'Corners', 0, [0, 0, 0.5, 0])] },
  { kind: 'ellipse', label: 'Ellipse', aspect: 1, parameters: [] },
  { kind: 'polygon', label: 'Polygon', aspect: 1, parameters: [count('Sides', 6)] },
  {
    kind: 'star',
    label: 'Star',
    aspect: 1,
    parameters: [count('Points', 5), percent('depth', 'Depth', 55, inward, 5, 95)],
  },
  { kind: 'ring', label: 'Ring', aspect: 1, parameters: [percent('thickness', 'Thickness', 20, inward, 1, 99)] },
  { kind: 'line', label: 'Line', aspect: 20, parameters: [] },
  {
    kind: 'arrow',
    label: 'Arrow',
    aspect: 2.4,
    parameters: [
      percent('head', 'Head', 40, [0.95, 0, 0.05, 0], 5, 95),
      percent('shaft', 'Shaft', 40, [0, 0.475, 0, 0], 5, 100),
    ],
  },
  { kind: 'heart', label: 'Heart', aspect: 1.1, parameters: [] },
  {
    kind: 'badge',
    label: 'Badge',
    aspect: 1,
    parameters: [count('Scallops', 20, 6), percent('depth', 'Depth', 10, inward, 1, 40)],
  },
  { kind: 'banner', label: 'Banner', aspect: 4, parameters: [percent('notch', 'Notch', 40, [0, 0.5, 0.5, 0.5])] },
  {
    kind: 'sunburst',
    label: 'Sunburst',
    aspect: 1,
    parameters: [count('Rays', 16, 4), percent('core', 'Middle', 25, outward, 0, 90)],
  },
  {
    kind: 'wave',
    label: 'Wave',
    aspect: 5,
    parameters: [count('Waves', 4, 1, 30), percent('thickness', 'Thickness', 40, [0, 0.05, 0, 0.9], 5, 90)],
  },
  { kind: 'drop', label: 'Drop', aspect: 0.7, parameters: [] },
  {
    kind: 'cross',
    label: 'Cross',
    aspect: 1,
    parameters: [percent('thickness', 'Thickness', 34, [0.525, 0, 0.975, 0], 5, 95)],
  },
  {
    kind: 'crescent',
    label: 'Crescent',
    aspect: 0.8,
    parameters: [percent('thickness', 'Thickness', 45, [0.95, 0.5, 0.05, 0.5], 5, 95)],
  },
  {
    kind: 'speech',
    label: 'Speech',
    aspect: 1.3,
    parameters: [
      percent('round', 'Corners', 45, [0, 0, 0.5, 0]),
      percent('tail', 'Tail', 25, [0.9, 0.95, 0.9, 0.4], 5, 60),
    ],
  },
];

export const SHAPE_KINDS: readonly ShapeKind[] = SHAPES.map((shape) => shape.kind);

export function shapeDescription(kind: ShapeKind): ShapeDescription {
  const found = SHAPES.find((shape) => shape.kind === kind);
  if (!found) throw new RangeError(`There is no shape “${kind}”.`);
  return found;
}

/** A parameter's value, within its range; its start where the layer says nothing. */
export function parameterOf(layer: Pick<ShapeLayer, 'shape' | 'parameters'>, key: string): number {
  const parameter = shapeDescription(layer.shape).parameters.find((one) => one.key === key);
  if (!parameter) return 0;
  const value = layer.parameters[key] ?? parameter.start;
  return Math.min(parameter.most, Math.max(parameter.least, key === 'count' ? Math.round(value) : value));
}

/** Where a parameter's handle stands, in the shape's unit box. */
export function handleOf(
  layer: Pick<ShapeLayer, 'shape' | 'parameters'>,
  { key, least, most, track: [x1, y1, x2, y2] }: ShapeParameter,
): { x: number; y: number } {
  const share = (parameterOf(layer, key) - least) / (most - least);
  return { x: x1 + (x2 - x1) * share, y: y1 + (y2 - y1) * share };
}

/**
 * The value a parameter takes when its handle is dragged to a point of the unit box. Whole numbers for counts, whole
 * percents for shares.
 */
export function valueAtHandle(
  { least, most, track: [x1, y1, x2, y2] }: ShapeParameter,
  { x, y }: { x: number; y: number },
): number {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const share = ((x - x1) * dx + (y - y1) * dy) / (dx * dx + dy * dy);
  return Math.round(least + Math.min(1, Math.max(0, share)) * (most - least));
}

const polygon = (points: readonly (readonly [number, number])[]): string =>
  `M${points.map(([x, y]) => `${n(x)} ${n(y)}`).join('L')}Z`;
/** Points on an ellipse that fills the box, clockwise from the top. */
const around = (w: number, h: number, share: number, radius = 1): [number, number] => {
  const angle = share * 2 * Math.PI;
  return [w / 2 + (w / 2) * radius * Math.sin(angle), h / 2 - (h / 2) * radius * Math.cos(angle)];
};
const ellipse = (cx: number, cy: number, rx: number, ry: number, sweep: 0 | 1 = 1): string =>
  `M${n(cx)} ${n(cy - ry)}A${n(rx)} ${n(ry)} 0 1 ${sweep} ${n(cx)} ${n(cy + ry)}A${n(rx)} ${n(ry)} 0 1 ${sweep} ${n(cx)} ${n(cy - ry)}Z`;

function roundedRectangle(w: number, h: number, r: number): string {
  if (r <= 0)
    return polygon([
      [0, 0],
      [w, 0],
      [w, h],
      [0, h],
    ]);
  const a = `A${n(r)} ${n(r)} 0 0 1 `;
  return `M${n(r)} 0H${n(w - r)}${a}${n(w)} ${n(r)}V${n(h - r)}${a}${n(w - r)} ${n(h)}H${n(r)}${a}0 ${n(h - r)}V${n(r)}${a}${n(r)} 0Z`;
}

/** Regular points stretched so that they touch all four edges of the box. */
function stretched(points: readonly [number, number][], w: number, h: number): [number, number][] {
  const xs = points.map(([x]) => x);
  const ys = points.map(([, y]) => y);
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  return points.map(([x, y]) => [
    ((x - left) / (Math.max(...xs) - left)) * w,
    ((y - top) / (Math.max(...ys) - top)) * h,
  ]);
}

/**
 * Outline of a shape as SVG path data (nonzero fill) inside a box of `w` × `h` mm.
 * Every shape but the line touches the box; curves may stay inside it.
 */
export function shapePath(layer: Pick<ShapeLayer, 'shape' | 'parameters'>, w: number, h: number): string {
  const of = (key: string) => parameterOf(layer, key) / 100;
  const number = parameterOf(layer, 'count');
  switch (layer.shape) {
    case 'rectangle':
      return roundedRectangle(w, h, (Math.min(w, h) / 2) * of('round'));
    case 'ellipse':
      return ellipse(w / 2, h / 2, w / 2, h / 2);
    case 'polygon':
      return polygon(
        stretched(
          Array.from({ length: number }, (_, i) => around(w, h, i / number)),
          w,
          h,
        ),
      );
    case 'star':
      return polygon(
        stretched(
          Array.from({ length: number * 2 }, (_, i) => around(w, h, i / number / 2, i % 2 ? 1 - of('depth') : 1)),
          w,
          h,
        ),
      );
    case 'ring':
      return (
        ellipse(w / 2, h / 2, w / 2, h / 2) +
        ellipse(w / 2, h / 2, (w / 2) * (1 - of('thickness')), (h / 2) * (1 - of('thickness')), 0)
      );
    case 'line':
      return polygon([
        [0, 0],
        [w, 0],
        [w, h],
        [0, h],
      ]);
    case 'arrow': {
      const neck = w - Math.min(w, w * of('head'));
      const [top, bottom] = [(h / 2) * (1 - of('shaft')), (h / 2) * (1 + of('shaft'))];
      return polygon([
        [0, top],
        [neck, top],
        [neck, 0],
        [w, h / 2],
        [neck, h],
        [neck, bottom],
        [0, bottom],
      ]);
    }
    case 'heart': {
      const c = (...v: number[]) => `C${v.map((value, i) => n(value * (i % 2 ? h : w))).join(' ')}`;
      return `M${n(w / 2)} ${n(h)}${c(0.2, 0.78, 0, 0.55, 0, 0.3)}${c(0, 0.1, 0.12, 0, 0.26, 0)}${c(0.37, 0, 0.46, 0.07, 0.5, 0.2)}${c(0.54, 0.07, 0.63, 0, 0.74, 0)}${c(0.88, 0, 1, 0.1, 1, 0.3)}${c(1, 0.55, 0.8, 0.78, 0.5, 1)}Z`;
    }
    case 'badge': {
      const steps = number * 12;
      return polygon(
        Array.from({ length: steps }, (_, i) =>
          around(w, h, i / steps, 1 - (of('depth') / 2) * (1 - Math.cos((i / 12) * 2 * Math.PI))),
        ),
      );
    }
    case 'banner':
      return polygon([
        [0, 0],
        [w, 0],
        [w - (h / 2) * of('notch'), h / 2],
        [w, h],
        [0, h],
        [(h / 2) * of('notch'), h / 2],
      ]);
    case 'sunburst': {
      const rays = Array.from({ length: number }, (_, i) =>
        polygon([
          around(w, h, (i - 0.25) / number),
          around(w, h, (i + 0.25) / number),
          around(w, h, (i + 0.25) / number, of('core')),
          around(w, h, (i - 0.25) / number, of('core')),
        ]),
      ).join('');
      return (
        rays + (of('core') > 0 ? ellipse(w / 2, h / 2, (w / 2) * of('core') * 0.8, (h / 2) * of('core') * 0.8) : '')
      );
    }
    case 'wave': {
      const thick = h * of('thickness');
      const steps = number * 24;
      const crest = (i: number) => ((h - thick) / 2) * (1 - Math.cos((i / 24) * 2 * Math.PI));
      const upper = Array.from({ length: steps + 1 }, (_, i): [number, number] => [(i / steps) * w, crest(i)]);
      return polygon([...upper, ...upper.map(([x, y]): [number, number] => [x, y + thick]).reverse()]);
    }
    case 'drop':
      return `M${n(w / 2)} 0C${n(w * 0.56)} ${n(h * 0.22)} ${n(w)} ${n(h * 0.42)} ${n(w)} ${n(h * 0.66)}A${n(w / 2)} ${n(h * 0.34)} 0 0 1 0 ${n(h * 0.66)}C0 ${n(h * 0.42)} ${n(w * 0.44)} ${n(h * 0.22)} ${n(w / 2)} 0Z`;
    case 'cross': {
      const t = of('thickness') / 2;
      const [l, r, u, d] = [w * (0.5 - t), w * (0.5 + t), h * (0.5 - t), h * (0.5 + t)];
      return polygon([
        [l, 0],
        [r, 0],
        [r, u],
        [w, u],
        [w, d],
        [r, d],
        [r, h],
        [l, h],
        [l, d],
        [0, d],
        [0, u],
        [l, u],
      ]);
    }
    case 'crescent':
      return `M${n(w)} 0A${n(w)} ${n(h / 2)} 0 0 0 ${n(w)} ${n(h)}A${n(Math.max(w * (1 - of('thickness')), 0.001))} ${n(h / 2)} 0 0 1 ${n(w)} 0Z`;
    case 'speech': {
      const body = h * (1 - of('tail'));
      const r = (Math.min(w, body) / 2) * of('round');
      const [from, to] = [Math.max(r, w * 0.2), Math.max(r, w * 0.2) + w * 0.16];
      const a = `A${n(r)} ${n(r)} 0 0 1 `;
      return `M${n(r)} 0H${n(w - r)}${a}${n(w)} ${n(r)}V${n(body - r)}${a}${n(w - r)} ${n(body)}H${n(Math.min(to, w - r))}L${n(w * 0.14)} ${n(h)}L${n(Math.min(from, w - r))} ${n(body)}H${n(r)}${a}0 ${n(body - r)}V${n(r)}${a}${n(r)} 0Z`;
    }
  }
}

/** A new shape in the middle of the upper part of a field. */
export function shapeLayer(
  id: string,
  kind: ShapeKind,
  field: { width: number; height: number },
  fill: string,
): ShapeLayer {
  const { label, aspect } = shapeDescription(kind);
  const width = Math.min(field.width * 0.4, field.height * 0.4 * aspect);
  return {
    kind: 'shape',
    id,
    name: label,
    shape: kind,
    parameters: {},
    fill,
    outline: null,
    opacity: 1,
    hidden: false,
    place: {
      x: field.width / 2,
      y: field.height * 0.35,
      width,
      height: width / aspect,
      turn: 0,
      flipX: false,
      flipY: false,
    },
  };
}
