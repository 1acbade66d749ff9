import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import {
  areaOf,
  artOnArea,
  fileNameOf,
  filesOf,
  placeScene,
  printsOf,
  requirementForBlank,
  sizingOf,
  type Scene,
} from '@kettle/core';
import type { PictureRequest } from '@kettle/contract';
import type { Caller } from '../caller.js';
import { recipeOfPicture } from '../making/picture.js';
import type { Workshop } from '../making/workshop.js';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import type { BlobStore } from '../stores/blobs.js';
import { newId } from '../stores/ids.js';
import type { MadeFile } from './design-files.js';
import type { DesignService } from './designs.js';

/** Longest side of a mockup as a file of its own, px: that of the blanks. */
const SIZE = 2000;

const TYPES = { ora: 'image/openraster', pdf: 'application/pdf' } as const;

/** The scene that a design shows as a file to work on: in layers, or as a page on which its print has its true size. */
export class MockupFileService {
  constructor(
    private readonly designs: DesignService,
    private readonly workshop: Workshop,
    private readonly blobs: BlobStore,
    private readonly pool: RenderPool,
    private readonly cache: string,
  ) {}

  /** @throws ProblemError 409 when the design was never shown on a product */
  async of(who: Caller, designId: string, as: keyof typeof TYPES): Promise<MadeFile> {
    const design = await this.designs.get(who, designId);
    const { document } = design;
    const { scene } = document;
    if (!scene)
      throw new ProblemError(
        409,
        'no-scene',
        'This design was not shown on a product yet. Open Mockups and choose one.',
      );
    const [requirements, assets, pack] = await Promise.all([
      this.workshop.requirementsOf(who),
      this.workshop.allAssetsOf(design),
      this.workshop.blanks.pack(who, scene.blankId),
    ]);
    const { blank } = pack;
    const { recipe } = await recipeOfPicture(this.workshop, who, {
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
      sources[sha256] ??= await this.blobs.localPath(sha256);
    }
    const folder = join(this.cache, 'outgoing');
    await mkdir(folder, { recursive: true });
    const path = join(folder, newId());
    await this.pool.run('mockupFile', {
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
