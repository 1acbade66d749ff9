import bidiFactory, { type Bidi } from 'bidi-js';
import * as hb from 'harfbuzzjs';
import { setLettering, type Lettering, type LetteringSettings, type ShapedGlyph } from '@kettle/core/text';
import { openFont, type OpenFont } from './font-file.js';

// Its types say CommonJS, where a default export is called one level deeper.
const bidi = (bidiFactory as unknown as () => Bidi)();

/** Scripts whose letters join: room between them would tear them apart (CSS Text 3, 8.2). */
const JOINED = /[\p{Script=Arabic}\p{Script=Syriac}\p{Script=Mongolian}\p{Script=Nko}]/u;
/** What takes the font of the letter before it: marks, joiners, spaces and common signs. */
const FOLLOWS = /[\p{M}\p{Cf}\p{Zs}\p{Script=Common}]/u;

/** Letters of one font and one direction. */
interface Run {
  text: string;
  readonly font: OpenFont;
  readonly level: number;
}

/**
 * Shapes text with HarfBuzz and sets it. `paths` are fonts in the order they are asked for a letter; letters that none
 * has are named and left out.
 */
export async function makeLettering(
  paths: readonly string[],
  text: string,
  settings: LetteringSettings,
): Promise<{ outlines: Lettering | null; missing: string[] }> {
  // Composed letters are what faces have; a decomposed å would lose its ring in a face without one to put on.
  const composed = text.normalize('NFC');
  return setLines(
    settings.caps ? composed.toLocaleUpperCase() : composed,
    await Promise.all(paths.map(openFont)),
    settings,
  );
}

export function setLines(
  text: string,
  fonts: readonly OpenFont[],
  settings: LetteringSettings,
): { outlines: Lettering | null; missing: string[] } {
  const missing = new Set<string>();
  const lines = text.split(/\r?\n/).map((line) => shapeLine(line, fonts, missing));
  return { outlines: setLettering(lines, fonts[0].upem, settings), missing: [...missing] };
}

/** A line shaped, in the order it is seen. Advances are in units of the first font's em. */
export function shapeLine(text: string, fonts: readonly OpenFont[], missing = new Set<string>()): ShapedGlyph[] {
  return inVisualOrder(runsOf(text, fonts, missing)).flatMap((run) => shape(run, fonts[0].upem, missing));
}

/** True when a font can put a letter together that it does not have as one: HarfBuzz does so. */
function hasParts(font: OpenFont, letter: string): boolean {
  const parts = [...letter.normalize('NFD')];
  return parts.length > 1 && parts.every((part) => font.has(part.codePointAt(0)!));
}

/** A line in runs of one font and one embedding level (UAX 9). */
function runsOf(line: string, fonts: readonly OpenFont[], missing: Set<string>): Run[] {
  const { levels } = bidi.getEmbeddingLevels(line, 'auto');
  const runs: Run[] = [];
  let at = 0;
  for (const letter of line) {
    const last = runs.at(-1);
    const code = letter.codePointAt(0)!;
    const able =
      last && FOLLOWS.test(letter) && last.font.has(code)
        ? last.font
        : (fonts.find((font) => font.has(code)) ?? fonts.find((font) => hasParts(font, letter)));
    // A joiner that no font has still joins.
    const font = able ?? (/\p{Cf}/u.test(letter) ? last?.font : undefined);
    if (!font) {
      if (!/\s/u.test(letter)) missing.add(letter);
    } else if (last && last.font === font && last.level === levels[at]) last.text += letter;
    else runs.push({ text: letter, font, level: levels[at] });
    at += letter.length;
  }
  return runs;
}

/** Rule L2 of UAX 9 on whole runs: from the highest level down, each stretch at or above it is turned round. */
function inVisualOrder(runs: Run[]): Run[] {
  const order = [...runs];
  const highest = Math.max(0, ...runs.map((run) => run.level));
  for (let level = highest; level > 0; level--) {
    for (let from = 0; from < order.length; from++) {
      if (order[from].level < level) continue;
      let to = from;
      while (to + 1 < order.length && order[to + 1].level >= level) to++;
      order.splice(from, to - from + 1, ...order.slice(from, to + 1).reverse());
      from = to;
    }
  }
  return order;
}

function shape({ text, font: { font, upem }, level }: Run, lineUpem: number, missing: Set<string>): ShapedGlyph[] {
  const buffer = new hb.Buffer();
  buffer.addText(text);
  buffer.guessSegmentProperties();
  buffer.setDirection(level % 2 ? hb.Direction.RTL : hb.Direction.LTR);
  hb.shape(font, buffer);
  const glyphs = buffer.getGlyphInfosAndPositions();
  const joined = JOINED.test(text);
  return glyphs.flatMap((glyph, i): ShapedGlyph[] => {
    if (glyph.codepoint === 0) {
      missing.add(String.fromCodePoint(text.codePointAt(glyph.cluster) ?? 32));
      return [];
    }
    const tight = joined || glyphs[i + 1]?.cluster === glyph.cluster;
    return [
      {
        path: font.glyphToPath(glyph.codepoint),
        advance: glyph.xAdvance ?? 0,
        dx: glyph.xOffset ?? 0,
        dy: glyph.yOffset ?? 0,
        ...(tight ? { tight } : {}),
        ...(upem === lineUpem ? {} : { upem }),
      },
    ];
  });
}
