import type { Asset, SavedDesign, Sheet, SheetCell, SheetRow } from '@kettle/contract';
import { findTarget, garmentOf, isPrintable, printRecipe, type Requirement, type Target } from '@kettle/core';
import type { AssetStore } from '../stores/assets.js';
import type { DesignStore } from '../stores/designs.js';
import type { PictureStore } from '../stores/pictures.js';
import type { PrintFileStore } from '../stores/print-files.js';
import type { RequirementStore } from '../stores/requirements.js';
import { recipeHash, shaOrMissing } from './recipes.js';

type FileOverview = Awaited<ReturnType<PrintFileStore['overview']>>[number];

/** The job sheet: every design against every target it has, with states worked out from recipes. */
export class SheetService {
  constructor(
    private readonly designs: DesignStore, private readonly requirements: RequirementStore, private readonly assets: AssetStore,
    private readonly printFiles: PrintFileStore, private readonly pictures: PictureStore,
  ) {}

  async sheet(): Promise<Sheet> {
    const [designs, requirements, files, pictures] = await Promise.all([this.designs.list(), this.requirements.list(), this.printFiles.overview(), this.pictures.counts()]);
    const assets = await this.assets.byId(designs.flatMap((design) => design.document.layers.map((layer) => layer.assetId)));
    const byTarget = new Map<string, FileOverview[]>();
    for (const file of files) {
      const key = `${file.designId} ${file.requirementId}`;
      byTarget.set(key, [...(byTarget.get(key) ?? []), file]);
    }
    const rows = designs.map((design): SheetRow => ({
      designId: design.id, name: design.document.name, revision: design.revision, savedAt: design.savedAt, layers: design.document.layers.length, pictures: pictures[design.id] ?? 0,
      cells: design.document.targets.flatMap((target) => {
        const requirement = requirements.find((one) => one.id === target.requirementId);
        return requirement ? [cellOf(design, target, requirement, assets, byTarget.get(`${design.id} ${requirement.id}`) ?? [])] : [];
      }),
    }));
    return { requirements, rows };
  }
}

function cellOf(design: SavedDesign, target: Target, requirement: Requirement, assets: Readonly<Record<string, Asset>>, files: readonly FileOverview[]): SheetCell {
  const findings = findTarget(design.document, target, requirement, assets);
  const recipe = recipeHash(printRecipe(design.document, target, requirement, shaOrMissing(assets)));
  const current = files.find((file) => file.recipe === recipe);
  const state = !isPrintable(findings) ? 'needs-work' : current ? (current.accepted ? 'ready' : 'needs-work') : files.length ? 'out-of-date' : 'not-made';
  const gravest = findings.find((finding) => finding.severity !== 'tells');
  return {
    requirementId: requirement.id, state, garment: garmentOf(target, requirement), printFileId: (current ?? files[0])?.id ?? null, miniature: recipe.slice(0, 16),
    finding: gravest ? gravest.title : current && !current.accepted ? 'The file misses a demand' : null,
  };
}
