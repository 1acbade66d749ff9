import * as yup from 'yup';
import { LENGTH_UNITS } from '@kettle/core/units';
import {
  ANCHORS,
  COLOUR_MODES,
  demandedCanvas,
  FILE_TYPES,
  INTENTS,
  PLACEMENT_RULES,
  PRINT_PROCESSES,
  SIZE_RULES,
  TIFF_PACKINGS,
  TRANSPARENCIES,
  type RequirementFields,
} from '@kettle/core/model';
import { cannotBeMet } from '@kettle/core/requirement';
import { choice, colour, finite, flag, identifier, list, outline, text } from './fields.js';
import { schemaOf } from './proved.js';
import { refuse } from './refuse.js';

/** Print canvases above this many pixels are refused: they would not fit a worker's memory. */
export const MAX_CANVAS_PIXELS = 120_000_000;

export const placementSchema = yup
  .object({
    rule: choice('Rule', PLACEMENT_RULES).required(),
    anchor: choice('Anchor', ANCHORS).required(),
    scale: finite('Scale', 0.01, 100).required(),
    offsetX: finite('Offset across', -10_000, 10_000).required(),
    offsetY: finite('Offset down', -10_000, 10_000).required(),
  })
  .noUnknown();

export const colourwaySchema = yup
  .object({ name: text('Colour name', 60).required('Give the colour a name.'), hex: colour('Colour').required() })
  .noUnknown();

const limit = (label: string, most: number) => finite(label, 0, most).nullable().optional();

/** Limits of a requirement's own, instead of those of its process. */
export const limitsSchema = yup
  .object({
    lineMm: limit('Thinnest line', 20),
    letterMm: limit('Smallest letters', 50),
    speckMm: limit('Smallest dot', 20),
    fadeMm: limit('Widest fade', 1000),
    coverage: limit('Ink coverage', 400),
  })
  .noUnknown();

export const conversionSchema = yup
  .object({
    profile: identifier().nullable().defined(),
    intent: choice('Rendering intent', INTENTS).required(),
    blackPoint: flag('Black point compensation').required(),
  })
  .noUnknown();

/** The piece of cloth a requirement is for. */
const panelSchema = yup
  .object({
    areaId: identifier().required(),
    cut: outline('Cut', 3).required(),
    lines: yup
      .array()
      .of(
        yup
          .object({
            name: choice('Line', ['collar', 'shoulder', 'armhole', 'side', 'hem']).required(),
            points: outline('Line', 2).required(),
          })
          .noUnknown()
          .required(),
      )
      .max(60, 'A panel has at most 60 lines.')
      .required(),
    insetMm: finite('Distance from the cut', 0, 500).required(),
  })
  .noUnknown();

export const requirementFields = yup
  .object({
    channel: text('Channel', 80).required('Name the channel.'),
    name: text('Name', 80).required('Name the requirement.'),
    product: text('Product', 80).defined(),
    width: finite('Width', 0.01, 100_000).required('Give a width.'),
    height: finite('Height', 0.01, 100_000).required('Give a height.'),
    unit: choice('Unit', LENGTH_UNITS).required(),
    dpi: finite('DPI', 30, 2400).required('Give the DPI.'),
    mode: choice('Colour mode', COLOUR_MODES).required(),
    transparency: choice('Transparency', TRANSPARENCIES).required(),
    fileTypes: yup
      .array(choice('File type', FILE_TYPES).required())
      .min(1, 'Choose at least one file type.')
      .required(),
    maxBytes: finite('Byte limit', 1000, 2_000_000_000).integer('Byte limit must be whole bytes.').nullable().defined(),
    preferred: choice('Preferred file type', FILE_TYPES).optional(),
    packing: choice('TIFF packing', TIFF_PACKINGS).optional(),
    ground: colour('Ground').optional(),
    conversion: conversionSchema.optional().default(undefined),
    process: choice('Process', PRINT_PROCESSES).optional(),
    limits: limitsSchema.optional().default(undefined),
    bleedMm: finite('Bleed', 0, 100).optional(),
    mirrored: flag('Mirrored').optional(),
    panel: panelSchema.optional().default(undefined),
    sizeRule: choice('Size rule', SIZE_RULES).required(),
    safeInsetMm: finite('Safe inset', 0, 500).required(),
    placement: placementSchema.required(),
    colourways: list(colourwaySchema.required(), 60, 'At most 60 garment colours.', {
      count: 1,
      sentence: 'Give at least one garment colour.',
    }),
    note: text('Note', 2000).defined(),
  })
  .noUnknown()
  .test('bleed', 'The bleed leaves nothing of the canvas.', function leavesSomething(value) {
    const { bleedMm, width, height, unit, dpi } = value;
    if (!bleedMm || !unit || ![width, height, dpi].every((number) => number > 0)) return true;
    const canvas = demandedCanvas({ width, height, unit, dpi });
    return (
      bleedMm * 2 < Math.min(canvas.widthMm, canvas.heightMm) ||
      this.createError({ path: 'bleedMm', message: 'The bleed leaves nothing of the canvas.' })
    );
  })
  .test('canvas', function canvasFits(value) {
    const { width, height, unit, dpi } = value;
    if (![width, height, dpi].every((number) => number > 0 && Number.isFinite(number)) || !unit) return true;
    const canvas = demandedCanvas({ width, height, unit, dpi });
    if (canvas.widthPx * canvas.heightPx > MAX_CANVAS_PIXELS || Math.max(canvas.widthPx, canvas.heightPx) > 30_000) {
      return this.createError({
        path: 'width',
        message: `That would be ${canvas.widthPx} × ${canvas.heightPx} px. A canvas has at most 30000 px a side and 120 million in all.`,
      });
    }
    return (
      Math.min(canvas.widthPx, canvas.heightPx) >= 16 ||
      this.createError({
        path: 'width',
        message: `That would be only ${canvas.widthPx} × ${canvas.heightPx} px. A canvas has at least 16 px a side.`,
      })
    );
  })
  .test('met', function canBeMet(value) {
    const { width, height, unit, dpi, mode, transparency, safeInsetMm } = value;
    const numbers = [width, height, dpi, safeInsetMm].every((number) => Number.isFinite(number) && number >= 0);
    if (!numbers || !unit || !mode || !transparency || !Array.isArray(value.fileTypes) || !value.fileTypes.length)
      return true;
    const fault = cannotBeMet(value as RequirementFields);
    return !fault || this.createError({ path: fault.field, message: fault.sentence });
  });

/** A requirement as a seller writes it, with the limits that keep it sensible. */
export const requirementSchema = schemaOf<RequirementFields>()(requirementFields);

/** Sentences for the fields of a requirement, or null when it is fine. */
export const refuseRequirement = (fields: RequirementFields): Record<string, string> | null =>
  refuse(requirementSchema, fields);
