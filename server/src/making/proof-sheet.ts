import { proofSheetStepSchema, type ProofSheetStep } from '@kettle/contract';
import type { CertificateRow } from '@kettle/core/requirement';
import { asVersion, versionWord } from '@kettle/core/document';
import { filesOf } from '@kettle/core/recipes';
import { garmentOf } from '@kettle/core/checks';
import { recipeHash } from '../render/documents/derive.js';
import type { ProofSheetFacts, ProofSheetRecipe } from '../render/press/proof-sheet.js';
import { targetOf } from '../designs/designs.js';
import type { DesignReader } from '../designs/design-reader.js';
import { PRINT_FILE } from './print-file.js';
import type { OutputStore } from './output-store.js';
import type { OutputKind } from './output-kind.js';

/** Name and version of proof sheets in the queue and among outputs. */
export const PROOF_SHEET = { kind: 'proof-sheet', engine: 1 } as const;

/** A sheet for a client or a print shop: the design at a stated scale, with its measures and its certificate. */
export const proofSheetKind = (
  reader: DesignReader,
  outputs: OutputStore,
): OutputKind<ProofSheetStep, ProofSheetRecipe, ProofSheetFacts> => ({
  ...PROOF_SHEET,
  lane: 'soon',
  shown: null,
  step: proofSheetStepSchema,

  async order({ designId, revision, requirementId, version, filename }, who) {
    const [design, requirement] = await Promise.all([
      reader.revision(who, designId, revision),
      reader.requirement(who, requirementId),
    ]);
    const assets = await reader.allAssetsOf(design);
    const target = asVersion(targetOf(design.outline, requirementId), version ?? null, requirement);
    const { hash, recipe } = await reader.processor.of(design, 'print', { target, requirement, assets });
    // As it is seen on the cloth, whether the file is made mirrored or not.
    const { layers } = requirement.mirrored
      ? (
          await reader.processor.of(design, 'print', {
            target,
            requirement: { ...requirement, mirrored: false },
            assets,
          })
        ).recipe
      : recipe;
    const sheet: ProofSheetRecipe = {
      kind: 'proof-sheet',
      engine: PROOF_SHEET.engine,
      design: design.outline.name,
      channel: requirement.channel,
      requirement: requirement.name,
      version: version ? versionWord(version) : '',
      garment: garmentOf(target, requirement),
      colourways: requirement.colourways,
      widthPx: recipe.widthPx,
      heightPx: recipe.heightPx,
      dpi: recipe.dpi,
      safeMm: requirement.safeInsetMm,
      layers,
      certificate: await certificateOf(outputs, designId, hash),
    };
    return {
      recipe: sheet,
      hash: recipeHash(sheet),
      designId,
      revision,
      about: requirementId,
      filename,
      mediaType: 'application/pdf',
      sources: filesOf(layers),
    };
  },

  certify: ({ recipe }, { pages, text }) => ({
    accepted: pages === 1 && text.includes(recipe.dpi.toString()),
    record: { pages },
  }),
});

/** The certificate of the file that follows a recipe, if it is made. */
async function certificateOf(
  outputs: OutputStore,
  designId: string,
  recipe: string,
): Promise<ProofSheetRecipe['certificate']> {
  const file = await outputs.byRecipe(PRINT_FILE.kind, designId, recipe);
  return file && { sha256: file.sha256, rows: (file.record as { certificate: CertificateRow[] }).certificate };
}
