import { pathNumber } from '../geometry/path-number.js';

/** A glyph as a shaper hands it out: path in font units with y upwards (M, L, Q, C, Z), and where it goes. */
export interface ShapedGlyph {
  readonly path: string;
  readonly advance: number;
  readonly dx: number;
  readonly dy: number;
  /** True when letter spacing does not come after it: it is joined to the next, or part of the same letter. */
  readonly tight?: boolean;
  /** Units to the em when its font differs from the line's. */
  readonly upem?: number;
}

/** Glyphs of a line in visual order. */
export type ShapedLine = readonly ShapedGlyph[];

export type LetterAlign = 'left' | 'middle' | 'right';

/** How lettering is set. */
export interface LetteringSettings {
  /** Extra room between letters, percent of the em. */
  readonly spacing: number;
  /** From baseline to baseline, percent of the em. */
  readonly lineSpacing: number;
  readonly align: LetterAlign;
  /** Degrees of arc that the longest line spans: positive arches, negative sags, 0 is straight. 360 closes a circle. */
  readonly bend: number;
  /**
   * Diameter of a circle the first line stands on, percent of the em, in place of a bend; negative hangs the letters
   * inside its foot. None when 0 or absent.
   */
  readonly circle?: number;
  /** True when all letters are upper case. */
  readonly caps?: boolean;
}

export const PLAIN_LETTERING: LetteringSettings = { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 };

/** Outlines set at an em of {@link EM_MM}, their box's corner at the origin. */
export interface Lettering {
  readonly path: string;
  readonly width: number;
  readonly height: number;
}

export const EM_MM = 10;

/** Longest text a layer may hold. */
export const MAX_LETTERS = 300;

/**
 * Sets shaped lines as one path. The box is that of all path points, so it may be a little larger than the ink where
 * curves bulge.
 * @param unitsPerEm of the font
 * @returns null when nothing would be seen
 */
export function setLettering(
  lines: readonly ShapedLine[],
  unitsPerEm: number,
  settings: LetteringSettings,
): Lettering | null {
  const scale = EM_MM / unitsPerEm;
  const room = (settings.spacing / 100) * EM_MM;
  const scaleOf = (glyph: ShapedGlyph) => (glyph.upem === undefined ? scale : EM_MM / glyph.upem);
  const widths = lines.map((line) =>
    line.reduce(
      (sum, glyph, i) => sum + glyph.advance * scaleOf(glyph) + (glyph.tight || i === line.length - 1 ? 0 : room),
      0,
    ),
  );
  const longest = Math.max(...widths, 0);
  const radius = radiusOf(settings, longest);
  const pieces: string[] = [];
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  const placed: { command: string; points: [number, number][] }[] = [];
  lines.forEach((line, row) => {
    const down = row * (settings.lineSpacing / 100) * EM_MM;
    let at =
      settings.align === 'left'
        ? -longest / 2
        : settings.align === 'right'
          ? longest / 2 - widths[row]
          : -widths[row] / 2;
    for (const glyph of line) {
      const size = scaleOf(glyph);
      const advance = glyph.advance * size;
      const middle = at + advance / 2;
      const turn = radius === null ? 0 : middle / radius;
      const reach = radius === null ? 0 : radius - down;
      // A glyph stands upright on the tangent under its middle.
      const [ox, oy] = radius === null ? [middle, down] : [reach * Math.sin(turn), radius - reach * Math.cos(turn)];
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
      for (const [, command, text] of glyph.path.matchAll(/([MLQCZ])([^MLQCZ]*)/g)) {
        const values = text
          .trim()
          .split(/[\s,]+/)
          .filter(Boolean)
          .map(Number);
        const points: [number, number][] = [];
        for (let i = 0; i + 1 < values.length; i += 2) {
          const x = (values[i] + glyph.dx) * size - advance / 2;
          const y = -(values[i + 1] + glyph.dy) * size;
          const point: [number, number] = [ox + x * cos - y * sin, oy + x * sin + y * cos];
          [left, top, right, bottom] = [
            Math.min(left, point[0]),
            Math.min(top, point[1]),
            Math.max(right, point[0]),
            Math.max(bottom, point[1]),
          ];
          points.push(point);
        }
        placed.push({ command, points });
      }
      at += advance + (glyph.tight ? 0 : room);
    }
  });
  if (!(right > left) || !(bottom > top)) return null;
  for (const { command, points } of placed)
    pieces.push(command + points.map(([x, y]) => `${pathNumber(x - left)} ${pathNumber(y - top)}`).join(' '));
  return {
    path: pieces.join(''),
    width: Math.round((right - left) * 1000) / 1000,
    height: Math.round((bottom - top) * 1000) / 1000,
  };
}

/** Radius of the baseline, positive above its centre; null for a straight one. */
function radiusOf({ bend, circle = 0 }: LetteringSettings, longest: number): number | null {
  if (Math.abs(circle) >= 1) return ((circle / 100) * EM_MM) / 2;
  const arc = (Math.max(-360, Math.min(360, bend)) * Math.PI) / 180;
  return Math.abs(arc) < 1e-3 || longest === 0 ? null : longest / arc;
}
