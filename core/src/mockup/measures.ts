import type { MeasureUnit } from '../model/scene.js';
import type { Box, Point } from '../geometry/affine.js';
import { formatLength } from '../units/length.js';
import { isClothing } from './area.js';
import type { Blank, PrintArea } from '../model/blank.js';

export const MEASURE_UNITS: readonly MeasureUnit[] = ['mm', 'cm', 'in'];

/** A measured line on a print area, from one end to the other, in area mm, and what it says. */
export interface MeasureLine {
  readonly from: Point;
  readonly to: Point;
  readonly text: string;
}

/** How far a measured line lies beside the art, as a share of the area's height. */
const BESIDE = 0.035;

/**
 * The lines that a client asks for: how wide and how high the print is, and how far it hangs below the collar, or lies
 * below the upper edge of a hard face. Lengths are those of the printed product.
 * @param art box of the art in area mm
 * @param factor size on the product relative to the print file
 */
export function measureLines(
  art: Box,
  area: Pick<PrintArea, 'widthMm' | 'heightMm'>,
  blank: Pick<Blank, 'category'>,
  factor: number,
  unit: MeasureUnit,
): MeasureLine[] {
  const beside = area.heightMm * BESIDE;
  const [right, bottom] = [art.x + art.width, art.y + art.height];
  const told = (mm: number): string => formatLength(mm / factor, unit, 300);
  // Where there is no room below or beside it, the line lies over the art.
  const y = bottom + beside <= area.heightMm ? bottom + beside : Math.min(bottom, area.heightMm) - beside;
  const x = right + beside <= area.widthMm ? right + beside : Math.min(right, area.widthMm) - beside;
  const middle = art.x + art.width / 2;
  return [
    { from: { x: art.x, y }, to: { x: right, y }, text: told(art.width) },
    { from: { x, y: art.y }, to: { x, y: bottom }, text: told(art.height) },
    ...(art.y > beside
      ? [
          {
            from: { x: middle, y: 0 },
            to: { x: middle, y: art.y },
            text: `${told(art.y)} below the ${isClothing(blank) ? 'collar' : 'upper edge'}`,
          },
        ]
      : []),
  ];
}

/** Points along a line, so that it follows the cloth. */
const STEPS = 16;

/** A measured line as it is seen: points on the picture where it is, in order. */
export function seenLine({ from, to }: MeasureLine, pixelOf: (point: Point) => Point | null): Point[] {
  return Array.from({ length: STEPS + 1 }, (_, k) =>
    pixelOf({ x: from.x + ((to.x - from.x) * k) / STEPS, y: from.y + ((to.y - from.y) * k) / STEPS }),
  ).filter((point) => point !== null);
}

const escaped = (text: string): string => text.replace(/[&<>"]/g, (letter) => `&#${letter.charCodeAt(0)};`);
const said = (value: number): string => value.toFixed(1);

/**
 * Measured lines as an SVG that is laid over a picture: dark with a light rim, so that they are read on any cloth.
 * @param seen each line's points on the picture, in px
 */
export function measuresSvg(
  lines: readonly { readonly points: readonly Point[]; readonly text: string }[],
  { width, height }: { readonly width: number; readonly height: number },
): string {
  const unit = Math.max(width, height) / 1000;
  const drawn = lines
    .filter(({ points }) => points.length > 1)
    .map(({ points, text }) => {
      const path = points.map(({ x, y }, i) => `${i ? 'L' : 'M'}${said(x)} ${said(y)}`).join('');
      const [first, last] = [points[0], points[points.length - 1]];
      const ends = [tick(first, points[1], unit), tick(last, points[points.length - 2], unit)].join('');
      const middle = points[Math.floor(points.length / 2)];
      const wide = text.length * 9.6 * unit + 18 * unit;
      // Beside a line that runs down, on one that runs across: the line itself stays in sight.
      const runsDown = Math.abs(last.y - first.y) > Math.abs(last.x - first.x);
      const left = runsDown ? middle.x + 10 * unit : middle.x - wide / 2;
      const label =
        `<rect x="${said(left)}" y="${said(middle.y - 14 * unit)}" width="${said(wide)}" height="${said(28 * unit)}" rx="${said(7 * unit)}" fill="#fff" stroke="#1d2524" stroke-width="${said(1.2 * unit)}"/>` +
        `<text x="${said(left + wide / 2)}" y="${said(middle.y + 6.4 * unit)}" text-anchor="middle" font-family="Work Sans, sans-serif" font-size="${said(18 * unit)}" font-weight="600" fill="#1d2524">${escaped(text)}</text>`;
      const stroke = (colour: string, w: number): string =>
        `<path d="${path}${ends}" fill="none" stroke="${colour}" stroke-width="${said(w * unit)}" stroke-linecap="round" stroke-linejoin="round"/>`;
      return stroke('#fff', 5) + stroke('#1d2524', 2.2) + label;
    });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${drawn.join('')}</svg>`;
}

/** The short line across the end of a measured one. */
function tick(end: Point, next: Point, unit: number): string {
  const [dx, dy] = [next.x - end.x, next.y - end.y];
  const length = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [(-dy / length) * 8 * unit, (dx / length) * 8 * unit];
  return `M${said(end.x - nx)} ${said(end.y - ny)}L${said(end.x + nx)} ${said(end.y + ny)}`;
}
