import { pictureStepSchema, type PictureRequest, type PictureStep } from '@kettle/contract';
import {
  areaOf,
  defaultScene,
  ENGINE_VERSION,
  drawnSize,
  filesOf,
  requirementForBlank,
  textureGrid,
  type PictureFit,
  type PictureFormat,
  type PictureRecipe,
  type Requirement,
} from '@kettle/core';
import type { Caller } from '../caller.js';
import type { AssetsById } from '../render/derive.js';
import type { PictureFacts } from '../render/mockup/picture.js';
import { ProblemError } from '../safety/problem-error.js';
import type { BlankPack } from '../services/blanks.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { OutputKind } from './output-kind.js';
import type { Workshop } from './workshop.js';

/** A listing picture: the design on a blank, in one colour. */
export const PICTURE: OutputKind<PictureStep, PictureRecipe, PictureFacts> = {
  kind: 'picture',
  engine: ENGINE_VERSION,
  lane: 'soon',
  shown: 'picture',
  step: pictureStepSchema,

  async order({ designId, revision, request, filename }, who, workshop) {
    const design = await workshop.revision(who, designId, revision);
    const [requirements, assets, pack] = await Promise.all([
      workshop.requirementsOf(who),
      workshop.allAssetsOf(design),
      workshop.blanks.pack(who, request.blankId),
    ]);
    const { hash, recipe } = await recipeOfPicture(workshop, who, { design, pack, request, requirements, assets });
    return {
      recipe,
      hash,
      designId,
      revision,
      about: request.blankId,
      filename,
      mediaType: `image/${request.format}`,
      more: { blank: pack.blank, request },
      files: pack.files,
      sources: filesOf(recipe.texture.layers),
    };
  },

  async make({ recipe, sources, files, more, out, progress }) {
    const { makePicture } = await import('../render/mockup/picture.js');
    return makePicture(recipe, (more as { blank: BlankPack['blank'] }).blank, files, sources, out, progress);
  },

  certify({ recipe, more }, { width, height, format, bytes }) {
    const { frame, longest, maxBytes } = recipe.fit ?? {};
    const sized = frame
      ? width === frame.width && height === frame.height
      : longest === undefined
        ? width === recipe.size
        : Math.max(width, height) === longest;
    if (!sized || format !== recipe.format || bytes > (maxBytes ?? Infinity))
      throw new ProblemError(
        500,
        'not-as-ordered',
        'The picture that was made is not the one that was ordered, and was not kept. Press the button again.',
      );
    return { accepted: true, record: { request: (more as { request: PictureRequest }).request } };
  },
};

/** What a picture of a design would be made of. */
export async function recipeOfPicture(
  workshop: Workshop,
  who: Caller,
  {
    design,
    pack,
    request,
    requirements,
    assets,
  }: {
    design: StoredDesign;
    pack: BlankPack;
    request: PictureRequest;
    requirements: readonly Requirement[];
    assets: AssetsById;
  },
): Promise<{ hash: string; recipe: PictureRecipe }> {
  const { blank, hash } = pack;
  const requirement = requirementForBlank(design.outline, blank, requirements, request.requirementId ?? null);
  const start = defaultScene(blank, requirement?.id ?? null);
  const area = areaOf(blank, request.areaId ?? start.areaId);
  const fit = request.fit as PictureFit | undefined;
  const size = drawnSize(fit ?? {}, request.size);
  const density = await workshop.blanks.density(who, blank.id, area.id, size);
  const scene = {
    ...start,
    areaId: area.id,
    garment: request.colourway.hex,
    backdrop: request.backdrop ?? start.backdrop,
    inkOpacity: request.inkOpacity ?? start.inkOpacity,
    shadow: request.shadow ?? start.shadow,
    trueSize: request.trueSize,
  };
  return workshop.deriver.of(design, 'picture', {
    scene,
    blank,
    pack: hash,
    requirement,
    grid: textureGrid(area, density),
    output: { size, format: request.format as PictureFormat, ...(fit ? { fit } : {}) },
    assets,
  });
}
