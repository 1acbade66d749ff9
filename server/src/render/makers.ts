import type { Blank } from '@kettle/core/model';
import { repeatedLayers, type PrintRecipe } from '@kettle/core/recipes';
import type { PictureRecipe } from '@kettle/core/mockup';
import type { ClipMore, ClipRecipe } from './clip/clip-recipe.js';
import type { MakeJob, Maker } from './make-job.js';
import type { ProofSheetRecipe } from './press/proof-sheet.js';

/**
 * Who makes each kind of output, in a process that never sees the database. Each loads what it needs when it is first
 * asked for.
 */
export const MAKERS: Readonly<Record<string, Maker<never>>> = {
  'print-file': async ({ recipe, sources, files, out, progress }: MakeJob<PrintRecipe>) => {
    const { makePrintFile } = await import('./print/print-file.js');
    const drawn = { ...recipe, layers: repeatedLayers(recipe.layers) };
    return (await makePrintFile(drawn, { ...files, ...sources }, out, progress)).facts;
  },
  picture: async ({ recipe, sources, files, more, out, progress }: MakeJob<PictureRecipe>) => {
    const { makePicture } = await import('./mockup/picture.js');
    return makePicture(recipe, (more as { blank: Blank }).blank, files, sources, out, progress);
  },
  'proof-sheet': async ({ recipe, sources, out }: MakeJob<ProofSheetRecipe>) => {
    const { makeProofSheet } = await import('./press/proof-sheet.js');
    return makeProofSheet(recipe, sources, out);
  },
  clip: async ({ recipe, sources, files, more, out, progress }: MakeJob<ClipRecipe>) => {
    const { makeClip } = await import('./clip/make-clip.js');
    return makeClip(recipe, more as ClipMore, files, sources, out, progress);
  },
};
