import { basename, join } from 'node:path';
import { STRIP_BOX, type RevisionRow } from '@kettle/contract';
import { MM_PER_INCH } from '@kettle/core/units';
import { compose, type Affine, IDENTITY, scale } from '@kettle/core/geometry';
import { type Cloth, makeCanvas, type DesignDocument, type Requirement, type Target } from '@kettle/core/model';
import type { Treated } from '@kettle/core/treatments';
import { asVersion, versionFor, versionWord, layoutTarget } from '@kettle/core/document';
import { filesOf, ENGINE_VERSION, miniatureCanvas } from '@kettle/core/recipes';
import { CANNOT_MAKE, garmentOf, type Finding, type Measured } from '@kettle/core/checks';
import type { Caller } from '../floor/basics/caller.js';
import { digestOf, type Digest } from '../render/documents/digest.js';
import type { AssetsById } from '../render/documents/derive.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { PictureService } from '../artwork/pictures.js';
import type { DesignStore } from './design-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { RequirementStore } from '../requirements/requirement-store.js';
import type { AssetService } from '../artwork/assets.js';
import type { TargetChecks } from './target-checks.js';
import { FileCache } from '../floor/files/file-cache.js';
import { recipeHash, type DesignProcessor } from '../documents/design-processor.js';

const noDesign = () => new ProblemError(404, 'no-such-design', 'There is no design with this id.');

/** What it works with. */
export interface DesignDeps {
  readonly designStore: DesignStore;
  readonly requirements: RequirementStore;
  readonly pictures: PictureService;
  readonly assets: AssetService;
  readonly processor: DesignProcessor;
  readonly checks: TargetChecks;
  readonly pools: RenderPools;
  readonly cache: string;
}

export class DesignService {
  private readonly fileCache = new FileCache();

  constructor(private readonly deps: DesignDeps) {}

  list(who: Caller): Promise<StoredDesign[]> {
    return this.deps.designStore.list(who.owner);
  }

  /** Names of the designs that have a requirement as a target. */
  namesWith(who: Caller, requirementId: string): Promise<string[]> {
    return this.deps.designStore.namesWith(who.owner, requirementId);
  }

  async get(who: Caller, id: string): Promise<StoredDesign> {
    const design = await this.deps.designStore.get(who.owner, id);
    if (!design) throw noDesign();
    return design;
  }

  /** The design, if it is still the one that was looked at when something was asked for. */
  async asLookedAt(who: Caller, designId: string, revision: number | undefined): Promise<StoredDesign> {
    const design = await this.get(who, designId);
    const changed = changedMeanwhile(design, revision);
    if (changed) throw new ProblemError(409, 'changed-meanwhile', changed);
    return design;
  }

  everyId(who: Caller): Promise<string[]> {
    return this.deps.designStore.everyId(who.owner);
  }

  /** @param document a checked document, or how one is stored */
  async add(who: Caller, document: DesignDocument | Digest, id?: string): Promise<StoredDesign> {
    const design = await this.deps.designStore.add(who.owner, asDigest(document), id);
    this.judgeAhead(design);
    return design;
  }

  /** What the sheet will ask of a design is found while nobody waits for it. */
  private judgeAhead(design: StoredDesign): void {
    void this.deps.checks.run([design]).catch(() => undefined);
  }

  /** Saves on top of the revision the seller had open; never over somebody else's newer one. */
  async save(who: Caller, id: string, revision: number, document: DesignDocument | Digest): Promise<StoredDesign> {
    const saved = await this.deps.designStore.save(who.owner, id, revision, asDigest(document));
    if (saved) {
      this.judgeAhead(saved);
      return saved;
    }
    const newest = await this.get(who, id);
    throw new ProblemError(
      412,
      'stale-revision',
      `This design was changed elsewhere: revision ${newest.revision} was saved while you had revision ${revision} open. Your changes are still on this page and nothing was overwritten.`,
    );
  }

  async remove(who: Caller, id: string): Promise<void> {
    if (!(await this.deps.designStore.remove(who.owner, id))) throw noDesign();
  }

  async restore(who: Caller, id: string): Promise<StoredDesign> {
    if (!(await this.deps.designStore.restore(who.owner, id))) throw noDesign();
    return this.get(who, id);
  }

