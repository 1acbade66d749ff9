import { hexOf, rgbOf } from '../colour/srgb.js';
import type { InkedLayer, Outline, OutlineJoin } from '../model/design.js';
import { gradientLine, isOpaque, type Paint } from '../model/paint.js';
import type { Box } from '../geometry/affine.js';
import { pathNumber as n } from '../geometry/path-number.js';

/** A line of a mark, in the drawing's own units. */
export interface MarkLine {
  readonly hex: string;
  readonly width: number;
  readonly join: OutlineJoin;
  readonly dashes: readonly number[];
  readonly within: boolean;
}

/** One thing that is drawn: an outline with its fill or its line. */
export interface Mark {
  readonly path: string;
  readonly fill: Paint | null;
  readonly rule?: 'evenodd';
  /** A line along the path; `within` cuts it off outside the path. */
  readonly line?: MarkLine;
  /** 0 to 1. */
  readonly opacity: number;
  /** True when it takes away from the marks before it instead of adding to them. */
  readonly erase: boolean;
}

/** A layer as it is drawn, on screen and in print alike. */
export interface Drawing {
  readonly marks: readonly Mark[];
  /** The box that the layer's place stands for, in the drawing's own units. */
  readonly box: Box;
  /** How far ink may stand out of the box on every side, in the same units. */
  readonly reach: number;
}

/** Corners sharper than this are cut off, as a multiple of the line's width (SVG 2, 13.5.4). */
export const MITRE_LIMIT = 4;

/**
 * Dash lengths for an outline's width, as SVG has them; empty for a solid line. An outline inside or outside the edge
 * is half of a line twice as wide, whose
 * round ends reach as much farther: its dashes are that much shorter and its gaps longer.
 */
function dashesOf(dash: Outline['dash'], width: number, centred: boolean): number[] {
  switch (dash) {
    case 'solid':
      return [];
    case 'dashed':
      return centred ? [width * 3, width * 2] : [width * 2, width * 3];
    case 'dotted':
      return [0, width * (centred ? 2 : 4)];
  }
}

/** An outline with a fill alone. */
export const filled = (path: string, fill: Paint | null): Mark => ({ path, fill, opacity: 1, erase: false });

/**
 * Fill and outline. An outline outside lies under an opaque fill, or else has the fill's area taken out of it: either
 * way no seam shows.
 */
export function inkedMarks(path: string, fill: Paint | null, outline: Outline | null, unit: number): Mark[] {
  if (!outline) return [filled(path, fill)];
  const side = outline.side ?? 'centre';
  const own = outline.width / unit;
  const width = side === 'centre' ? own : own * 2;
  const line: MarkLine = {
    hex: outline.hex,
    width,
    join: outline.join ?? 'round',
    dashes: dashesOf(outline.dash, own, side === 'centre'),
    within: side === 'inside',
  };
  const lined: Mark = { path, fill: null, line, opacity: 1, erase: false };
  if (side !== 'outside') return [filled(path, fill), lined];
  return isOpaque(fill)
    ? [lined, filled(path, fill)]
    : [lined, { ...filled(path, '#000000'), erase: true }, filled(path, fill)];
}

/** How far an outline stands out of its edge, mm. */
export function outlineReach({ outline }: Pick<InkedLayer, 'outline'>): number {
  if (!outline || outline.side === 'inside') return 0;
  const out = outline.side === 'outside' ? outline.width : outline.width / 2;
  return outline.join === 'mitre' ? out * MITRE_LIMIT : out;
}

/**
 * A step of a drawing: SVG elements in the units of `view`, that are laid over what was drawn before or taken out of
 * it.
 */
export interface DrawingStep {
  readonly view: Box;
  readonly body: string;
  readonly erase: boolean;
}

/** A drawing as SVG of the same box, as it is drawn into print files. Most need only one step. */
export function drawingSteps({ marks, box, reach }: Drawing): DrawingStep[] {
  const view = { x: box.x - reach, y: box.y - reach, width: box.width + 2 * reach, height: box.height + 2 * reach };
  const steps: { erase: boolean; marks: Mark[] }[] = [];
  for (const mark of marks) {
    const last = steps.at(-1);
    if (last?.erase === mark.erase) last.marks.push(mark);
    else steps.push({ erase: mark.erase, marks: [mark] });
  }
  return steps.map((step) => {
    const defs: string[] = [];
    const body = step.marks.map((mark, index) => markSvg(mark, box, `m${index}`, defs)).join('');
    return { view, erase: step.erase, body: `${defs.length ? `<defs>${defs.join('')}</defs>` : ''}${body}` };
  });
}

/** A step as an SVG document that shows all of it. */
export const svgOfStep = ({ view: { x, y, width, height }, body }: DrawingStep): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${n(x)} ${n(y)} ${n(width)} ${n(height)}">${body}</svg>`;

function markSvg({ path, fill, rule, line, opacity }: Mark, box: Box, key: string, defs: string[]): string {
  const faint = opacity < 1 ? ` opacity="${Math.round(opacity * 10000) / 10000}"` : '';
  const ruled = rule ? ' fill-rule="evenodd"' : '';
  if (!line) return `<path d="${path}" fill="${paintSvg(fill, box, key, defs)}"${ruled}${faint}/>`;
  if (line.within) defs.push(`<clipPath id="${key}c"><path d="${path}"/></clipPath>`);
  const join = line.join === 'mitre' ? `miter" stroke-miterlimit="${MITRE_LIMIT}` : line.join;
  const dashes = line.dashes.length ? ` stroke-dasharray="${line.dashes.map(n).join(' ')}"` : '';
  return `<path d="${path}" fill="none" stroke="${hexOf(rgbOf(line.hex))}" stroke-width="${n(line.width)}" stroke-linejoin="${join}" stroke-linecap="round"${dashes}${line.within ? ` clip-path="url(#${key}c)"` : ''}${faint}/>`;
}

function paintSvg(paint: Paint | null, box: Box, key: string, defs: string[]): string {
  if (paint === null) return 'none';
  if (typeof paint === 'string') return hexOf(rgbOf(paint));
  const { x1, y1, x2, y2, radius } = gradientLine(paint, box.width, box.height);
  const [x, y] = [box.x, box.y];
  const stops = paint.stops
    .map(
      (stop) =>
        `<stop offset="${n(stop.at)}" stop-color="${hexOf(rgbOf(stop.hex))}" stop-opacity="${n(stop.opacity)}"/>`,
    )
    .join('');
  defs.push(
    paint.kind === 'linear'
      ? `<linearGradient id="${key}" gradientUnits="userSpaceOnUse" x1="${n(x + x1)}" y1="${n(y + y1)}" x2="${n(x + x2)}" y2="${n(y + y2)}">${stops}</linearGradient>`
      : `<radialGradient id="${key}" gradientUnits="userSpaceOnUse" cx="${n(x + x1)}" cy="${n(y + y1)}" r="${n(radius)}">${stops}</radialGradient>`,
  );
  return `url(#${key})`;
}
