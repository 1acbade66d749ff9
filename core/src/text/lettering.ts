/** A glyph as a shaper hands it out: path in font units with y upwards (M, L, Q, C, Z), and where it goes. */
export interface ShapedGlyph { readonly path: string; readonly advance: number; readonly dx: number; readonly dy: number }

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
  /** Degrees of arc that the longest line spans: positive arches, negative sags, 0 is straight. At most 350 either way. */
  readonly bend: number;
}

export const PLAIN_LETTERING: LetteringSettings = { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 };

/** Outlines set at an em of {@link EM_MM}, their box's corner at the origin. */
export interface Lettering { readonly path: string; readonly width: number; readonly height: number }

export const EM_MM = 10;

/** Longest text a layer may hold. */
export const MAX_LETTERS = 300;

/**
 * Sets shaped lines as one path. The box is that of all path points, so it may be a little larger than the ink where curves bulge.
 * @param unitsPerEm of the font
 * @returns null when nothing would be seen
 */
export function setLettering(lines: readonly ShapedLine[], unitsPerEm: number, settings: LetteringSettings): Lettering | null {
  const scale = EM_MM / unitsPerEm;
  const room = (settings.spacing / 100) * EM_MM;
  const widths = lines.map((line) => line.reduce((sum, glyph) => sum + glyph.advance * scale, 0) + room * Math.max(0, line.length - 1));
  const longest = Math.max(...widths, 0);
  const arc = (Math.max(-350, Math.min(350, settings.bend)) * Math.PI) / 180;
  const radius = Math.abs(arc) < 1e-3 || longest === 0 ? null : longest / arc;
  const pieces: string[] = [];
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  const placed: { command: string; points: [number, number][] }[] = [];
  lines.forEach((line, row) => {
    const down = row * (settings.lineSpacing / 100) * EM_MM;
    let at = settings.align === 'left' ? -longest / 2 : settings.align === 'right' ? longest / 2 - widths[row] : -widths[row] / 2;
    for (const glyph of line) {
      const advance = glyph.advance * scale;
      const middle = at + advance / 2;
      const turn = radius === null ? 0 : middle / radius;
      const reach = radius === null ? 0 : radius - down;
      // A glyph stands upright on the tangent under its middle.
      const [ox, oy] = radius === null ? [middle, down] : [reach * Math.sin(turn), radius - reach * Math.cos(turn)];
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
      for (const [, command, text] of glyph.path.matchAll(/([MLQCZ])([^MLQCZ]*)/g)) {
        const values = text.trim().split(/[\s,]+/).filter(Boolean).map(Number);
        const points: [number, number][] = [];
        for (let i = 0; i + 1 < values.length; i += 2) {
          const x = (values[i] + glyph.dx) * scale - advance / 2;
          const y = -(values[i + 1] + glyph.dy) * scale;
          const point: [number, number] = [ox + x * cos - y * sin, oy + x * sin + y * cos];
          [left, top, right, bottom] = [Math.min(left, point[0]), Math.min(top, point[1]), Math.max(right, point[0]), Math.max(bottom, point[1])];
          points.push(point);
        }
        placed.push({ command, points });
      }
      at += advance + room;
    }
  });
  if (!(right > left) || !(bottom > top)) return null;
  const number = (value: number) => String(Math.round(value * 1000) / 1000 + 0);
  for (const { command, points } of placed) pieces.push(command + points.map(([x, y]) => `${number(x - left)} ${number(y - top)}`).join(' '));
  return { path: pieces.join(''), width: Math.round((right - left) * 1000) / 1000, height: Math.round((bottom - top) * 1000) / 1000 };
}
