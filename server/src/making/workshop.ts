import { assetIdsOf, ownValue, type Requirement, type CertificateRow } from '@kettle/core';
import type { Caller } from '../caller.js';
import { drawnFile, type AssetsById } from '../render/derive.js';
import { ProblemError } from '../safety/problem-error.js';
import type { BlankService } from '../services/blanks.js';
import type { Deriver } from '../services/recipes.js';
import type { OutputStore } from '../stores/outputs.js';
import type { ProfileService } from '../services/profiles.js';
import type { PictureService } from '../services/pictures.js';
import type { MusicService } from '../services/music.js';
import type { AssetStore } from '../stores/assets.js';
import type { DesignStore } from '../stores/designs.js';
import type { RequirementStore } from '../stores/requirements.js';
import type { StoredDesign } from '../stores/stored-design.js';

/** What the kinds of output work out their orders with. */
export class Workshop {
  constructor(
    private readonly designs: DesignStore,
    private readonly requirements: RequirementStore,
    private readonly pictures: PictureService,
    readonly blanks: BlankService,
    readonly deriver: Deriver,
    readonly profiles: ProfileService,
    private readonly outputs: OutputStore,
    readonly music: MusicService,
    private readonly files: AssetStore,
  ) {}

  /** A design as it is by now. */
  async design(who: Caller, designId: string): Promise<StoredDesign> {
    const found = await this.designs.get(who.owner, designId);
    if (!found) throw new ProblemError(404, 'no-such-design', 'A design that is shown here is gone.');
    return found;
  }

  /** SHA-256 of an artwork file, hex. @throws ProblemError when it is not there */
  async fileOf(who: Caller, assetId: string): Promise<string> {
    const asset = await this.files.get(who.owner, assetId);
    if (!asset) throw new ProblemError(409, 'missing-asset', 'A picture that is used here could not be found.');
    return drawnFile(asset);
  }

  async revision(who: Caller, designId: string, revision: number): Promise<StoredDesign> {
    const found = await this.designs.revision(who.owner, designId, revision);
    if (!found) throw new ProblemError(404, 'no-such-revision', 'This design has no such revision.');
    return found;
  }

  requirementsOf(who: Caller): Promise<Requirement[]> {
    return this.requirements.list(who.owner);
  }

  async requirement(who: Caller, id: string): Promise<Requirement> {
    const requirement = await this.requirements.get(who.owner, id);
    if (!requirement) throw new ProblemError(404, 'no-such-requirement', 'There is no requirement with this id.');
    return requirement;
  }

  /** The certificate of the file that follows a recipe, if it is made. */
  async certificateOf(designId: string, recipe: string): Promise<{ sha256: string; rows: CertificateRow[] } | null> {
    const file = await this.outputs.byRecipe('print-file', designId, recipe);
    return file && { sha256: file.sha256, rows: (file.record as { certificate: CertificateRow[] }).certificate };
  }

  assetsOf(design: StoredDesign): Promise<AssetsById> {
    return this.pictures.of(design);
  }

  /** What is known of a design's pictures without looking at any; see `PictureService.known`. */
  knownAssetsOf(design: StoredDesign): Promise<{ assets: AssetsById; isWhole: boolean }> {
    return this.pictures.known(design);
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
