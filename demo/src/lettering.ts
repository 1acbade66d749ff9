import { readFileSync } from 'node:fs';
import opentype from 'opentype.js';

/** The shipped faces as plain font files, as the build unpacks them. */
const UNPACKED = new URL('../../server/dist/faces/', import.meta.url);
const fonts = new Map<string, opentype.Font>();

/** Faces the club's printer owns, by a short name. */
const FACES = {
  serif: 'fraunces-latin-900-normal',
  poster: 'bowlby-one-latin-400-normal',
  grotesque: 'bricolage-grotesque-latin-800-normal',
  script: 'pacifico-latin-400-normal',
  narrow: 'bebas-neue-latin-400-normal',
  slab: 'alfa-slab-one-latin-400-normal',
  sans: 'josefin-sans-latin-600-normal',
  classic: 'yeseva-one-latin-400-normal',
} as const;

export type Face = keyof typeof FACES;

function font(face: Face): opentype.Font {
  let loaded = fonts.get(face);
  if (!loaded) {
    const bytes = readFileSync(new URL(`${FACES[face]}.ttf`, UNPACKED));
    loaded = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
    fonts.set(face, loaded);
  }
  return loaded;
}

/** How lettering is set. `spacing` is a share of the size. */
export interface Setting {
  face: Face;
  size: number;
  fill: string;
  spacing?: number;
  anchor?: 'start' | 'middle';
}

/** Advances and kerning letter by letter; the demo's texts need no ligatures. */
function* advances(text: string, { face, size, spacing = 0 }: Setting) {
  const used = font(face);
  const scale = size / used.unitsPerEm;
  let at = 0;
  for (let i = 0; i < text.length; i++) {
    const glyph = used.charToGlyph(text[i]);
    const width = (glyph.advanceWidth ?? 0) * scale;
    yield { glyph, at, width };
    at +=
      width +
      (i + 1 < text.length ? used.getKerningValue(glyph, used.charToGlyph(text[i + 1])) * scale + spacing * size : 0);
  }
}

function widthOf(text: string, setting: Setting): number {
  const last = [...advances(text, setting)].at(-1);
  return last ? last.at + last.width : 0;
}

/** The library's own writer stumbles over very small numbers. */
function pathData({ commands }: opentype.Path): string {
  const n = (...values: number[]) => values.map((value) => value.toFixed(1)).join(' ');
  return commands
    .map((c) => {
      switch (c.type) {
        case 'M':
        case 'L':
          return `${c.type}${n(c.x, c.y)}`;
        case 'Q':
          return `Q${n(c.x1, c.y1, c.x, c.y)}`;
        case 'C':
          return `C${n(c.x1, c.y1, c.x2, c.y2, c.x, c.y)}`;
        case 'Z':
          return 'Z';
      }
    })
    .join('');
}

function outlines(
  text: string,
  setting: Setting,
  place: (advance: number, width: number) => { x: number; y: number; turn: number },
): string {
  const paths: string[] = [];
  for (const { glyph, at, width } of advances(text, setting)) {
    const { x, y, turn } = place(at, width);
    const d = pathData(glyph.getPath(0, 0, setting.size));
    if (d)
      paths.push(`<path transform="translate(${x.toFixed(1)} ${y.toFixed(1)}) rotate(${turn.toFixed(2)})" d="${d}"/>`);
  }
  return `<g fill="${setting.fill}">${paths.join('')}</g>`;
}

/** A line of lettering as outlines, baseline at (x, y). */
export function line(text: string, x: number, y: number, setting: Setting): string {
  const start = setting.anchor === 'start' ? x : x - widthOf(text, setting) / 2;
  return outlines(text, setting, (advance) => ({ x: start + advance, y, turn: 0 }));
}

/**
 * Lettering on a circle about (cx, cy), its middle at `angle` degrees clockwise from the top. `inside` reads along the
 * bottom.
 */
export function arc(
  text: string,
  cx: number,
  cy: number,
  radius: number,
  angle: number,
  setting: Setting,
  inside = false,
): string {
  const total = widthOf(text, setting);
  return outlines(text, setting, (advance, width) => {
    const way = (advance + width / 2 - total / 2) / radius;
    const at = (angle * Math.PI) / 180 + (inside ? Math.PI - way : way);
    const turn = inside ? at - Math.PI : at;
    const half = width / 2;
    return {
      x: cx + radius * Math.sin(at) - half * Math.cos(turn),
      y: cy - radius * Math.cos(at) - half * Math.sin(turn),
      turn: (turn * 180) / Math.PI,
    };
  });
}
