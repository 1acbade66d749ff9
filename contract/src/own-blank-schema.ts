import { MOST_GRID, OWN_PRODUCTS, type AreaShape, type OwnBlankSource } from '@kettle/core/own-blank';
import * as yup from 'yup';
import { choice, finite, flag, identifier, list, ofKinds, text } from './fields.js';
import { schemaOf } from './proved.js';
import { treatmentsSchema } from './treatment-schemas.js';

/** A place on a photo; a little beyond it is allowed, as an area may be cut off by the picture. */
const placeSchema = yup
  .object({ x: finite('Point', -0.5, 1.5).required(), y: finite('Point', -0.5, 1.5).required() })
  .noUnknown()
  .required();
const corners = () =>
  list(placeSchema, 4, 'A print area has four corners.', { count: 4, sentence: 'A print area has four corners.' });
const side = (label: string) => finite(label, 2, MOST_GRID).integer('Points are counted whole.').required();

const shapeSchemas = {
  corners: yup.object({ kind: choice('Shape', ['corners']).required(), corners: corners() }).noUnknown(),
  grid: yup
    .object({
      kind: choice('Shape', ['grid']).required(),
      columns: side('Columns'),
      rows: side('Rows'),
      points: list(placeSchema, MOST_GRID ** 2, `A grid has at most ${MOST_GRID ** 2} points.`),
    })
    .noUnknown(),
  cylinder: yup
    .object({
      kind: choice('Shape', ['cylinder']).required(),
      corners: corners(),
      sag: finite('Bulge', -0.5, 0.5).required(),
      arc: finite('Degrees', 20, 175).required(),
      shows: list(finite('Shown part', 0, 1).required(), 2, 'From and to.', { count: 2, sentence: 'From and to.' }),
    })
    .noUnknown(),
} as const;

const shapeSchema = schemaOf<AreaShape>()(
  ofKinds<AreaShape['kind'], (typeof shapeSchemas)[AreaShape['kind']]>(shapeSchemas, {
    none: 'A print area has its corners, a grid or a cylinder.',
    unknown: 'A print area says its kind: corners, grid or cylinder.',
  }),
);

/** Everything an own blank is made from. */
export const ownBlankSchema = schemaOf<OwnBlankSource>()(
  yup
    .object({
      name: text('Name', 120).required('Name the blank.'),
      product: choice('Product', Object.keys(OWN_PRODUCTS)).required(),
      assetId: identifier().required('Choose a photo.'),
      treatments: treatmentsSchema(),
      shape: shapeSchema,
      widthMm: finite('Width of the print area, mm', 5, 3000).required(),
      heightMm: finite('Height of the print area, mm', 5, 3000).required(),
      inRoom: flag('In its room').required(),
      folds: finite('Folds', 0, 1).required(),
      anyColour: flag('Any colour').required(),
    })
    .noUnknown(),
);
