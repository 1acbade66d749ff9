import {
  PICTURE_SHAPES,
  type Behind,
  type KeptScene,
  type LookChoice,
  type PictureCrop,
  type PictureShape,
  type Scene,
  type ShownScene,
} from '@kettle/core/model';
import { MOST_SCENES } from '@kettle/core/document';
import {
  INK_KINDS,
  LEAST_CROP,
  LEAST_LIGHT,
  MEASURE_UNITS,
  MOST_FOLDS,
  MOST_LIGHT,
  MOST_PRINTS,
} from '@kettle/core/mockup';
import * as yup from 'yup';
import { choice, colour, finite, flag, identifier, optionalList, text } from './fields.js';
import { schemaOf, schemaOfMerged } from './proved.js';

const shapes = Object.keys(PICTURE_SHAPES) as PictureShape[];

const ownBox = yup
  .object({
    x: finite('Left edge of the crop', 0, 1 - LEAST_CROP).required(),
    y: finite('Upper edge of the crop', 0, 1 - LEAST_CROP).required(),
    width: finite('Width of the crop', LEAST_CROP, 1).required(),
    height: finite('Height of the crop', LEAST_CROP, 1).required(),
  })
  .noUnknown()
  .test(
    'inside',
    'A crop lies inside the picture.',
    (box) => !box || (box.x + box.width <= 1.000001 && box.y + box.height <= 1.000001),
  );

/** Which part of a blank's picture is shown. */
export const cropSchema = schemaOfMerged<PictureCrop | undefined>()(
  yup
    .object({
      of: choice('Crop', ['whole', 'print', 'detail', 'box']).required(),
      shape: choice('Shape', shapes).optional(),
      box: ownBox.default(undefined).optional(),
    })
    .noUnknown()
    .test(
      'complete',
      'A crop is {of: whole, print or detail, shape} or {of: box, box}.',
      (crop) =>
        !crop ||
        (crop.of === 'box'
          ? crop.box !== undefined && crop.shape === undefined
          : crop.shape !== undefined && !crop.box),
    )
    .default(undefined)
    .optional(),
);

const printOnArea = yup
  .object({ areaId: identifier().required(), requirementId: identifier().nullable().defined() })
  .noUnknown();

const ownPlacement = yup
  .object({
    x: finite('Moved across, mm', -10_000, 10_000).required(),
    y: finite('Moved down, mm', -10_000, 10_000).required(),
    factor: finite('Larger by', 0.01, 100).required(),
  })
  .noUnknown();

const behindSchema = schemaOfMerged<Behind | undefined>()(
  yup
    .object({
      kind: choice('Backdrop', ['gradient', 'picture']).required(),
      to: colour('Colour').optional(),
      turn: finite('Turn', -360, 360).optional(),
      assetId: identifier().optional(),
      blur: finite('Blur', 0, 1).optional(),
      light: finite('Light', LEAST_LIGHT, MOST_LIGHT).optional(),
    })
    .noUnknown()
    .test(
      'complete',
      'A backdrop is {kind: gradient, to, turn} or {kind: picture, assetId, blur, light}.',
      (one) =>
        !one ||
        (one.kind === 'gradient'
          ? one.to !== undefined && one.turn !== undefined && one.assetId === undefined
          : !!one.assetId && one.blur !== undefined && one.light !== undefined && one.to === undefined),
    )
    .default(undefined)
    .optional(),
);

const lookSchema = schemaOf<LookChoice | undefined>()(
  yup
    .object({
      ink: choice('Ink', INK_KINDS).optional(),
      folds: finite('Folds', 0, MOST_FOLDS).optional(),
      knit: finite('Knit', 0, 1).optional(),
      softness: finite('Softness', 0, 1).optional(),
      grain: finite('Grain', 0, 1).optional(),
    })
    .noUnknown()
    .default(undefined)
    .optional(),
);

/** What a scene may say beside its blank, its colours and its light. */
export const sceneParts = {
  trueSize: flag('True size').optional(),
  crop: cropSchema,
  also: optionalList(printOnArea.required(), MOST_PRINTS - 1, `One picture shows at most ${MOST_PRINTS} print areas.`),
  own: ownPlacement.default(undefined).optional(),
  behind: behindSchema,
  look: lookSchema,
  measured: choice('Measures', MEASURE_UNITS).optional(),
};

const sceneObject = yup
  .object({
    blankId: identifier().required(),
    areaId: identifier().required(),
    requirementId: identifier().nullable().defined(),
    garment: colour('Garment colour').required(),
    backdrop: colour('Backdrop').required(),
    inkOpacity: finite('Ink', 0, 1).required(),
    shadow: finite('Shadow', 0, 1).required(),
    ...sceneParts,
    keptAs: identifier().optional(),
  })
  .noUnknown();

/** Everything a clip says of a scene. */
export const shownSceneSchema = schemaOf<ShownScene>()(
  sceneObject.omit(['keptAs', 'crop', 'own', 'behind', 'measured', 'trueSize']).noUnknown().required(),
);
export const sceneSchema = schemaOf<Scene | undefined>()(sceneObject.default(undefined).optional());

const keptSceneSchema = sceneObject
  .omit(['keptAs'])
  .shape({ id: identifier().required(), name: text('Name of the scene', 80).required('Name the scene.') })
  .noUnknown();

/** Scenes that a design keeps, each under an id of its own. */
export const keptScenesSchema = yup
  .array()
  .of(schemaOf<KeptScene>()(keptSceneSchema.required()))
  .max(MOST_SCENES, `A design keeps at most ${MOST_SCENES} scenes.`)
  .test(
    'ids',
    'Each kept scene has an id of its own.',
    (scenes) => !scenes || new Set(scenes.map((one) => one.id)).size === scenes.length,
  )
  .optional();
