import * as yup from 'yup';
import { MAX_LETTERS } from '@kettle/core/text';
import { CLIP_SHAPES, PICTURE_FORMATS } from '@kettle/core/model';
import { CLIP_FILE_KINDS } from '@kettle/core/clip';
import { refusePattern } from '@kettle/core/naming';
import {
  choice,
  colour,
  finite,
  flag,
  identifier,
  list,
  optionalList,
  someDesigns,
  text,
  pictureFitSchema,
  pictureSizeSchema,
} from './fields.js';
import { sceneParts } from './scene-schema.js';
import { letteringSettingsSchema } from './layer-schemas.js';
import { treatmentsSchema } from './treatment-schemas.js';
import { colourwaySchema, requirementSchema } from './requirement-schema.js';
import { clipSideSchema } from './steps.js';

export const letteringRequestSchema = yup
  .object({
    text: yup.string().defined().max(MAX_LETTERS, `Lettering holds at most ${MAX_LETTERS} letters.`),
    fontId: identifier().required(),
    settings: letteringSettingsSchema.required(),
  })
  .noUnknown();

export const faceRequestSchema = yup.object({ family: text('Family', 100).required('Name the face.') }).noUnknown();

/** What a seller says of a piece of music of their own. */
export const musicChangeSchema = yup
  .object({
    title: text('Title', 120).required('Name the music.'),
    bpm: finite('Beats a minute', 30, 300).nullable().defined(),
    firstBeat: finite('First beat, s', 0, 900).nullable().defined(),
  })
  .noUnknown();

/** Designs that something is done to at once. */
export const someDesignsSchema = yup.object({ designIds: someDesigns() }).noUnknown();

const revision = () => yup.number().integer('A revision is a whole number.').min(1, 'Revisions begin at 1.');

export const printFilesRequestSchema = yup
  .object({
    revision: revision().optional(),
    requirementIds: list(identifier().required(), 100, 'At most 100 targets at once.', {
      count: 1,
      sentence: 'Choose at least one target.',
    }),
  })
  .noUnknown();

/** A proof sheet of a target, in one of its versions. */
export const proofSheetRequestSchema = yup
  .object({
    revision: revision().optional(),
    requirementId: identifier().required(),
    version: choice('Version', ['light', 'dark']).nullable().optional(),
  })
  .noUnknown();

/** Designs with some of their targets. */
const chosenTargets = (most: number) =>
  list(
    yup
      .object({
        designId: identifier().required(),
        revision: yup.number().integer().min(1).optional(),
        requirementIds: list(identifier().required(), 100, 'At most 100 targets of one design.'),
      })
      .noUnknown()
      .required(),
    most,
    `At most ${most} designs at once.`,
    { count: 1, sentence: 'Choose at least one design.' },
  );

/** Print files of many designs in one run. */
export const runRequestSchema = yup.object({ targets: chosenTargets(2000) }).noUnknown();

/** What is made of some targets, in one package. */
export const packageRequestSchema = yup
  .object({
    name: text('Name', 120).required('Give the package a name.'),
    folders: choice('Folders', ['channel', 'design', 'none']).required(),
    changedOnly: flag('Only what changed').required(),
    pictures: flag('Listing pictures too').optional(),
    targets: chosenTargets(2000),
  })
  .noUnknown();

/** A library of requirements as text, CSV or JSON. */
/** Requirements that are made at once, as those of all panels of a garment. */
export const someRequirementsSchema = yup
  .object({
    requirements: list(requirementSchema, 100, 'At most 100 requirements at once.', {
      count: 1,
      sentence: 'Name at least one requirement.',
    }),
  })
  .noUnknown();

export const importSchema = yup
  .object({
    text: yup.string().strict().defined().max(6_000_000, 'This file is larger than a library of requirements can be.'),
    apply: flag('Apply').required(),
  })
  .noUnknown();

export const namingSchema = yup
  .object({
    pattern: yup
      .string()
      .defined()
      .test('pattern', function fits(value) {
        const wrong = refusePattern(value);
        return wrong === null || this.createError({ message: wrong });
      }),
  })
  .noUnknown();

export const picturesRequestSchema = yup
  .object({
    revision: revision().optional(),
    blankId: identifier().required(),
    areaId: identifier().optional(),
    requirementId: identifier().nullable().optional(),
    colourways: list(colourwaySchema.required(), 40, 'At most 40 colours at once.', {
      count: 1,
      sentence: 'Choose at least one colour.',
    }),
    size: pictureSizeSchema,
    format: choice('Format', PICTURE_FORMATS).required(),
    fit: pictureFitSchema.optional().default(undefined),
    filename: yup
      .string()
      .typeError('A file name is text.')
      .strict()
      .max(120, 'A file name has at most 120 letters.')
      .optional(),
    backdrop: colour('Backdrop').optional(),
    inkOpacity: finite('Ink', 0, 1).optional(),
    shadow: finite('Shadow', 0, 1).optional(),
    ...sceneParts,
  })
  .noUnknown();

/** What is to be done to a picture. */
export const treatedRequestSchema = yup.object({ treatments: treatmentsSchema() }).noUnknown();

/** A picture that is to be redrawn as outlines. */
export const traceRequestSchema = yup
  .object({
    treatments: treatmentsSchema(),
    colours: finite('Number of colours', 2, 24).integer('Colours are counted whole.').required(),
  })
  .noUnknown();

export const revisionNameSchema = yup
  .object({ name: yup.string().defined().max(120, 'A name has at most 120 letters.') })
  .noUnknown();

/** Clips that are to be made on the server. */
export const clipRunSchema = yup
  .object({
    clips: list(
      yup
        .object({
          designId: identifier().required(),
          clipId: identifier().required(),
          shapes: optionalList(choice('Shape', CLIP_SHAPES).required(), CLIP_SHAPES.length, 'A shape is named once.'),
        })
        .noUnknown()
        .required(),
      500,
      'One run makes at most 500 clips.',
      { count: 1, sentence: 'Name at least one clip.' },
    ),
    side: clipSideSchema,
    file: choice('File', CLIP_FILE_KINDS).required(),
  })
  .noUnknown();
export type ClipRun = yup.InferType<typeof clipRunSchema>;

/** What a seller says of a piece of music of their own. */
export type MusicChange = yup.InferType<typeof musicChangeSchema>;
/** Asks for print files of many designs in one run. */
export type RunRequest = yup.InferType<typeof runRequestSchema>;
/** A design with some of its targets; none named stands for all of them. What has changed since `revision` is not made. */
export type ChosenTargets = RunRequest['targets'][number];
/** Asks for a package of what is made. */
export type PackageRequest = yup.InferType<typeof packageRequestSchema>;
/** Asks for listing pictures; refused when `revision` is no longer the newest. */
export type PicturesRequest = yup.InferType<typeof picturesRequestSchema>;
export type LetteringRequest = yup.InferType<typeof letteringRequestSchema>;
