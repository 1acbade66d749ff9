import * as yup from 'yup';
import { MAX_LAYERS, type DesignDocument } from '@kettle/core/model';
import { REPEAT_KINDS } from '@kettle/core/document';
import { clipsSchema } from './clip-schema.js';
import { keptScenesSchema, sceneSchema } from './scene-schema.js';
import { choice, colour, finite, flag, identifier, list, optionalList, recordOf, text } from './fields.js';
import { keylineSchema, layerSchema, placeSchema } from './layer-schemas.js';
import { optionalTreatments } from './treatment-schemas.js';
import { schemaOf } from './proved.js';
import { MAX_CANVAS_PIXELS, placementSchema } from './requirement-schema.js';

const guideSchema = yup
  .object({ axis: choice('Guide', ['x', 'y']).required(), at: finite('Guide', -100_000, 100_000).required() })
  .noUnknown();
const guides = () => optionalList(guideSchema.required(), 100, 'At most 100 guides.');

const exceptionSchema = yup
  .object({
    place: placeSchema.default(undefined).optional(),
    hidden: flag('Hidden').optional(),
    colours: recordOf(colour('Colour').required(), 60, 'Colours are pairs like {"#1f2b4d": "#ffffff"}.').optional(),
    treatments: optionalTreatments(),
  })
  .noUnknown();

const exceptions = () =>
  recordOf(
    exceptionSchema.required(),
    MAX_LAYERS,
    'A target’s exceptions are {place, hidden, colours, treatments} by layer id.',
  );

/** What a target does differently on light or on dark cloth. */
const versionSchema = yup
  .object({
    garment: colour('Garment colour').optional(),
    keyline: keylineSchema.nullable().optional(),
    layers: exceptions().required('A version needs its exceptions (layers), {} for none.'),
  })
  .noUnknown()
  .default(undefined)
  .optional();

const acceptedSchema = yup
  .object({
    code: text('Finding', 40).required(),
    layerId: identifier().nullable().defined(),
    cloth: choice('Version', ['light', 'dark'] as const)
      .nullable()
      .defined(),
    reason: text('Reason', 300).defined(),
    about: text('About', 64).required(),
  })
  .noUnknown();

export const targetSchema = yup
  .object({
    requirementId: identifier().required(),
    placement: placementSchema.default(undefined).optional(),
    canvas: yup
      .object({
        widthPx: finite('Width', 16, 30_000).integer('Width must be whole pixels.').required(),
        heightPx: finite('Height', 16, 30_000).integer('Height must be whole pixels.').required(),
        dpi: finite('DPI', 30, 2400).required(),
      })
      .noUnknown()
      .default(undefined)
      .optional()
      .test(
        'pixels',
        'A canvas has at most 120 million pixels.',
        (c) => !c || c.widthPx * c.heightPx <= MAX_CANVAS_PIXELS,
      ),
    repeat: yup
      .object({
        kind: choice('Repeat', REPEAT_KINDS).required(),
        gapMm: finite('Gap of the repeat, mm', 0, 2000).required(),
      })
      .noUnknown()
      .default(undefined)
      .optional(),
    garment: colour('Garment colour').optional(),
    guides: guides(),
    layers: exceptions().optional(),
    keyline: keylineSchema.nullable().optional(),
    accepted: optionalList(acceptedSchema.required(), 200, 'At most 200 findings of a target are accepted.'),
    leftOut: optionalList(colour('Garment colour').required(), 100, 'At most 100 colours are left out.'),
    versions: yup
      .object({ light: versionSchema, dark: versionSchema })
      .noUnknown('A target has versions for light and for dark cloth alone.')
      .default(undefined)
      .optional(),
  })
  .noUnknown();

/** A document as it is stored. `repeat` is set on a design as a target sees it, and never kept. */
export const designSchema = schemaOf<Omit<DesignDocument, 'repeat'>>()(
  yup
    .object({
      version: yup.number<1>().oneOf([1], 'This design was written by another version of Kettle Sheet.').required(),
      name: text('Name', 120).required('Name the design.'),
      field: yup
        .object({
          width: finite('Field width', 1, 10_000).required(),
          height: finite('Field height', 1, 10_000).required(),
        })
        .noUnknown()
        .required(),
      layers: list(layerSchema, MAX_LAYERS, `A design holds at most ${MAX_LAYERS} layers.`),
      targets: list(targetSchema.required(), 100, 'A design has at most 100 targets.'),
      scene: sceneSchema,
      scenes: keptScenesSchema,
      clips: clipsSchema,
      keyline: keylineSchema.optional(),
      keylines: recordOf(
        keylineSchema.required(),
        MAX_LAYERS,
        'Keylines of groups are {hex, width, gap, join, holes} by key.',
      ).optional(),
      groups: recordOf(text('Group name', 200).required(), MAX_LAYERS, 'Groups are names by key.').optional(),
      guides: guides(),
      template: flag('Template').optional(),
    })
    .noUnknown()
    .required(),
);
