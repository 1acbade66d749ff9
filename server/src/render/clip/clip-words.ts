import { fileURLToPath } from 'node:url';
import { createCanvas, Path2D, type Canvas } from '@napi-rs/canvas';
import * as hb from 'harfbuzzjs';
import type { ShapedGlyph } from '@kettle/core/text';
import type { ClipShape, ClipWords } from '@kettle/core/model';
import { setWords, type ReadyWords, type WordFace } from '@kettle/core/clip';
import { FAMILIES, shippedFiles } from '../text/font-catalogue.js';
import { openFont, type OpenFont } from '../text/font-file.js';
import { shapeLine } from '../text/lettering.js';

/** The faces of the page, of which a browser sets words: scripts of each in the order they are asked for a letter. */
const FILES: Readonly<Record<WordFace['face'], readonly string[]>> = {
  serif: ['latin', 'latin-ext', 'vietnamese'].map((one) => `fraunces/files/fraunces-${one}-soft-normal.woff2`),
  sans: ['latin', 'latin-ext', 'vietnamese'].map((one) => `public-sans/files/public-sans-${one}-wght-normal.woff2`),
};
/** Scripts that other shipped families lend their letters for. */
const LENT = ['Arabic', 'Devanagari', 'Japanese'] as const;

/** Draws words for a clip of a size, of the same faces as a browser. Null without words. */
export async function drawWords(
  words: ClipWords | undefined,
  shape: ClipShape,
  size: { readonly width: number; readonly height: number },
): Promise<ReadyWords<Canvas> | null> {
  if (!words) return null;
  const text = `${words.title}${words.line}`;
  const faces = { serif: await facesOf('serif', 600, text), sans: await facesOf('sans', 500, text) };
  const shaped = (one: string, { face }: WordFace): { glyphs: ShapedGlyph[]; upem: number } => ({
    glyphs: shapeLine(one.normalize('NFC'), faces[face]),
    upem: faces[face][0].upem,
  });
  const set = setWords(words, shape, size, (one, face) => {
    const { glyphs, upem } = shaped(one, face);
    return (glyphs.reduce((sum, glyph) => sum + advanceOf(glyph, upem), 0) * face.size) / upem;
  });
  if (!set) return null;
  const canvas = createCanvas(set.width, set.height);
  const context = canvas.getContext('2d');
  context.fillStyle = set.hex;
  context.shadowColor = set.halo.css;
  context.shadowBlur = set.halo.blur;
  for (const line of set.lines) {
    const { glyphs, upem } = shaped(line.text, line);
    const scale = line.size / upem;
    const whole = new Path2D();
    const width = glyphs.reduce((sum, glyph) => sum + advanceOf(glyph, upem), 0) * scale;
    // What is longer than its picture even at its smallest is pressed together, as a canvas does.
    const narrow = Math.min(1, set.width / width);
    let x = line.x - (width * narrow) / 2;
    for (const glyph of glyphs) {
      const own = scale * (upem / (glyph.upem ?? upem));
      whole.addPath(new Path2D(glyph.path), {
        a: own * narrow,
        b: 0,
        c: 0,
        d: -own,
        e: x + glyph.dx * own * narrow,
        f: line.baseline - glyph.dy * own,
      });
      x += advanceOf(glyph, upem) * scale * narrow;
    }
    for (let n = 0; n < set.halo.times; n++) context.fill(whole);
  }
  return { picture: canvas, x: set.x, y: set.y };
}

/** Advance of a glyph in units of its line's em. */
const advanceOf = (glyph: ShapedGlyph, upem: number): number => (glyph.advance * upem) / (glyph.upem ?? upem);

/** Fonts of a face at its weight, and others for letters that it has not. */
async function facesOf(face: WordFace['face'], weight: number, text: string): Promise<OpenFont[]> {
  const fonts = await Promise.all(
    FILES[face].map(async (file) => {
      const font = await openFont(fileURLToPath(import.meta.resolve(`@fontsource-variable/${file}`)));
      font.font.setVariations([new hb.Variation('wght', weight)]);
      return font;
    }),
  );
  const missing = [...text].filter((letter) => !fonts.some((font) => font.has(letter.codePointAt(0)!)));
  if (!missing.length) return fonts;
  const lent = LENT.map((script) => FAMILIES.find(({ scripts }) => scripts.includes(script))).flatMap((family) =>
    family ? (shippedFiles(family.start) ?? []) : [],
  );
  for (const path of lent) {
    const font = await openFont(path);
    if (missing.some((letter) => font.has(letter.codePointAt(0)!))) fonts.push(font);
  }
  return fonts;
}
