import { hexOf, rgbOf } from '../colour/srgb.js';

/** A colour of a gradient. `at` and `opacity` from 0 to 1. */
export interface GradientStop {
  readonly at: number;
  readonly hex: string;
  readonly opacity: number;
}

/** A run of colours across a layer's own box. */
export interface Gradient {
  readonly kind: 'linear' | 'radial';
  /** Direction of a linear run, degrees clockwise; 0 runs from left to right. */
  readonly turn: number;
  /** Two or more, by position. */
  readonly stops: readonly GradientStop[];
}

/** `#rrggbb`, or a gradient. */
export type Paint = string | Gradient;

/** Most stops a gradient may have. */
export const MAX_STOPS = 12;

/** Where a gradient begins and ends in a box of `width` × `height`; for a radial one, its centre and its rim. */
export interface GradientLine {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
  readonly radius: number;
}

/**
 * A linear run reaches the box's corners (as CSS Images 3, 3.1.1 has it); a radial one has its rim on them.
 */
export function gradientLine({ kind, turn }: Gradient, width: number, height: number): GradientLine {
  const [cx, cy, radius] = [width / 2, height / 2, Math.hypot(width, height) / 2];
  if (kind === 'radial') return { x1: cx, y1: cy, x2: cx, y2: cy, radius };
  const angle = (turn * Math.PI) / 180;
  const half = (Math.abs(width * Math.cos(angle)) + Math.abs(height * Math.sin(angle))) / 2;
  return {
    x1: cx - Math.cos(angle) * half,
    y1: cy - Math.sin(angle) * half,
    x2: cx + Math.cos(angle) * half,
    y2: cy + Math.sin(angle) * half,
    radius,
  };
}

/** All colours of a paint. */
export const coloursOfPaint = (paint: Paint | null): string[] =>
  paint === null
    ? []
    : typeof paint === 'string'
      ? [paint]
      : paint.stops.filter((stop) => stop.opacity > 0).map((stop) => stop.hex);

/** The paint's first colour, for what can show only one. */
export const mainColour = (paint: Paint | null): string | null => coloursOfPaint(paint)[0] ?? null;

/** True when nothing shows through the paint. */
export const isOpaque = (paint: Paint | null): boolean =>
  paint !== null && (typeof paint === 'string' || paint.stops.every((stop) => stop.opacity >= 1));

/** Another colour for a colour. */
export type Swap = (hex: string) => string;

/** Swaps colours by what they become, all at once. */
export const swapOf =
  (colours: Readonly<Record<string, string>>): Swap =>
  (hex) =>
    colours[hex.toLowerCase()] ?? hex;

/** A paint with its colours swapped. */
export function recolourPaint(paint: Paint | null, swap: Swap): Paint | null {
  if (paint === null || typeof paint === 'string') return paint && swap(paint);
  return { ...paint, stops: paint.stops.map((stop) => ({ ...stop, hex: swap(stop.hex) })) };
}

/** A run from a colour to another one, or into nothing. */
export const twoColours = (from: string, to: string | null, kind: Gradient['kind'] = 'linear'): Gradient => ({
  kind,
  turn: 90,
  stops: [
    { at: 0, hex: from, opacity: 1 },
    { at: 1, hex: to ?? from, opacity: to === null ? 0 : 1 },
  ],
});

/** Colour of a gradient at a position, unmultiplied, as SVG and canvas run them. */
export function colourAt({ stops }: Gradient, at: number): GradientStop {
  const after = stops.findIndex((stop) => stop.at >= at);
  if (after === 0) return { ...stops[0], at };
  if (after < 0) return { ...stops[stops.length - 1], at };
  const [a, b] = [stops[after - 1], stops[after]];
  const share = b.at > a.at ? (at - a.at) / (b.at - a.at) : 1;
  const [x, y] = [rgbOf(a.hex), rgbOf(b.hex)];
  const mix = (p: number, q: number) => Math.round(p + (q - p) * share);
  return {
    at,
    hex: hexOf({ r: mix(x.r, y.r), g: mix(x.g, y.g), b: mix(x.b, y.b) }),
    opacity: a.opacity + (b.opacity - a.opacity) * share,
  };
}
