import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { FAMILIES, shippedFiles } from './font-catalogue.js';
import { unpackFont } from './font-file.js';

/** Shipped faces as plain font files, for the renderer of SVG, which reads nothing else. Made once by the build. */
export const FACES = fileURLToPath(new URL('../../faces', import.meta.url));
const STAMP = join(FACES, 'whole');

/** Weights that live text asks for: regular, bold, and the one a family begins with. */
const USUAL = [400, 700];

/** The two faces that papers are set in, as plain font files: for reading, and for what stands out. */
export const paperFaces = (): Promise<Buffer[]> =>
  Promise.all(
    [400, 600].map(async (weight) =>
      Buffer.from(await unpackFont(await readFile(shippedFiles(`work-sans-latin-${weight}`)![0]))),
    ),
  );

/** The shipped faces as plain files. */
export const faceFiles = async (): Promise<string[]> =>
  (await readdir(FACES)).filter((file) => file.endsWith('.ttf')).map((file) => join(FACES, file));

/** What stands for a family that a drawing does not name. */
export const GENERIC_FACES = {
  'sans-serif': 'Work Sans',
  serif: 'Merriweather',
  monospace: 'Special Elite',
  cursive: 'Caveat',
  fantasy: 'Bowlby One',
} as const;

/** Unpacks the shipped faces where they are not there yet. */
export async function unpackFaces(): Promise<void> {
  if (existsSync(STAMP)) return;
  await rm(FACES, { recursive: true, force: true });
  await mkdir(FACES, { recursive: true });
  for (const { faces, start } of FAMILIES) {
    const wanted = new Set([
      start,
      ...USUAL.map(
        (weight) =>
          faces.reduce((best, one) => (Math.abs(one.weight - weight) < Math.abs(best.weight - weight) ? one : best)).id,
      ),
    ]);
    // The first three files of a face hold its own script and Latin; the others are pieces for single letters of
    // others.
    for (const id of wanted)
      for (const file of (shippedFiles(id) ?? []).slice(0, 3))
        await writeFile(join(FACES, `${basename(file, '.woff2')}.ttf`), await unpackFont(await readFile(file)));
  }
  await writeFile(STAMP, '');
}

/**
 * A configuration that knows shipped faces and none of this machine's: the same drawing prints alike on every machine.
 * @param cache folder where their index is kept
 */
export const fontsConfiguration = (
  cache: string,
): string => `<?xml version="1.0"?><!DOCTYPE fontconfig SYSTEM "fonts.dtd"><fontconfig><reset-dirs/><dir>${FACES}</dir><cachedir>${cache}</cachedir>
${Object.entries(GENERIC_FACES)
  .map(([generic, family]) => `<alias><family>${generic}</family><prefer><family>${family}</family></prefer></alias>`)
  .join('\n')}
<match target="pattern"><edit name="family" mode="append_last"><string>${GENERIC_FACES['sans-serif']}</string></edit></match></fontconfig>
`;
