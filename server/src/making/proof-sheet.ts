import { proofSheetStepSchema, type ProofSheetStep } from '@kettle/contract';
import {
  asVersion,
  filesOf,
  garmentOf,
  versionWord,
  type CertificateRow,
  type Colourway,
  type RecipeLayer,
} from '@kettle/core';
import { recipeHash } from '../render/derive.js';
import { targetOf } from '../services/designs.js';
import type { OutputKind } from './output-kind.js';

/** Everything that a proof sheet shows. */
export interface ProofSheetRecipe {
  readonly kind: 'proof-sheet';
  readonly engine: number;
  readonly design: string;
  readonly channel: string;
  readonly requirement: string;
  /** In words; empty where the target has no versions. */
  readonly version: string;
  readonly garment: string;
  readonly colourways: readonly Colourway[];
  readonly widthPx: number;
  readonly heightPx: number;
  readonly dpi: number;
  /** Distance of the safe line from the edges, mm. */
  readonly safeMm: number;
  readonly layers: readonly RecipeLayer[];
  /** Of the print file that is made of it, if it is made. */
  readonly certificate: { readonly sha256: string; readonly rows: readonly CertificateRow[] } | null;
}

/** What a reader found in a finished sheet. */
export interface ProofSheetFacts {
  readonly pages: number;
  readonly text: string;
}

/** A sheet for a client or a print shop: the design at a stated scale, with its measures and its certificate. */
export const PROOF_SHEET: OutputKind<ProofSheetStep, ProofSheetRecipe, ProofSheetFacts> = {
  kind: 'proof-sheet',
  engine: 1,
  lane: 'soon',
  shown: null,
  step: proofSheetStepSchema,

  async order({ designId, revision, requirementId, version, filename }, who, workshop) {
    const [design, requirement] = await Promise.all([
      workshop.revision(who, designId, revision),
      workshop.requirement(who, requirementId),
    ]);
    const assets = await workshop.allAssetsOf(design);
    const target = asVersion(targetOf(design.outline, requirementId), version ?? null, requirement);
    const { hash, recipe } = await workshop.deriver.of(design, 'print', { target, requirement, assets });
    // As it is seen on the cloth, whether the file is made mirrored or not.
    const { layers } = requirement.mirrored
      ? (
          await workshop.deriver.of(design, 'print', {
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
      certificate: await workshop.certificateOf(designId, hash),
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

  async make({ recipe, sources, out }) {
    const { makeProofSheet } = await import('../render/press/proof-sheet.js');
    return makeProofSheet(recipe, sources, out);
  },

  certify: ({ recipe }, { pages, text }) => ({
    accepted: pages === 1 && text.includes(recipe.dpi.toString()),
    record: { pages },
  }),
};
