import { join } from 'node:path';
import type { RevisionRow, SavedDesign } from '@kettle/contract';
import {
  assetIdsOf, ENGINE_VERSION, findTarget, layoutTarget, makeCanvas, MM_PER_INCH, IDENTITY, miniatureCanvas, recipeLayers, seenBy, type DesignDocument, type Finding, type Requirement, type Target,
} from '@kettle/core';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import type { AssetStore } from '../stores/assets.js';
import type { DesignStore } from '../stores/designs.js';
import type { RequirementStore } from '../stores/requirements.js';
import type { AssetService } from './assets.js';
import { KeptFiles } from './kept-files.js';
import { recipeHash, shaOrMissing } from './recipes.js';

const noDesign = () => new ProblemError(404, 'no-such-design', 'There is no design with this id.');

export class DesignService {
  private readonly keptFiles = new KeptFiles();

  constructor(
    private readonly designs: DesignStore, private readonly requirements: RequirementStore, private readonly assets: AssetStore,
    private readonly assetService: AssetService, private readonly pool: RenderPool, private readonly cache: string,
  ) {}

  list(): Promise<SavedDesign[]> { return this.designs.list(); }

  async get(id: string): Promise<SavedDesign> {
    const design = await this.designs.get(id);
    if (!design) throw noDesign();
    return design;
  }

  everyId(): Promise<string[]> { return this.designs.everyId(); }

  add(document: DesignDocument, id?: string): Promise<SavedDesign> { return this.designs.add(document, id); }

  /** Saves on top of the revision the seller had open; never over somebody else's newer one. */
  async save(id: string, revision: number, document: DesignDocument): Promise<SavedDesign> {
    const saved = await this.designs.save(id, revision, document);
    if (saved) return saved;
    const newest = await this.get(id);
    throw new ProblemError(412, 'stale-revision', `This design was changed elsewhere: revision ${newest.revision} was saved while you had revision ${revision} open. Your changes are still on this page and nothing was overwritten.`);
  }

  async remove(id: string): Promise<void> { if (!await this.designs.remove(id)) throw noDesign(); }

  async restore(id: string): Promise<SavedDesign> {
    if (!await this.designs.restore(id)) throw noDesign();
    return this.get(id);
  }

  async revisions(id: string): Promise<RevisionRow[]> { await this.get(id); return this.designs.revisions(id); }

  async revision(id: string, revision: number): Promise<SavedDesign> {
    const found = await this.designs.revision(id, revision);
    if (!found) throw new ProblemError(404, 'no-such-revision', 'This design has no such revision.');
    return found;
  }

  async nameRevision(id: string, revision: number, name: string): Promise<void> {
    await this.revision(id, revision);
    await this.designs.nameRevision(id, revision, name.trim() || null);
  }

  /** Path of a small picture of the print field at a revision. */
  async revisionMiniature(id: string, revision: number, size: number): Promise<string> {
    return this.drawMiniature((await this.revision(id, revision)).document, null, Math.min(512, Math.max(48, size)));
  }

  async requirement(id: string): Promise<Requirement> {
    const requirement = await this.requirements.get(id);
    if (!requirement) throw new ProblemError(404, 'no-such-requirement', 'There is no requirement with this id.');
    return requirement;
  }

  async findings(id: string, requirementId: string): Promise<Finding[]> {
    const [{ document }, requirement] = await Promise.all([this.get(id), this.requirement(requirementId)]);
    return findTarget(document, targetOf(document, requirementId), requirement, await this.assets.byId(assetIdsOf(document.layers)));
  }

  /** Path of a small picture of a target, or of the whole print field without a requirement. */
  async miniature(id: string, requirementId: string | null, size: number): Promise<string> {
    const { document } = await this.get(id);
    const requirement = requirementId === null ? null : await this.requirement(requirementId);
    return this.drawMiniature(document, requirement, Math.min(512, Math.max(48, size)));
  }

  private async drawMiniature(document: DesignDocument, requirement: Requirement | null, size: number): Promise<string> {
    const target = requirement && targetOf(document, requirement.id);
    const layout = requirement && target && layoutTarget(document, target, requirement);
    const { width, height } = document.field;
    const canvas = layout?.canvas ?? makeCanvas((width / MM_PER_INCH) * 300, (height / MM_PER_INCH) * 300, 300);
    const small = miniatureCanvas(canvas, size);
    const assets = await this.assets.byId(assetIdsOf(document.layers));
    const layers = recipeLayers(seenBy(document, target ?? undefined), layout?.toCanvas ?? IDENTITY, small.dpi, shaOrMissing(assets)).filter((layer) => !layer.sha256?.startsWith('missing'));
    const grid = { width: small.widthPx, height: small.heightPx };
    const out = join(this.cache, 'miniatures', `${recipeHash({ engine: ENGINE_VERSION, grid, layers })}.png`);
    return this.keptFiles.path(out, async () => {
      // A kept rendition of about the drawn size is read instead of a print-sized original.
      const drawn = await Promise.all(layers.map(async (layer) => ({ ...layer, sha256: layer.sha256 && await this.assetService.rendition(layer.sha256, Math.max(Math.hypot(layer.map[0], layer.map[1]), Math.hypot(layer.map[2], layer.map[3]))) })));
      await this.pool.run('miniature', { grid, layers: drawn, files: Object.fromEntries(drawn.flatMap(({ sha256 }) => (sha256 ? [[sha256, sha256]] : []))), out });
    });
  }
}

/** A target of a design; one that was not chosen yet stands as its requirement has it. */
export const targetOf = (document: DesignDocument, requirementId: string): Target => document.targets.find((target) => target.requirementId === requirementId) ?? { requirementId };
