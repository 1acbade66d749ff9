import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Scene } from '@kettle/core/model';
import { filesOf } from '@kettle/core/recipes';
import { areaOf, artOnArea, placeScene, printsOf, requirementForBlank, sizingOf } from '@kettle/core/mockup';
import { fileNameOf } from '@kettle/core/naming';
import type { PictureRequest } from '@kettle/contract';
import type { Caller } from '../floor/basics/caller.js';
import type { PictureRecipes } from './picture.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import { newId } from '../floor/database/ids.js';
import type { MadeFile } from '../designs/design-files.js';
import type { DesignService } from '../designs/designs.js';

/** Longest side of a mockup as a file of its own, px: that of the blanks. */
const SIZE = 2000;

const TYPES = { ora: 'image/openraster', pdf: 'application/pdf' } as const;

/** What it works with. */
export interface MockupFileDeps {
  readonly designs: DesignService;
  readonly pictureRecipes: PictureRecipes;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
}

/** The scene that a design shows as a file to work on: in layers, or as a page on which its print has its true size. */
export class MockupFileService {
  constructor(private readonly deps: MockupFileDeps) {}

  /** @throws ProblemError 409 when the design was never shown on a product */
  async of(who: Caller, designId: string, as: keyof typeof TYPES): Promise<MadeFile> {
    const design = await this.deps.designs.get(who, designId);
    const { document } = design;
    const { scene } = document;
    if (!scene)
      throw new ProblemError(
        409,
        'no-scene',
        'This design was not shown on a product yet. Open Mockups and choose one.',
      );
    const [requirements, assets, pack] = await Promise.all([
      this.deps.pictureRecipes.reader.requirementsOf(who),
      this.deps.pictureRecipes.reader.allAssetsOf(design),
      this.deps.pictureRecipes.blanks.pack(who, scene.blankId),
    ]);
    const { blank } = pack;
    const { recipe } = await this.deps.pictureRecipes.of(who, {
      design,
      pack,
      request: requestOf(scene),
      requirements,
      assets,
    });
    const [{ areaId, requirementId }] = printsOf(scene);
    const area = areaOf(blank, areaId);
    const requirement = requirementForBlank(document, blank, requirements, requirementId);
    const placement = placeScene(document, blank, area, requirement, sizingOf(scene, 0));
    const ink = artOnArea(document, placement, requirement, scene.garment, assets);
    const { x, y, width, height } = ink ?? { x: 0, y: 0, width: area.widthMm, height: area.heightMm };
    const sources: Record<string, string> = {};
    for (const sha256 of [
      ...filesOf(recipe.prints.flatMap((print) => print.layers)),
      ...(recipe.behind?.kind === 'picture' ? [recipe.behind.sha256] : []),
    ]) {
      if (sha256.startsWith('missing'))
        throw new ProblemError(409, 'missing-asset', 'A picture of this design could not be found. Put it in again.');
      sources[sha256] ??= await this.deps.blobs.localPath(sha256);
    }
    const folder = join(this.deps.cache, 'outgoing');
    await mkdir(folder, { recursive: true });
    const path = join(folder, newId());
    await this.deps.pools.view.run('mockupFile', {
      as,
      name: document.name,
      recipe,
      blank,
      pack: pack.files,
      sources,
      middle: { x: x + width / 2, y: y + height / 2 },
      factor: placement.factor,
      out: path,
    });
    const filename = `${fileNameOf(document.name)}-${fileNameOf(blank.name)}.${as}`;
    return { path, filename, type: TYPES[as], done: () => rm(path, { force: true }) };
  }
}

/** What is asked for to have the picture of a scene. */
function requestOf({ garment, keptAs: _keptAs, ...scene }: Scene): PictureRequest {
  return { ...scene, colourway: { name: garment, hex: garment }, size: SIZE, format: 'png' } as PictureRequest;
}
