import type { Log } from '../log.js';
import type { Asset, SavedDesign, Sheet, SheetCell, SheetRow } from '@kettle/contract';
import { assetIdsOf, findTarget, garmentOf, isPrintable, printRecipe, type Requirement, type Target, targetState } from '@kettle/core';
import type { AssetStore } from '../stores/assets.js';
import type { DesignStore } from '../stores/designs.js';
import type { PictureStore } from '../stores/pictures.js';
import type { PrintFileStore } from '../stores/print-files.js';
import type { RequirementStore } from '../stores/requirements.js';
import { recipeHash, shaOrMissing } from './recipes.js';

type FileOverview = Awaited<ReturnType<PrintFileStore['overview']>>[number];

interface Judgement { readonly recipe: string; readonly printable: boolean; readonly gravest: string | null }

const MOST_JUDGED = 100_000;

/** The job sheet: every design against every target it has, with states worked out from recipes. */
export class SheetService {
  private readonly judged = new Map<string, Judgement>();

  constructor(
    private readonly designs: DesignStore, private readonly requirements: RequirementStore, private readonly assets: AssetStore,
    private readonly printFiles: PrintFileStore, private readonly pictures: PictureStore, private readonly log: Log,
  ) {}

  /** Rows `from` to `from + count` of the sheet. */
  async sheet(from = 0, count = 1_000_000): Promise<Sheet> {
    const [designs, total, requirements, files, pictures] = await Promise.all([this.designs.page(from, count), this.designs.count(), this.requirements.list(), this.printFiles.overview(), this.pictures.counts()]);
    const assets = await this.assets.byId(designs.flatMap((design) => assetIdsOf(design.document.layers)));
    const byTarget = new Map<string, FileOverview[]>();
    for (const file of files) {
      const key = `${file.designId} ${file.requirementId}`;
      const known = byTarget.get(key);
      if (known) known.push(file); else byTarget.set(key, [file]);
    }
    const byId = new Map(requirements.map((one) => [one.id, one]));
    const rows = designs.map((design): SheetRow => ({
      designId: design.id, name: design.document.name, revision: design.revision, savedAt: design.savedAt, layers: design.document.layers.length, template: design.document.template === true, pictures: pictures[design.id] ?? 0,
      cells: design.document.targets.flatMap((target) => {
        const requirement = byId.get(target.requirementId);
        return requirement ? [this.cellOf(design, target, requirement, assets, byTarget.get(`${design.id} ${requirement.id}`) ?? [])] : [];
      }),
    }));
    return { requirements, total, rows };
  }

  private cellOf(design: SavedDesign, target: Target, requirement: Requirement, assets: Readonly<Record<string, Asset>>, files: readonly FileOverview[]): SheetCell {
    const { recipe, printable, gravest } = this.judgedOrTold(design, target, requirement, assets);
    const current = files.find((file) => file.recipe === recipe);
    return {
      requirementId: requirement.id, state: targetState(printable, current, files.length > 0), garment: garmentOf(target, requirement), printFileId: (current ?? files[0])?.id ?? null, miniature: recipe.slice(0, 16),
      finding: gravest ?? (current && !current.accepted ? 'The file misses a demand' : null),
    };
  }

  /** One design that cannot be judged says so in its own row; the others are none the worse. */
  private judgedOrTold(design: SavedDesign, target: Target, requirement: Requirement, assets: Readonly<Record<string, Asset>>): Judgement {
    try {
      return this.judge(design, target, requirement, assets);
    } catch (error) {
      this.log.error({ err: error, design: design.id, revision: design.revision }, 'a design cannot be judged');
      return { recipe: `unjudged-${design.revision}`, printable: false, gravest: 'Cannot be judged' };
    }
  }

  /** A revision never changes, so what was found of it once holds. */
  private judge(design: SavedDesign, target: Target, requirement: Requirement, assets: Readonly<Record<string, Asset>>): Judgement {
    const key = `${design.id} ${design.revision} ${requirement.id} ${requirement.revision}`;
    const known = this.judged.get(key);
    if (known) return known;
    const findings = findTarget(design.document, target, requirement, assets);
    const judgement = {
      recipe: recipeHash(printRecipe(design.document, target, requirement, shaOrMissing(assets))), printable: isPrintable(findings),
      gravest: findings.find((finding) => finding.severity !== 'tells')?.title ?? null,
    };
    if (this.judged.size >= MOST_JUDGED) this.judged.clear();
    this.judged.set(key, judgement);
    return judgement;
  }
}
