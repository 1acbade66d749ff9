import { pictureStepSchema, type PictureRequest, type PictureStep } from '@kettle/contract';
import {
  areaOf,
  areaSeen,
  cropOn,
  defaultScene,
  PICTURE_ENGINE,
  drawnSize,
  filesOf,
  onPicture,
  partOfArea,
  printsOf,
  requirementForBlank,
  textureGrid,
  viewOf,
  type AreaGrid,
  type AreaPrint,
  type Behind,
  type LookChoice,
  type MeasureUnit,
  type Blank,
  type Box,
  type OwnPlacement,
  type PictureCrop,
  type PrintArea,
  type Scene,
  type ScenePrint,
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
  engine: PICTURE_ENGINE,
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
    if (recipe.behind?.kind === 'picture' && !/^[0-9a-f]{64}$/.test(recipe.behind.sha256))
      throw new ProblemError(
        409,
        'missing-asset',
        'The picture behind this scene could not be found. Choose it again, or take it away.',
      );
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
      sources: [
        ...filesOf(recipe.prints.flatMap((print) => print.layers)),
        ...(recipe.behind?.kind === 'picture' ? [recipe.behind.sha256] : []),
      ],
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
        ? (recipe.crop ? Math.max(width, height) : width) === recipe.size
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
  const fit = request.fit as PictureFit | undefined;
  const size = drawnSize(fit ?? {}, request.size);
  const scene: Scene = {
    ...start,
    areaId: areaOf(blank, request.areaId ?? start.areaId).id,
    garment: request.colourway.hex,
    backdrop: request.backdrop ?? start.backdrop,
    inkOpacity: request.inkOpacity ?? start.inkOpacity,
    shadow: request.shadow ?? start.shadow,
    trueSize: request.trueSize,
    own: request.own as OwnPlacement | undefined,
    behind: request.behind as Behind | undefined,
    look: request.look as LookChoice | undefined,
    measured: request.measured as MeasureUnit | undefined,
    also: request.also as readonly AreaPrint[] | undefined,
  };
  const { blanks } = workshop;
  const of = printsOf(scene).map(({ areaId, requirementId }) => ({
    area: areaOf(blank, areaId),
    requirement: requirementForBlank(design.outline, blank, requirements, requirementId),
  }));
  const crop = await cropOf(request.crop as PictureCrop | undefined, async () => {
    const grid = await blanks.grid(who, blank.id, of[0].area.id);
    const art = await workshop.deriver.of(design, 'artOnArea', { scene, blank, ...of[0] });
    return { blank, grid, area: of[0].area, art };
  });
  const view = viewOf(blank, crop, size);
  const prints = await Promise.all(
    of.map(async ({ area, requirement: one }): Promise<ScenePrint> => {
      const { pixelsPerMm, part } = areaSeen(await blanks.grid(who, blank.id, area.id), blank, view);
      return { areaId: area.id, requirement: one, part, grid: textureGrid(partOfArea(area, part), pixelsPerMm) };
    }),
  );
  return workshop.deriver.of(design, 'picture', {
    scene,
    blank,
    pack: hash,
    prints,
    output: { size, ...(crop ? { crop } : {}), format: request.format as PictureFormat, ...(fit ? { fit } : {}) },
    assets,
  });
}

/** The pixels that a crop takes; where the print is seen is asked only for crops that go by it. */
async function cropOf(
  crop: PictureCrop | undefined,
  look: () => Promise<{ blank: Blank; grid: AreaGrid; area: PrintArea; art: Box | null }>,
): Promise<Box | null> {
  if (!crop) return null;
  const { blank, grid, area, art } = await look();
  return cropOn(blank, crop, onPicture(grid, area, art));
}
