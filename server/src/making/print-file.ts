import { printFileStepSchema, type PrintFileStep } from '@kettle/contract';
import type { Requirement } from '@kettle/core/model';
import { certify, fileKind, type FileFacts } from '@kettle/core/requirement';
import { asVersion, targetKey } from '@kettle/core/document';
import { ENGINE_VERSION, filesOf, type PrintRecipe } from '@kettle/core/recipes';
import { findingsOf, hindranceOf, targetOf } from '../designs/designs.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { DesignReader } from '../designs/design-reader.js';
import type { ProfileService } from '../requirements/profiles.js';
import type { OutputKind } from './output-kind.js';

/** Name and version of print files in the queue and among outputs. */
export const PRINT_FILE = { kind: 'print-file', engine: ENGINE_VERSION } as const;

/** The file a channel prints from. */
export const printFileKind = (
  reader: DesignReader,
  profiles: ProfileService,
): OutputKind<PrintFileStep, PrintRecipe, FileFacts> => ({
  ...PRINT_FILE,
  lane: 'export',
  shown: 'target',
  step: printFileStepSchema,

  async order({ designId, revision, requirementId, version, filename, unjudged }, who) {
    // One after the other, so that of two things that are gone it is always the same that is told.
    const design = await reader.revision(who, designId, revision);
    const requirement = await reader.requirement(who, requirementId);
    const assets = await reader.allAssetsOf(design);
    if (unjudged) {
      const findings = await findingsOf(reader.processor, design, requirement, assets, version);
      const hindrance = hindranceOf(findings, requirement, version ?? null);
      if (hindrance) throw new ProblemError(409, hindrance.code, hindrance.sentence);
    }
    const { hash, recipe } = await reader.processor.of(design, 'print', {
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
      files: await profiles.filesOf(who, recipe.conversion),
      more: requirement,
      sources: filesOf(recipe.layers),
    };
  },

  certify({ more }, facts) {
    const certificate = certify(facts, more as Requirement);
    return { accepted: certificate.every((row) => row.ok), record: { certificate } };
  },
});
