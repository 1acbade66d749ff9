import { printFileStepSchema, type PrintFileStep } from '@kettle/contract';
import {
  asVersion,
  certify,
  ENGINE_VERSION,
  fileKind,
  filesOf,
  repeatedLayers,
  targetKey,
  type FileFacts,
  type PrintRecipe,
  type Requirement,
} from '@kettle/core';
import { findingsOf, hindranceOf, targetOf } from '../services/designs.js';
import { ProblemError } from '../safety/problem-error.js';
import type { OutputKind } from './output-kind.js';

/** The file a channel prints from. */
export const PRINT_FILE: OutputKind<PrintFileStep, PrintRecipe, FileFacts> = {
  kind: 'print-file',
  engine: ENGINE_VERSION,
  lane: 'export',
  shown: 'target',
  step: printFileStepSchema,

  async order({ designId, revision, requirementId, version, filename, unjudged }, who, workshop) {
    // One after the other, so that of two things that are gone it is always the same that is told.
    const design = await workshop.revision(who, designId, revision);
    const requirement = await workshop.requirement(who, requirementId);
    const assets = await workshop.allAssetsOf(design);
    if (unjudged) {
      const findings = await findingsOf(workshop.deriver, design, requirement, assets, version);
      const hindrance = hindranceOf(findings, requirement, version ?? null);
      if (hindrance) throw new ProblemError(409, hindrance.code, hindrance.sentence);
    }
    const { hash, recipe } = await workshop.deriver.of(design, 'print', {
      target: asVersion(targetOf(design.outline, requirementId), version ?? null, requirement),
      requirement,
      assets,
    });
    return {
      recipe,
      hash,
      designId,
      revision,
      about: targetKey(requirementId, version ?? null),
      filename: filename.replace(/\.[^.]+$/, `.${fileKind(recipe.type ?? 'png').extension}`),
      mediaType: fileKind(recipe.type ?? 'png').mediaType,
      files: await workshop.profiles.filesOf(who, recipe.conversion),
      more: requirement,
      sources: filesOf(recipe.layers),
    };
  },

  async make({ recipe, sources, files, out, progress }) {
    const { makePrintFile } = await import('../render/print/print-file.js');
    const drawn = { ...recipe, layers: repeatedLayers(recipe.layers) };
    return (await makePrintFile(drawn, { ...files, ...sources }, out, progress)).facts;
  },

  certify({ more }, facts) {
    const certificate = certify(facts, more as Requirement);
    return { accepted: certificate.every((row) => row.ok), record: { certificate } };
  },
};
