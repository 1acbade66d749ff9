import type { Pixels } from '@kettle/core/geometry';
import type { RecipeLayer } from '@kettle/core/recipes';
import { readFileSource, readSource } from './source.js';
import { treatedFile, treatedName, treatedPixels } from './treated.js';

/** A picture as a recipe names it. */
export type ShownSource = Pick<RecipeLayer, 'treated'> & { readonly sha256: string };

/** A name for what is shown, the same for the same file treated alike. */
export const shownName = ({ sha256, treated }: ShownSource): string =>
  treated ? treatedName(sha256, treated) : sha256;

/** What a layer's picture is drawn from: the treated picture wherever there are treatments, else the file. */
export function readShown(shown: ShownSource, path: string): Promise<{ pixels: Pixels } | { svg: Buffer }> {
  const { sha256, treated } = shown;
  return readSource(
    shownName(shown),
    treated ? async () => ({ pixels: await treatedPixels(sha256, path, treated) }) : () => readFileSource(path),
  );
}

/** The file that shows it: the one that came, or a PNG of the treated picture. */
export const shownFile = ({ sha256, treated }: ShownSource, path: string): Promise<string> =>
  treated ? treatedFile(sha256, path, treated) : Promise.resolve(path);
