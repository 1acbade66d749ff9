import * as yup from 'yup';
import { CLIP_SHAPES, PICTURE_FORMATS } from '@kettle/core/model';
import { CLIP_FILE_KINDS } from '@kettle/core/clip';
import { choice, colour, finite, identifier, pictureFitSchema, pictureSizeSchema } from './fields.js';
import { sceneParts } from './scene-schema.js';
import { colourwaySchema } from './requirement-schema.js';

const revision = () => yup.number().integer().min(1).required();
const filename = () => yup.string().max(255).required();

/** One print file that is to be made, by name: a step in the queue holds nothing else. */
export const printFileStepSchema = yup
  .object({
    designId: identifier().required(),
    revision: revision(),
    requirementId: identifier().required(),
    version: choice('Version', ['light', 'dark']).optional(),
    filename: filename(),
    /** True when nobody knew yet whether it can be made. */
    unjudged: yup.boolean().optional(),
  })
  .required();
export type PrintFileStep = yup.InferType<typeof printFileStepSchema>;

/** One proof sheet that is to be made. */
export const proofSheetStepSchema = yup
  .object({
    designId: identifier().required(),
    revision: revision(),
    requirementId: identifier().required(),
    version: choice('Version', ['light', 'dark']).optional(),
    filename: filename(),
  })
  .required();
export type ProofSheetStep = yup.InferType<typeof proofSheetStepSchema>;

/** What was asked for of one listing picture. Kept with it, so that it can be told whether the picture still holds. */
export const pictureRequestSchema = yup
  .object({
    blankId: identifier().required(),
    areaId: identifier().optional(),
    requirementId: identifier().nullable().optional(),
    colourway: colourwaySchema.required(),
    size: pictureSizeSchema,
    format: choice('Format', PICTURE_FORMATS).required(),
    fit: pictureFitSchema.optional().default(undefined),
    backdrop: colour('Backdrop').optional(),
    inkOpacity: finite('Ink', 0, 1).optional(),
    shadow: finite('Shadow', 0, 1).optional(),
    ...sceneParts,
  })
  .required();
export type PictureRequest = yup.InferType<typeof pictureRequestSchema>;

/** One listing picture that is to be made. */
export const pictureStepSchema = yup
  .object({
    designId: identifier().required(),
    revision: revision(),
    request: pictureRequestSchema,
    filename: filename(),
  })
  .required();
export type PictureStep = Omit<yup.InferType<typeof pictureStepSchema>, 'request'> & {
  readonly request: PictureRequest;
};

/** Shorter sides that clips are made at, px. */
export const CLIP_SIDES = [720, 1080];
export const clipSideSchema = yup
  .number()
  .required()
  .oneOf(CLIP_SIDES, `A clip’s shorter side is ${CLIP_SIDES.join(' or ')} px.`);

/** One clip that is to be made on the server. */
export const clipStepSchema = yup
  .object({
    designId: identifier().required(),
    revision: revision(),
    clipId: identifier().required(),
    shape: choice('Shape', CLIP_SHAPES).required(),
    side: clipSideSchema,
    file: choice('File', CLIP_FILE_KINDS).required(),
    filename: filename(),
  })
  .required();
export type ClipStep = yup.InferType<typeof clipStepSchema>;
