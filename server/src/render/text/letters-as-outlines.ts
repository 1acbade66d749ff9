import { randomUUID } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Resvg, type ResvgRenderOptions } from '@resvg/resvg-js';
import { faceFiles, GENERIC_FACES } from './faces.js';
import { unpackFont } from './font-file.js';
import { cutsOf } from './font-cuts.js';

/** Fonts for the renderer of SVG in Rust: the shipped ones, and files beside them. */
export const fontsFor = async (files: readonly string[] = []): Promise<ResvgRenderOptions['font']> => ({
  loadSystemFonts: false,
  fontFiles: [...files, ...(await faceFiles())],
  defaultFontFamily: GENERIC_FACES['sans-serif'],
  sansSerifFamily: GENERIC_FACES['sans-serif'],
  serifFamily: GENERIC_FACES.serif,
  monospaceFamily: GENERIC_FACES.monospace,
  cursiveFamily: GENERIC_FACES.cursive,
  fantasyFamily: GENERIC_FACES.fantasy,
});

/**
 * The same drawing with its letters as outlines, set in just these files and the shipped faces: what it looks like then
 * depends on no process, machine or other seller's font of the same name.
 * @param svg a drawing that is safe to draw
 * @param own font files in any packing
 */
export async function lettersAsOutlines(svg: string, own: readonly { readonly path: string }[]): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'kettle-letters-'));
  try {
    const plain: string[] = [];
    for (const { path } of own) {
      for (const cut of await cutsOf(await unpackFont(await readFile(path)))) {
        const file = join(folder, `${randomUUID()}.ttf`);
        await writeFile(file, cut);
        plain.push(file);
      }
    }
    return new Resvg(svg, { font: await fontsFor(plain) }).toString();
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
