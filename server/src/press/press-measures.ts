import { limitsOf, type Cloth } from '@kettle/core/model';
import { asVersion } from '@kettle/core/document';
import { filesOf, type PrintRecipe } from '@kettle/core/recipes';
import { measuringDpi, PRESS_MEASURE_VERSION, type ClothMeasure, type PressMeasure } from '@kettle/core/press';
import type { Measured } from '@kettle/core/checks';
import type { Caller } from '../floor/basics/caller.js';
import type { DesignReader } from '../designs/design-reader.js';
import type { MeasureJob } from '../render/press/measure-print.js';
import type { RenderPools } from '../render/render-pools.js';
import type { ProfileService } from '../requirements/profiles.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { MeasureStore } from '../designs/measure-store.js';
import { clothsOf, type ClothMeasureService } from '../designs/cloth-measures.js';
import { targetOf, type DesignService } from '../designs/designs.js';
import { recipeHash } from '../documents/design-processor.js';

/** What it works with. */
export interface PressMeasureDeps {
  readonly measureStore: MeasureStore;
  readonly designs: DesignService;
  readonly reader: DesignReader;
  readonly profiles: ProfileService;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly onCloths: ClothMeasureService;
}

/** Measures prints before they are made: on the grid they are printed on, by the limits of their process. */
export class PressMeasureService {
  private readonly underway = new Map<string, Promise<PressMeasure>>();

  constructor(private readonly deps: PressMeasureDeps) {}

  /** What is measured on a target of a design as it was saved last. */
  async of(
    who: Caller,
    designId: string,
    requirementId: string,
    version: Cloth | null,
  ): Promise<{ revision: number; measured: (PressMeasure & Partial<ClothMeasure>) | null }> {
    const { revision, job, name, print, cloths } = await this.wanted(who, designId, requirementId, version);
    if (!job) return { revision, measured: null };
    const [measured, seen] = await Promise.all([
      this.deps.measureStore.get<PressMeasure>(name).then((known) => known ?? this.measured(who, job, name)),
      this.deps.onCloths.of(print, cloths),
    ]);
    return { revision, measured: { ...measured, ...seen } };
  }

  /**
   * What is known of it already; what is not is measured from now on, and nobody waits for it.
   * @returns null when it is not known yet, `nothing` when there is nothing to be known
   */
  async known(
    who: Caller,
    designId: string,
    requirementId: string,
    version: Cloth | null,
  ): Promise<Measured | null | 'nothing'> {
    const { job, name, print, cloths } = await this.wanted(who, designId, requirementId, version);
    if (!job) return 'nothing';
    const seen = (await this.deps.onCloths.known([this.deps.onCloths.nameOf(print.hash, cloths)]))
      .values()
      .next().value;
    const known = await this.deps.measureStore.get<PressMeasure>(name);
    // Whoever asks again hears how it went.
    if (!known) this.measured(who, job, name).catch(() => undefined);
    if (!seen) this.deps.onCloths.of(print, cloths).catch(() => undefined);
    return known && seen ? { ...known, ...seen } : null;
  }

  /** What there is to measure, under the name it is kept by; no job for a print that misses a file or holds nothing. */
  private async wanted(
    who: Caller,
    designId: string,
    requirementId: string,
    version: Cloth | null,
  ): Promise<{
    revision: number;
    job: Omit<MeasureJob, 'files'> | null;
    name: string;
    print: { hash: string; recipe: PrintRecipe };
    cloths: readonly string[];
  }> {
    const [design, requirement] = await Promise.all([
      this.deps.designs.get(who, designId),
      this.deps.reader.requirement(who, requirementId),
    ]);
    const assets = await this.deps.reader.assetsOf(design);
    const target = asVersion(targetOf(design.outline, requirementId), version, requirement);
    const print = await this.deps.reader.processor.of(design, 'print', {
      target,
      // Places are told as the seller sees the design, whether its file is made mirrored or not.
      requirement: { ...requirement, mirrored: false },
      assets,
    });
    const { recipe } = print;
    const limits = limitsOf(requirement);
    const { widthPx, heightPx, dpi, layers, mode, alpha, conversion = null } = recipe;
    const grid = { widthPx, heightPx, dpi, measuring: measuringDpi(dpi, limits) };
    const name = recipeHash({ grid, layers, mode, alpha, conversion, limits, by: PRESS_MEASURE_VERSION }).slice(0, 32);
    // What misses a file is told as such; the rest of it is not measured.
    const missing = filesOf(layers).some((sha256) => sha256.startsWith('missing'));
    return {
      revision: design.revision,
      job: missing ? null : { recipe, limits, dpi: grid.measuring },
      name,
      print,
      cloths: clothsOf(target, requirement),
    };
  }

  private measured(who: Caller, job: Omit<MeasureJob, 'files'>, name: string): Promise<PressMeasure> {
    let work = this.underway.get(name);
    if (!work) {
      work = this.measure(who, job, name).finally(() => this.underway.delete(name));
      this.underway.set(name, work);
    }
    return work;
  }

  private async measure(who: Caller, job: Omit<MeasureJob, 'files'>, name: string): Promise<PressMeasure> {
    const { recipe } = job;
    const files: Record<string, string> = { ...(await this.deps.profiles.filesOf(who, recipe.conversion)) };
    for (const sha256 of filesOf(recipe.layers)) files[sha256] ??= await this.deps.blobs.localPath(sha256);
    const measured = await this.deps.pools.measure.run('measurePrint', { ...job, files });
    await this.deps.measureStore.put(name, measured);
    return measured;
  }
}
