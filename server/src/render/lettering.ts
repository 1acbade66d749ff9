import { readFile } from 'node:fs/promises';
import * as hb from 'harfbuzzjs';
import wawoff2 from 'wawoff2';
import { setLettering, type Lettering, type LetteringSettings, type ShapedGlyph } from '@kettle/core';

/** Fonts opened last. */
const open = new Map<string, { font: hb.Font; upem: number }>();
const MOST_OPEN = 12;

async function openFont(path: string): Promise<{ font: hb.Font; upem: number }> {
  let one = open.get(path);
  if (!one) {
    const sfnt = await wawoff2.decompress(await readFile(path));
    const face = new hb.Face(new hb.Blob(Uint8Array.from(sfnt).buffer));
    one = { font: new hb.Font(face), upem: face.upem };
  }
  open.delete(path);
  open.set(path, one);
  for (const oldest of open.keys()) if (open.size > MOST_OPEN) open.delete(oldest);
  return one;
}

/** Shapes text with HarfBuzz, line by line, and sets it. Letters that the font does not have are named and left out. */
export async function makeLettering(path: string, text: string, settings: LetteringSettings): Promise<{ outlines: Lettering | null; missing: string[] }> {
  const { font, upem } = await openFont(path);
  const missing = new Set<string>();
  const lines = text.split(/\r?\n/).map((line): ShapedGlyph[] => {
    if (!line) return [];
    const buffer = new hb.Buffer();
    buffer.addText(line);
    buffer.guessSegmentProperties();
    hb.shape(font, buffer);
    return buffer.getGlyphInfosAndPositions().flatMap((glyph) => {
      if (glyph.codepoint === 0) { missing.add(String.fromCodePoint(line.codePointAt(glyph.cluster) ?? 32)); return []; }
      return [{ path: font.glyphToPath(glyph.codepoint), advance: glyph.xAdvance ?? 0, dx: glyph.xOffset ?? 0, dy: glyph.yOffset ?? 0 }];
    });
  });
  return { outlines: setLettering(lines, upem, settings), missing: [...missing] };
}
