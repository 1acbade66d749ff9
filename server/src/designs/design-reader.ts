import { ownValue } from '@kettle/core/units';
import type { Requirement } from '@kettle/core/model';
import { assetIdsOf } from '@kettle/core/layers';
import type { Caller } from '../floor/basics/caller.js';
import { drawnFile, type AssetsById } from '../render/documents/derive.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { DesignProcessor } from '../documents/design-processor.js';
import type { PictureService } from '../artwork/pictures.js';
import type { AssetStore } from '../artwork/asset-store.js';
import type { DesignStore } from './design-store.js';
import type { RequirementStore } from '../requirements/requirement-store.js';
import type { StoredDesign } from '../documents/stored-design.js';

/** What it works with. */
export interface DesignReaderDeps {
  readonly designStore: DesignStore;
  readonly requirements: RequirementStore;
  readonly pictures: PictureService;
  readonly assetStore: AssetStore;
  readonly processor: DesignProcessor;
}

/** Reads what outputs are worked out from: a design at a revision, its requirements, and what is known of its pictures. */
export class DesignReader {
  constructor(private readonly deps: DesignReaderDeps) {}

  get processor(): DesignProcessor {
    return this.deps.processor;
  }

  /** A design as it is by now. */
  async design(who: Caller, designId: string): Promise<StoredDesign> {
    const found = await this.deps.designStore.get(who.owner, designId);
    if (!found) throw new ProblemError(404, 'no-such-design', 'A design that is shown here is gone.');
    return found;
  }

  /** SHA-256 of an artwork file, hex. @throws ProblemError when it is not there */
  async fileOf(who: Caller, assetId: string): Promise<string> {
    const asset = await this.deps.assetStore.get(who.owner, assetId);
    if (!asset) throw new ProblemError(409, 'missing-asset', 'A picture that is used here could not be found.');
    return drawnFile(asset);
  }

  async revision(who: Caller, designId: string, revision: number): Promise<StoredDesign> {
    const found = await this.deps.designStore.revision(who.owner, designId, revision);
    if (!found) throw new ProblemError(404, 'no-such-revision', 'This design has no such revision.');
    return found;
  }

  requirementsOf(who: Caller): Promise<Requirement[]> {
    return this.deps.requirements.list(who.owner);
  }

  requirement(who: Caller, id: string): Promise<Requirement> {
    return this.deps.requirements.demand(who.owner, id);
  }

  assetsOf(design: StoredDesign): Promise<AssetsById> {
    return this.deps.pictures.of(design);
  }

  /** What is known of a design's pictures without looking at any; see `PictureService.known`. */
  knownAssetsOf(design: StoredDesign): Promise<{ assets: AssetsById; isWhole: boolean }> {
    return this.deps.pictures.known(design);
  }

  /** @throws ProblemError when a picture of the design is not there */
  async allAssetsOf(design: StoredDesign): Promise<AssetsById> {
    return demandAll(design, await this.assetsOf(design));
  }

  /** The same, without looking at any: what is asked for is answered at once. */
  async demandAssetsOf(design: StoredDesign): Promise<void> {
    demandAll(design, (await this.knownAssetsOf(design)).assets);
  }
}

function demandAll(design: StoredDesign, assets: AssetsById): AssetsById {
  if (assetIdsOf(design.outline.layers).some((id) => !ownValue(assets, id)))
    throw new ProblemError(409, 'missing-asset', 'A picture of this design could not be found. Put it in again.');
  return assets;
}
