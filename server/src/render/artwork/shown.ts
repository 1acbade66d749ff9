import type { Pixels, RecipeLayer, Treated } from '@kettle/core';
import { readFileSource, readSource } from './source.js';
import { treatedFile, treatedName, treatedPixels } from './treated.js';

/** A picture as a recipe names it. */
export type ShownSource = Pick<RecipeLayer, 'treated'> & { readonly sha256: string };

/** What a layer's picture is drawn from: the treated picture wherever there are treatments, else the file. */
export function readShown(
  { sha256, treated }: ShownSource,
  path: string,
): Promise<{ pixels: Pixels } | { svg: Buffer }> {
  return treated
    ? readSource(treatedName(sha256, treated), async () => ({ pixels: await treatedPixels(sha256, path, treated) }))
    : readSource(sha256, () => readFileSource(path));
}

/** The file that shows it: the one that came, or a PNG of the treated picture. */
export const shownFile = (sha256: string, path: string, treated: Treated | undefined): Promise<string> =>
  treated ? treatedFile(sha256, path, treated) : Promise.resolve(path);
