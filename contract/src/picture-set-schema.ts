import { PICTURE_FORMATS } from '@kettle/core/model';
import { MOST_COLOURS, MOST_SHOTS, type PictureSetFields } from '@kettle/core/mockup';
import * as yup from 'yup';
import {
  choice,
  colour,
  finite,
  identifier,
  list,
  pictureFitSchema,
  pictureSizeSchema,
  someDesigns,
  text,
} from './fields.js';
import { schemaOf } from './proved.js';
import { sceneParts } from './scene-schema.js';

const shotSchema = yup
  .object({
    id: identifier().required(),
    name: text('Name of the picture', 80).required('Name each picture of the set.'),
    blankId: identifier().required(),
    areaId: identifier().required(),
    garment: colour('Garment colour').optional(),
    colours: finite('Colours', 1, MOST_COLOURS).integer('Colours are counted whole.').required(),
    backdrop: colour('Backdrop').required(),
    inkOpacity: finite('Ink', 0, 1).required(),
    shadow: finite('Shadow', 0, 1).required(),
    ...sceneParts,
  })
  .noUnknown()
  .test(
    'no-own-backdrop',
    'A set stands before colours: a picture behind belongs to a design.',
    (shot) => shot?.behind?.kind !== 'picture',
  );

export const pictureSetFields = yup
  .object({
    name: text('Name', 120).required('Name the set.'),
    about: text('What it is for', 300).defined(),
    shots: list(shotSchema.required(), MOST_SHOTS, `A set has at most ${MOST_SHOTS} pictures.`, {
      count: 1,
      sentence: 'A set has at least one picture.',
    }),
    size: pictureSizeSchema,
    format: choice('Format', PICTURE_FORMATS).required(),
    fit: pictureFitSchema.optional().default(undefined),
  })
  .noUnknown();

/** A usual row of listing pictures. */
export const pictureSetSchema = schemaOf<PictureSetFields>()(pictureSetFields);

/** Designs that are to have the pictures of a set. */
export const setOfDesignsSchema = yup
  .object({
    designIds: someDesigns(),
    setId: identifier().nullable().defined(),
  })
  .noUnknown();

/** Listing pictures of many designs in one run: what is missing of their sets, all of their scenes, or what is out of date. */
export const pictureRunSchema = yup
  .object({
    of: choice('Pictures', ['set', 'scenes', 'out-of-date']).required(),
    designs: list(
      yup
        .object({ designId: identifier().required(), revision: yup.number().integer().min(1).optional() })
        .noUnknown()
        .required(),
      2000,
      'At most 2,000 designs at once.',
      { count: 1, sentence: 'Choose at least one design.' },
    ),
    size: pictureSizeSchema.optional().default(undefined),
    format: choice('Format', PICTURE_FORMATS).optional(),
    fit: pictureFitSchema.optional().default(undefined),
  })
  .noUnknown();

export type PictureRun = yup.InferType<typeof pictureRunSchema>;
