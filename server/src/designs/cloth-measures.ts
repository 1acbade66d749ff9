import type { Requirement, Target } from '@kettle/core/model';
import { filesOf, type PrintRecipe } from '@kettle/core/recipes';
import { CLOTH_MEASURE_VERSION, type ClothMeasure } from '@kettle/core/press';
import { garmentOf } from '@kettle/core/checks';
import type { RenderPool } from '../render/render-pool.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { MeasureStore } from './measure-store.js';
import { recipeHash } from '../documents/design-processor.js';

/** Colours that a target is judged on: those it is sold in, and the one it is looked at on. */
export const clothsOf = (target: Target, requirement: Requirement): string[] => [
  ...new Set(
    [...requirement.colourways.map(({ hex }) => hex), garmentOf(target, requirement)].map((hex) => hex.toLowerCase()),
  ),
];

/** Measures how prints are seen on cloth. What was measured once is kept by what it was measured of. */
export class ClothMeasureService {
  private readonly underway = new Map<string, Promise<ClothMeasure>>();

  constructor(
    private readonly store: MeasureStore,
    private readonly blobs: BlobStore,
    private readonly pool: RenderPool,
  ) {}

  /** @param recipe the hash of a print's recipe */
  nameOf(recipe: string, cloths: readonly string[]): string {
    return recipeHash({ recipe, cloths, by: CLOTH_MEASURE_VERSION }).slice(0, 32);
  }

  /** Those that are known, by name. */
  known(names: readonly string[]): Promise<Map<string, ClothMeasure>> {
    return this.store.some<ClothMeasure>(names);
  }

  /** How a print is seen on some colours; null for one that misses a file. */
  async of(
    { hash, recipe }: { hash: string; recipe: PrintRecipe },
    cloths: readonly string[],
  ): Promise<ClothMeasure | null> {
    if (filesOf(recipe.layers).some((sha256) => sha256.startsWith('missing'))) return null;
    const name = this.nameOf(hash, cloths);
    const known = await this.store.get<ClothMeasure>(name);
    if (known) return known;
    let work = this.underway.get(name);
    if (!work) {
      work = this.measure(recipe, cloths, name).finally(() => this.underway.delete(name));
      this.underway.set(name, work);
    }
    return work;
  }

  private async measure(recipe: PrintRecipe, cloths: readonly string[], name: string): Promise<ClothMeasure> {
    const files: Record<string, string> = {};
    for (const sha256 of filesOf(recipe.layers)) files[sha256] ??= await this.blobs.localPath(sha256);
    const found = await this.pool.run('measureOnCloths', { recipe, cloths, files });
    await this.store.put(name, found);
    return found;
  }
}
