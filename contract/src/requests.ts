import * as yup from 'yup';
import { MAX_LETTERS, PICTURE_SIZES } from '@kettle/core';
import { choice, colour, finite, flag, identifier, list, text } from './fields.js';
import { letteringSettingsSchema } from './layer-schemas.js';
import { treatmentsSchema } from './treatment-schemas.js';
import { colourwaySchema } from './requirement-schema.js';

export const letteringRequestSchema = yup
  .object({
    text: yup.string().defined().max(MAX_LETTERS, `Lettering holds at most ${MAX_LETTERS} letters.`),
    fontId: identifier().required(),
    settings: letteringSettingsSchema.required(),
  })
  .noUnknown();

export const faceRequestSchema = yup.object({ family: text('Family', 100).required('Name the face.') }).noUnknown();

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
    size: yup
      .number()
      .oneOf([...PICTURE_SIZES], `Size must be one of ${PICTURE_SIZES.join(', ')} px.`)
      .required(),
    format: choice('Format', ['jpeg', 'png']).required(),
    backdrop: colour('Backdrop').optional(),
    inkOpacity: finite('Ink', 0, 1).optional(),
    shadow: finite('Shadow', 0, 1).optional(),
    trueSize: flag('True size').optional(),
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
