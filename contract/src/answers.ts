import * as yup from 'yup';
import { choice, identifier } from './fields.js';
import { designSchema } from './design-schema.js';
import { partSchema } from './layer-schemas.js';
import { requirementSchema } from './requirement-schema.js';

const requirementRow = requirementSchema
  .clone()
  .shape({ id: identifier().required(), revision: yup.number().integer().required() });

const designRow = yup.object({
  id: identifier().required(),
  revision: yup.number().integer().required(),
  savedAt: yup.string().required(),
  document: designSchema.required(),
});

const assetRow = yup.object({
  id: identifier().required(),
  sha256: yup.string().length(64).required(),
  filename: yup.string().required(),
  bytes: yup.number().integer().required(),
  width: yup.number().integer().required(),
  height: yup.number().integer().required(),
  vector: yup.boolean().required(),
  dpi: yup.number().nullable().defined(),
  mode: yup.string().required(),
  hasAlpha: yup.boolean().required(),
  opaque: yup.boolean().required(),
  flatBorder: yup.string().nullable().defined(),
  format: yup.string().required(),
  conversions: yup.array(yup.string().required()).required(),
  inkBox: yup.object().nullable().defined(),
  inks: yup.array().required(),
  eye: yup.array(yup.number().required()).optional(),
  liveText: yup.array(yup.string().required()).optional(),
  outlined: yup.string().length(64).optional(),
  ownFamilies: yup.array(yup.string().required()).optional(),
});

const jobRow = yup.object({
  id: identifier().required(),
  kind: yup.string().required(),
  designId: identifier().nullable().defined(),
  designIds: yup.array(identifier().required()).required(),
  revision: yup.number().integer().required(),
  state: choice('State', ['queued', 'running', 'paused', 'done', 'failed', 'cancelled']).required(),
  done: yup.number().integer().required(),
  total: yup.number().integer().required(),
  within: yup.number().required(),
  message: yup.string().defined(),
  results: yup
    .array(
      yup
        .object({
          kind: yup.string().required(),
          id: identifier().required(),
        })
        .required(),
    )
    .required(),
});

const printFileRow = yup.object({
  id: identifier().required(),
  designId: identifier().required(),
  requirementId: identifier().required(),
  filename: yup.string().required(),
  sha256: yup.string().length(64).required(),
  bytes: yup.number().integer().required(),
  accepted: yup.boolean().required(),
  version: choice('Version', ['light', 'dark']).nullable().defined(),
  standsFor: yup.array(choice('Version', ['light', 'dark']).nullable().defined()).required(),
  outOfDate: yup.boolean().required(),
  madeAt: yup.string().required(),
  certificate: yup
    .array(
      yup
        .object({
          demand: yup.string().required(),
          demanded: yup.string().required(),
          found: yup.string().required(),
          ok: yup.boolean().required(),
          reason: yup.string().optional(),
        })
        .required(),
    )
    .required(),
});

const pictureRow = yup.object({
  id: identifier().required(),
  designId: identifier().required(),
  blankId: identifier().required(),
  colourway: yup.string().required(),
  garment: yup.string().required(),
  size: yup.number().required(),
  format: yup.string().required(),
  filename: yup.string().required(),
  bytes: yup.number().required(),
  outOfDate: yup.boolean().required(),
  madeAt: yup.string().required(),
});

const clipRow = yup.object({
  id: identifier().required(),
  designId: identifier().required(),
  clipId: identifier().required(),
  filename: yup.string().required(),
  bytes: yup.number().required(),
  mediaType: yup.string().required(),
  shape: yup.string().required(),
  file: yup.string().required(),
  cover: yup.boolean().required(),
  side: yup.number().required(),
  outOfDate: yup.boolean().required(),
  madeAt: yup.string().required(),
  certificate: yup.object().required(),
});

const findingRow = yup.object({
  code: yup.string().required(),
  severity: yup.string().required(),
  title: yup.string().required(),
  sentence: yup.string().required(),
  layerId: yup.string().nullable().defined(),
  where: yup.object().nullable().defined(),
  fix: yup.object().nullable().defined(),
});

const graphicRow = yup.object({
  id: identifier().required(),
  name: yup.string().required(),
  category: yup.string().required(),
  width: yup.number().required(),
  height: yup.number().required(),
  parts: yup.array(partSchema.required()).required(),
});

export const responseSchemas = {
  graphic: graphicRow,
  requirement: requirementRow,
  design: designRow,
  asset: assetRow,
  job: jobRow,
  printFile: printFileRow,
  picture: pictureRow,
  clip: clipRow,
  finding: findingRow,
} as const;