  /** Takes several off the sheet at once. @returns those that it took off. @throws ProblemError 404 when none was on it */
  async removeAll(who: Caller, designIds: readonly string[]): Promise<{ designIds: string[] }> {
    const gone = await this.deps.designStore.removeAll(who.owner, designIds);
    if (!gone.length) throw noDesign();
    return { designIds: gone };
  }

  /** Puts several back at once. @throws ProblemError 404 when there is none of them any more */
  async restoreAll(who: Caller, designIds: readonly string[]): Promise<{ designIds: string[] }> {
    const back = await this.deps.designStore.restoreAll(who.owner, designIds);
    if (!back.length) throw noDesign();
    return { designIds: back };
  }

  async revisions(who: Caller, id: string): Promise<RevisionRow[]> {
    await this.get(who, id);
    return this.deps.designStore.revisions(id);
  }

  async revision(who: Caller, id: string, revision: number): Promise<StoredDesign> {
    const found = await this.deps.designStore.revision(who.owner, id, revision);
    if (!found) throw new ProblemError(404, 'no-such-revision', 'This design has no such revision.');
    return found;
  }

  async nameRevision(who: Caller, id: string, revision: number, name: string): Promise<void> {
    await this.revision(who, id, revision);
    await this.deps.designStore.nameRevision(id, revision, name.trim() || null);
  }

  /** Path of a small picture of the print field at a revision. */
  async revisionMiniature(who: Caller, id: string, revision: number, size: number): Promise<string> {
    return this.drawMiniature(await this.revision(who, id, revision), null, Math.min(512, Math.max(48, size)));
  }

  /** @param measured what is known of the print, where that is known */
  async findings(
    who: Caller,
    id: string,
    requirementId: string,
    version?: Cloth,
    measured: Measured | null = null,
  ): Promise<Finding[]> {
    const [design, requirement] = await Promise.all([
      this.get(who, id),
      this.deps.requirements.demand(who.owner, requirementId),
    ]);
    return this.findingsOf(design, requirement, await this.deps.pictures.of(design), version, measured);
  }

  /** @param version the one that is judged; the one of the garment it is looked at on when absent */
  findingsOf(
    design: StoredDesign,
    requirement: Requirement,
    assets: AssetsById,
    version?: Cloth | null,
    measured: Measured | null = null,
  ): Promise<Finding[]> {
    return findingsOf(this.deps.processor, design, requirement, assets, version, measured);
  }

  /** Path of a small picture of a target, or of the whole print field without a requirement. */
  async miniature(who: Caller, id: string, requirementId: string | null, size: number): Promise<string> {
    const design = await this.get(who, id);
    const requirement = requirementId === null ? null : await this.deps.requirements.demand(who.owner, requirementId);
    return this.drawMiniature(design, requirement, Math.min(512, Math.max(48, size)));
  }

  /** Path of the small pictures of all targets in one: a sheet of thousands of them asks for one a row. */
  async strip(who: Caller, id: string): Promise<string> {
    const design = await this.get(who, id);
    const requirements = new Map((await this.deps.requirements.list(who.owner)).map((one) => [one.id, one]));
    const box = { width: STRIP_BOX.width * 2, height: STRIP_BOX.height * 2 };
    const files = await Promise.all(
      design.outline.targets
        .flatMap(({ requirementId }) => requirements.get(requirementId) ?? [])
        .map((requirement) => {
          const { widthPx, heightPx } = layoutTarget(
            design.outline,
            targetOf(design.outline, requirement.id),
            requirement,
          ).canvas;
          const factor = Math.min(box.width / widthPx, box.height / heightPx);
          return this.drawMiniature(
            design,
            requirement,
            Math.max(16, Math.round(Math.max(widthPx, heightPx) * factor)),
          );
        }),
    );
    const out = join(
      this.deps.cache,
      'miniatures',
      `${recipeHash({ strip: files.map((file) => basename(file)) })}.png`,
    );
    return this.fileCache.path(out, (unless) => this.deps.pools.view.run('strip', { files, box, out }, { unless }));
  }

