import type { Job, Picture, PicturesRequest, PrintFile } from '@kettle/contract';
import {
  areaOf, assetIdsOf, CANNOT_MAKE, defaultScene, fileNameOf, printFileName, requirementForBlank, textureGrid,
  type Blank, type PictureRecipe, type PrintRecipe, type Requirement,
} from '@kettle/core';
import type { AssetsById } from '../render/derive.js';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import type { AssetStore } from '../stores/assets.js';
import type { JobStore } from '../stores/jobs.js';
import type { PictureRequest, PictureStore, StoredPicture } from '../stores/pictures.js';
import type { PrintFileStore, StoredPrintFile } from '../stores/print-files.js';
import type { RequirementStore } from '../stores/requirements.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { BlankService } from './blanks.js';
import { targetOf, type DesignService } from './designs.js';
import type { Judge } from './judge.js';
import { shaOf, type Deriver } from './recipes.js';

/** One print file that is to be made, by name: a step in the queue holds nothing else. */
export interface PrintFileStep { readonly designId: string; readonly revision: number; readonly requirementId: string; readonly filename: string }

/** One listing picture that is to be made. */
export interface PictureStep { readonly designId: string; readonly revision: number; readonly request: PictureRequest; readonly filename: string }

/** Most steps that may wait in the queue, and most that one run may add. */
const MOST_WAITING = 5000;

/** Print files and pictures: asked for, listed, and compared with the design as it stands now. */
export class OutputService {
  constructor(
    private readonly designs: DesignService, private readonly requirements: RequirementStore, private readonly assets: AssetStore, private readonly blanks: BlankService,
    private readonly jobs: JobStore, private readonly printFiles: PrintFileStore, private readonly pictures: PictureStore, private readonly judge: Judge, private readonly deriver: Deriver, private readonly pool: RenderPool,
  ) {}

  async askForPrintFiles(designId: string, requirementIds: readonly string[], revision?: number): Promise<Job> {
    const design = await this.asLookedAt(designId, revision);
    const assets = await this.assetsOf(design);
    const steps = await Promise.all([...new Set(requirementIds)].map(async (requirementId) => {
      const requirement = await this.designs.requirement(requirementId);
      const hindrance = (await this.designs.findingsOf(design, requirement, assets)).find((finding) => CANNOT_MAKE.includes(finding.code));
      if (hindrance) throw new ProblemError(409, hindrance.code, `${requirement.channel}, ${requirement.name}: ${hindrance.sentence}`);
      const payload: PrintFileStep = { designId, revision: design.revision, requirementId, filename: `${printFileName(design.document.name, requirement)}.png` };
      return { kind: 'print-file', payload };
    }));
    return this.queue('print-files', design, steps);
  }

  private async queue(kind: Job['kind'], design: StoredDesign, steps: readonly { kind: string; payload: object }[]): Promise<Job> {
    const waiting = (await this.jobs.counts()).find((one) => one.state === 'queued')?.count ?? 0;
    if (waiting + steps.length > MOST_WAITING) throw new ProblemError(429, 'queue-full', `${waiting} files are waiting to be made already. Wait until some are done, or cancel a run that is not needed.`);
    return this.jobs.addBatch(kind, design, steps);
  }

  /** Recipe of a print file in the queue, from the revision that was asked for and the requirement as it is now. @throws ProblemError when either is gone */
  async printFileOrder({ designId, revision, requirementId }: PrintFileStep): Promise<{ requirement: Requirement; hash: string; recipe: PrintRecipe }> {
    const [design, requirement] = await Promise.all([this.designs.revision(designId, revision), this.designs.requirement(requirementId)]);
    return { requirement, ...await this.deriver.of(design, 'print', { target: targetOf(design.document, requirementId), requirement, assets: await this.allAssetsOf(design) }) };
  }

  /** Recipe of a picture in the queue. @throws ProblemError when something it is made of is gone */
  async pictureOrder({ designId, revision, request, blank }: PictureStep & { blank: Blank }): Promise<{ hash: string; recipe: PictureRecipe }> {
    const design = await this.designs.revision(designId, revision);
    return this.recipeOfPicture(design, blank, request, await this.requirements.list(), await this.allAssetsOf(design));
  }

  /** The design, if it is still the one that was looked at when something was asked for. */
  private async asLookedAt(designId: string, revision: number | undefined): Promise<StoredDesign> {
    const design = await this.designs.get(designId);
    if (revision !== undefined && revision !== design.revision) {
      throw new ProblemError(409, 'changed-meanwhile', `“${design.document.name}” was changed in the meantime: it is at revision ${design.revision} now, and nothing was made of revision ${revision}. Look at it and press again.`);
    }
    return design;
  }

