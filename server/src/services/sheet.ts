import type { Sheet, SheetCell, SheetRow } from '@kettle/contract';
import { assetIdsOf, garmentOf, targetState, type DesignDocument, type Requirement, type Target } from '@kettle/core';
import { isDatabaseAway } from '../database/database.js';
import type { Log } from '../log.js';
import type { AssetsById, Judgement } from '../render/derive.js';
import { StoppedError } from '../render/render-pool.js';
import type { AssetStore } from '../stores/assets.js';
import type { DesignStore } from '../stores/designs.js';
import type { PictureStore } from '../stores/pictures.js';
import type { PrintFileStore } from '../stores/print-files.js';
import type { RequirementStore } from '../stores/requirements.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { Judge } from './judge.js';

type FileOverview = Awaited<ReturnType<PrintFileStore['overview']>>[number];

/** The job sheet: every design against every target it has, with states worked out from recipes. */
export class SheetService {
  constructor(
    private readonly designs: DesignStore, private readonly requirements: RequirementStore, private readonly assets: AssetStore,
    private readonly printFiles: PrintFileStore, private readonly pictures: PictureStore, private readonly judge: Judge, private readonly log: Log,
  ) {}

  /** Rows `from` to `from + count` of the sheet. */
  async sheet(from = 0, count = 1_000_000): Promise<Sheet> {
    const [designs, total, requirements, files, pictures] = await Promise.all([this.designs.page(from, count), this.designs.count(), this.requirements.list(), this.printFiles.overview(), this.pictures.counts()]);
    const ids: string[] = [];
    for (const design of designs) {
      // Large documents take a moment each to be read: others are answered in between.
      if (design.isLarge) await new Promise((resolve) => setImmediate(resolve));
      ids.push(...idsOf(design));
    }
    const assets = await this.assets.byId(ids);
    const byTarget = new Map<string, FileOverview[]>();
    for (const file of files) {
      const key = `${file.designId} ${file.requirementId}`;
      const known = byTarget.get(key);
      if (known) known.push(file); else byTarget.set(key, [file]);
    }
    const byId = new Map(requirements.map((one) => [one.id, one]));
    const rows: SheetRow[] = [];
    for (const design of designs) {
      rows.push(await this.rowOf(design, byId, assets, (requirementId) => byTarget.get(`${design.id} ${requirementId}`) ?? [], pictures[design.id] ?? 0));
    }
    return { requirements, total, rows };
  }

  private async rowOf(design: StoredDesign, requirements: ReadonlyMap<string, Requirement>, assets: AssetsById, filesOf: (requirementId: string) => readonly FileOverview[], pictures: number): Promise<SheetRow> {
    const { id: designId, revision, savedAt } = design;
    try {
      const { name, layers, targets, template } = design.document;
      const known = targets.flatMap((target) => { const requirement = requirements.get(target.requirementId); return requirement ? [{ target, requirement }] : []; });
      const judgements = await this.judge.judge(design, known, assets);
      return {
        designId, name, revision, savedAt, layers: layers.length, template: template === true, pictures,
        cells: known.map(({ target, requirement }, i) => cellOf(requirement, garmentOf(target, requirement), layers.length > 0, judgements[i], filesOf(requirement.id))),
      };
    } catch (error) {
      if (isDatabaseAway(error) || error instanceof StoppedError) throw error;
      // One design that cannot be judged says so in its own row; the others are none the worse.
      this.log.error({ err: error, design: designId, revision }, 'a design cannot be judged');
      const targets = (design.document as Partial<DesignDocument>).targets;
      const cells = (Array.isArray(targets) ? targets : []).flatMap((target: Partial<Target> | null) => {
        const requirement = requirements.get(target?.requirementId ?? '');
        return requirement ? [cellOf(requirement, requirement.colourways[0]?.hex ?? '#ffffff', true, { recipe: `unjudged ${revision}`, printable: false, gravest: 'Cannot be judged' }, [])] : [];
      });
      return { designId, name: String(design.document.name ?? 'Damaged design'), revision, savedAt, layers: 0, template: false, pictures, cells };
    }
  }
}

/** Pictures of a design; none when its document is not as documents are. */
function idsOf(design: StoredDesign): string[] {
  try { return assetIdsOf(design.document.layers); } catch { return []; }
}

function cellOf(requirement: Requirement, garment: string, begun: boolean, { recipe, printable, gravest }: Judgement, files: readonly FileOverview[]): SheetCell {
  const current = files.find((file) => file.recipe === recipe);
  return {
    requirementId: requirement.id, state: targetState({ begun, printable, current, anyFile: files.length > 0 }), garment, printFileId: (current ?? files[0])?.id ?? null, miniature: recipe.slice(0, 16),
    finding: gravest ?? (current && !current.accepted ? 'The file misses a demand' : null),
  };
}