  private async drawMiniature(design: StoredDesign, requirement: Requirement | null, size: number): Promise<string> {
    const document = design.outline;
    const target = requirement && lookedAt(targetOf(document, requirement.id), requirement);
    const layout = requirement && target && layoutTarget(document, target, requirement);
    const { width, height } = document.field;
    const canvas = layout?.canvas ?? makeCanvas((width / MM_PER_INCH) * 300, (height / MM_PER_INCH) * 300, 300);
    const small = miniatureCanvas(canvas, size);
    const grid = { width: small.widthPx, height: small.heightPx };
    const assets = await this.deps.pictures.of(design);
    // The canvas's edges are the grid's, whatever its height was rounded to: art that fills the one fills the other.
    const perMm = scale(small.widthPx / canvas.widthMm, small.heightPx / canvas.heightMm);
    const toGrid = compose(perMm, layout?.toCanvas ?? IDENTITY);
    const { hash, layers } = await this.deps.processor.of(design, 'layers', {
      target: target ?? null,
      toCanvas: toGrid,
      dpi: MM_PER_INCH,
      frame: { x: 0, y: 0, ...grid },
      toGrid: perMm,
      assets,
    });
    const out = join(this.deps.cache, 'miniatures', `${recipeHash({ engine: ENGINE_VERSION, grid, hash })}.png`);
    return this.fileCache.path(out, async (unless) => {
      // A kept rendition of about the drawn size is read instead of a print-sized original.
      const small = async (
        shown: { readonly sha256?: string | null; readonly treated?: Treated },
        px: number,
      ): Promise<{ sha256: string | null; treated: undefined }> => ({
        sha256: shown.sha256 ? await this.deps.assets.rendition(shown.sha256, px, shown.treated) : null,
        treated: undefined,
      });
      const sizeOf = (map: Affine): number => Math.max(Math.hypot(map[0], map[1]), Math.hypot(map[2], map[3]));
      const drawn = await Promise.all(
        layers.map(async (layer) => ({
          ...layer,
          ...(await small(layer, sizeOf(layer.map))),
          ...(layer.keyline
            ? {
                keyline: {
                  ...layer.keyline,
                  around: await Promise.all(
                    layer.keyline.around.map(async (one) =>
                      one.shapes ? one : { ...one, ...(await small(one, Math.max(512, sizeOf(one.map)))) },
                    ),
                  ),
                },
              }
            : {}),
        })),
      );
      const files = Object.fromEntries(filesOf(drawn).map((path) => [path, path]));
      await this.deps.pools.view.run('miniature', { grid, layers: drawn, files, out }, { unless });
    });
  }
}

/** A target in the version of the garment it is looked at on. */
export const lookedAt = (target: Target, requirement: Requirement): Target =>
  asVersion(target, versionFor(target, garmentOf(target, requirement)), requirement);

/** How a document is stored: worked out here when it is small, or given by who read it elsewhere. */
const asDigest = (document: DesignDocument | Digest): Digest =>
  'skeleton' in document ? document : digestOf(document);

/** What is found of one target of a design. @param version as in {@link DesignService.findingsOf} */
export function findingsOf(
  processor: DesignProcessor,
  design: StoredDesign,
  requirement: Requirement,
  assets: AssetsById,
  version?: Cloth | null,
  measured: Measured | null = null,
): Promise<Finding[]> {
  const target = targetOf(design.outline, requirement.id);
  return processor.of(design, 'findings', {
    target: version ? asVersion(target, version, requirement) : lookedAt(target, requirement),
    requirement,
    assets,
    measured,
  });
}

/** Why no file of a target can be made, if so, with the words of its channel. */
export function hindranceOf(
  findings: readonly Finding[],
  { channel, name }: Requirement,
  version: Cloth | null,
): { readonly code: string; readonly sentence: string } | null {
  const found = findings.find(({ code }) => CANNOT_MAKE.includes(code));
  return found
    ? {
        code: found.code,
        sentence: `${channel}, ${name}${version ? ` ${versionWord(version)}` : ''}: ${found.sentence}`,
      }
    : null;
}

/** A target of a design; one that was not chosen yet stands as its requirement has it. */
export const targetOf = (document: DesignDocument, requirementId: string): Target =>
  document.targets.find((target) => target.requirementId === requirementId) ?? { requirementId };

/** Why something that was asked for of a revision is not made, if so. */
export const changedMeanwhile = (design: StoredDesign, revision: number | undefined): string | null =>
  revision === undefined || revision === design.revision
    ? null
    : `“${design.outline.name}” was changed in the meantime: it is at revision ${design.revision} now, ` +
      `and nothing was made of revision ${revision}. Look at it and press again.`;