  async askForPictures(designId: string, asked: PicturesRequest): Promise<Job> {
    const design = await this.asLookedAt(designId, asked.revision);
    const blank = this.blanks.get(asked.blankId);
    if (asked.areaId && !blank.areas.some((area) => area.id === asked.areaId)) throw new ProblemError(422, 'no-such-area', `${blank.name} has no print area “${asked.areaId}”.`);
    const { colourways, revision: _looked, ...rest } = asked;
    await this.allAssetsOf(design);
    const steps = colourways.map((colourway) => {
      const payload: PictureStep = {
        designId, revision: design.revision, request: { ...rest, colourway },
        filename: `${fileNameOf(`${design.document.name} ${blank.name} ${colourway.name} ${asked.size}`)}.${asked.format === 'jpeg' ? 'jpg' : 'png'}`,
      };
      return { kind: 'picture', payload };
    });
    return this.queue('pictures', design, steps);
  }

  async job(id: string): Promise<Job> {
    const job = await this.jobs.get(id);
    if (!job) throw new ProblemError(404, 'no-such-job', 'There is no job with this id.');
    return job;
  }

  async cancel(id: string): Promise<Job> {
    await this.job(id);
    await this.jobs.cancel(id);
    return this.job(id);
  }

  async printFile(id: string): Promise<PrintFile & { recipe: string }> {
    const file = await this.printFiles.get(id);
    if (!file) throw new ProblemError(404, 'no-such-print-file', 'There is no print file with this id.');
    return (await this.judged(file.designId, [file]))[0];
  }

  async printFilesOf(designId: string): Promise<PrintFile[]> {
    return this.judged(designId, await this.printFiles.ofDesign(designId));
  }

  /** A file is out of date when making it now would follow another recipe. */
  private async judged(designId: string, files: readonly StoredPrintFile[]): Promise<(PrintFile & { recipe: string })[]> {
    const design = await this.designs.get(designId);
    const assets = await this.assetsOf(design);
    const asked = new Set(files.map((file) => file.requirementId));
    const targets = (await this.requirements.list()).filter((one) => asked.has(one.id)).map((requirement) => ({ target: targetOf(design.document, requirement.id), requirement }));
    const judgements = await this.judge.judge(design, targets, assets);
    const now = new Map(targets.map(({ requirement }, i) => [requirement.id, judgements[i].recipe]));
    return files.map((file) => ({ ...file, outOfDate: now.get(file.requirementId) !== file.recipe }));
  }

  async picture(id: string): Promise<StoredPicture> {
    const picture = await this.pictures.get(id);
    if (!picture) throw new ProblemError(404, 'no-such-picture', 'There is no picture with this id.');
    return picture;
  }

  async judgedPicture(id: string): Promise<Picture> {
    const picture = await this.picture(id);
    return (await this.judgedPictures(picture.designId, [picture]))[0];
  }

  async picturesOf(designId: string): Promise<Picture[]> { return this.judgedPictures(designId, await this.pictures.ofDesign(designId)); }

  private async judgedPictures(designId: string, pictures: readonly StoredPicture[]): Promise<Picture[]> {
    const design = await this.designs.get(designId);
    const assets = await this.assetsOf(design);
    const requirements = await this.requirements.list();
    return Promise.all(pictures.map(async ({ request, recipe, ...picture }) => {
      const now = await this.recipeOfPicture(design, this.blanks.get(picture.blankId), request, requirements, assets);
      return { ...picture, outOfDate: now.hash !== recipe };
    }));
  }

  private async recipeOfPicture(design: StoredDesign, blank: Blank, request: PictureRequest, requirements: readonly Requirement[], assets: AssetsById): Promise<{ hash: string; recipe: PictureRecipe }> {
    const requirement = requirementForBlank(design.document, blank, requirements, request.requirementId ?? null);
    const start = defaultScene(blank, requirement?.id ?? null);
    const area = areaOf(blank, request.areaId ?? start.areaId);
    const density = await this.density(blank, area.id, request.size);
    const scene = {
      ...start, areaId: area.id, garment: request.colourway.hex,
      backdrop: request.backdrop ?? start.backdrop, inkOpacity: request.inkOpacity ?? start.inkOpacity, shadow: request.shadow ?? start.shadow, trueSize: request.trueSize,
    };
    return this.deriver.of(design, 'picture', { scene, blank, requirement, grid: textureGrid(area, density), output: { size: request.size, format: request.format }, assets });
  }

  /** Texture densities are measured on the maps once per blank, area and size. */
  private readonly densities = new Map<string, Promise<number>>();

  private density(blank: Blank, areaId: string, size: number): Promise<number> {
    const key = `${blank.id} ${areaId} ${size}`;
    let density = this.densities.get(key);
    if (!density) {
      density = this.pool.run('areaDensity', { blank, folder: this.blanks.folderOf(blank), areaId, size });
      density.catch(() => this.densities.delete(key));
      this.densities.set(key, density);
    }
    return density;
  }

  /** @throws ProblemError when a picture of the design is not there */
  private async allAssetsOf(design: StoredDesign): Promise<AssetsById> {
    const assets = await this.assetsOf(design);
    for (const id of assetIdsOf(design.document.layers)) shaOf(assets)(id);
    return assets;
  }

  private assetsOf(design: StoredDesign) { return this.assets.byId(assetIdsOf(design.document.layers)); }
}
