import { pictureStepSchema, type PictureRequest, type PictureStep } from '@kettle/contract';
import type { Box } from '@kettle/core/geometry';
import {
  drawnSize,
  type AreaPrint,
  type Behind,
  type LookChoice,
  type MeasureUnit,
  type Blank,
  type OwnPlacement,
  type PictureCrop,
  type PrintArea,
  type Scene,
  type PictureFit,
  type PictureFormat,
  type Requirement,
} from '@kettle/core/model';
import { filesOf } from '@kettle/core/recipes';
import {
  areaOf,
  areaSeen,
  cropOn,
  defaultScene,
  PICTURE_ENGINE,
  onPicture,
  partOfArea,
  printsOf,
  requirementForBlank,
  textureGrid,
  viewOf,
  type AreaGrid,
  type ScenePrint,
  type PictureRecipe,
} from '@kettle/core/mockup';
import type { Caller } from '../floor/basics/caller.js';
import type { AssetsById } from '../render/documents/derive.js';
import type { PictureFacts } from '../render/mockup/picture.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlankPack, BlankService } from './blanks.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { OutputKind } from '../making/output-kind.js';
import type { DesignReader } from '../designs/design-reader.js';

/** Name and version of pictures in the queue and among outputs. */
export const PICTURE = { kind: 'picture', engine: PICTURE_ENGINE } as const;

/** A listing picture: the design on a blank, in one colour. */
export const pictureKind = (recipes: PictureRecipes): OutputKind<PictureStep, PictureRecipe, PictureFacts> => ({
  ...PICTURE,
  lane: 'soon',
  shown: 'picture',
  step: pictureStepSchema,

  async order({ designId, revision, request, filename }, who) {
    const { reader, blanks } = recipes;
    const design = await reader.revision(who, designId, revision);
    const [requirements, assets, pack] = await Promise.all([
      reader.requirementsOf(who),
      reader.allAssetsOf(design),
      blanks.pack(who, request.blankId),
    ]);
    const { hash, recipe } = await recipes.of(who, { design, pack, request, requirements, assets });
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
});

/** Works out what pictures of designs would be made of. */
export class PictureRecipes {
  constructor(
    readonly reader: DesignReader,
    readonly blanks: BlankService,
  ) {}

  /** @throws ProblemError for an area that the blank has not */
  async of(
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
    const of = printsOf(scene).map(({ areaId, requirementId }) => ({
      area: areaOf(blank, areaId),
      requirement: requirementForBlank(design.outline, blank, requirements, requirementId),
    }));
    const crop = await cropOf(request.crop as PictureCrop | undefined, async () => {
      const grid = await this.blanks.grid(who, blank.id, of[0].area.id);
      const art = await this.reader.processor.of(design, 'artOnArea', { scene, blank, ...of[0] });
      return { blank, grid, area: of[0].area, art };
    });
    const view = viewOf(blank, crop, size);
    const prints = await Promise.all(
      of.map(async ({ area, requirement: one }): Promise<ScenePrint> => {
        const { pixelsPerMm, part } = areaSeen(await this.blanks.grid(who, blank.id, area.id), blank, view);
        return { areaId: area.id, requirement: one, part, grid: textureGrid(partOfArea(area, part), pixelsPerMm) };
      }),
    );
    return this.reader.processor.of(design, 'picture', {
      scene,
      blank,
      pack: hash,
      prints,
      output: { size, ...(crop ? { crop } : {}), format: request.format as PictureFormat, ...(fit ? { fit } : {}) },
      assets,
    });
  }
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
