import * as yup from 'yup';
import { BLEND_MODES, type InkScreen } from '@kettle/core/raster';
import { MAX_LETTERS } from '@kettle/core/text';
import type { FreehandLayer, GraphicLayer, Layer, PictureLayer, ShapeLayer, TextLayer } from '@kettle/core/model';
import { MAX_STROKE_POINTS, MAX_STROKES, SHAPE_KINDS } from '@kettle/core/drawing';
import {
  choice,
  colour,
  finite,
  flag,
  identifier,
  list,
  maybeOfKinds,
  numbers,
  ofKinds,
  paint,
  pathData,
  text,
} from './fields.js';
import { schemaOf } from './proved.js';
import { optionalTreatments } from './treatment-schemas.js';

export const placeSchema = yup
  .object({
    x: finite('Position across', -100_000, 100_000).required(),
    y: finite('Position down', -100_000, 100_000).required(),
    width: finite('Width', 0.01, 100_000).required(),
    height: finite('Height', 0.01, 100_000).required(),
    turn: finite('Turn', -3600, 3600).required(),
    flipX: flag('Flip').required(),
    flipY: flag('Flip').required(),
  })
  .noUnknown();

export const letteringSettingsSchema = yup
  .object({
    spacing: finite('Letter spacing', -50, 300).required(),
    lineSpacing: finite('Line spacing', 30, 400).required(),
    align: choice('Alignment', ['left', 'middle', 'right']).required(),
    bend: finite('Bend', -360, 360).required(),
    circle: finite('Circle', -20_000, 20_000).optional(),
    caps: flag('Upper case').optional(),
  })
  .noUnknown();

/** A line around a shape or letters. */
export const outlineSchema = yup
  .object({
    hex: colour('Outline').required(),
    width: finite('Outline width', 0.05, 200).required(),
    dash: choice('Dash', ['solid', 'dashed', 'dotted']).required(),
    side: choice('Outline side', ['inside', 'centre', 'outside']).optional(),
    join: choice('Outline join', ['round', 'bevel', 'mitre']).optional(),
  })
  .noUnknown();

export const partSchema = yup
  .object({
    path: pathData(100_000).required(),
    fill: paint('Fill').defined(),
    rule: choice('Rule', ['evenodd']).optional(),
  })
  .noUnknown();

/** What a stroke of the brush and one of the eraser have in common. */
const stroke = (leastSize: number) => ({
  points: numbers('Points', -1_000_000, 1_000_000)
    .required()
    .test(
      'count',
      `A stroke has 1 to ${MAX_STROKE_POINTS} points, each as x, y and pressure.`,
      (points) =>
        points === undefined ||
        (points.length >= 3 && points.length <= 3 * MAX_STROKE_POINTS && points.length % 3 === 0),
    ),
  size: finite('Brush size', leastSize, 1000).required(),
  hardness: finite('Hardness', 0, 1).required(),
  opacity: finite('Stroke opacity', 0, 1).required(),
});

export const strokeSchema = yup
  .object({
    ...stroke(0.01),
    hex: colour('Brush colour').required(),
    erase: flag('Erase').required(),
  })
  .noUnknown();

const boxSchema = yup
  .object({
    x: finite('Box', -100_000, 100_000).required(),
    y: finite('Box', -100_000, 100_000).required(),
    width: finite('Box width', 0.001, 100_000).required(),
    height: finite('Box height', 0.001, 100_000).required(),
  })
  .noUnknown();

/** A line around everything that is seen of something. */
export const keylineSchema = yup
  .object({
    hex: colour('Keyline').required(),
    width: finite('Keyline width', 0.05, 100).required(),
    gap: finite('Keyline gap', 0, 100).required(),
    join: choice('Keyline corners', ['round', 'sharp']).required(),
    holes: choice('Keyline holes', ['filled', 'kept']).required(),
  })
  .noUnknown()
  .default(undefined);

/** How semi-transparent ink is printed. */
const SOLID = yup
  .object({
    kind: choice('Semi-transparent ink', ['solid']).required(),
    threshold: finite('Solid from', 0, 1).required(),
  })
  .noUnknown()
  .required();
const DOTS = yup
  .object({
    kind: choice('Semi-transparent ink', ['dots']).required(),
    lpi: finite('Rows of dots an inch', 5, 200).required(),
    angle: finite('Angle of the dots', -360, 360).required(),
    shape: choice('Dots', ['round', 'line', 'diamond']).required(),
  })
  .noUnknown()
  .required();

const screenSchema = maybeOfKinds<InkScreen['kind'], yup.Schema<InkScreen>>(
  { solid: SOLID, dots: DOTS },
  {
    none: 'Semi-transparent ink is {kind: solid, threshold} or {kind: dots, lpi, angle, shape}.',
    unknown: 'Say how semi-transparent ink is printed.',
  },
);

/** What every kind of layer has. */
const ANY = {
  id: identifier().required(),
  name: text('Layer name', 200).required('Name the layer.'),
  place: placeSchema.required(),
  opacity: finite('Opacity', 0, 1).required(),
  hidden: flag('Hidden').required(),
  locked: flag('Locked').optional(),
  blend: choice('Blend mode', BLEND_MODES).optional(),
  group: identifier().optional(),
  keyline: keylineSchema.optional(),
  rubbed: yup
    .array()
    .of(yup.object(stroke(0)).noUnknown().required())
    .min(1)
    .max(MAX_STROKES, `The eraser can be used ${MAX_STROKES} times on a layer.`)
    .optional(),
  important: yup
    .array()
    .of(finite('Important part', 0, 8).integer().required())
    .min(1)
    .max(9)
    .optional(),
  screen: screenSchema,
};

/** A size of outlines in their own units. */
const size = (label: string) => ({
  width: finite(`${label} width`, 0.001, 100_000).required(),
  height: finite(`${label} height`, 0.001, 100_000).required(),
});

/** A shape's numbers by their keys. */
const parameters = () =>
  yup
    .mixed<Record<string, number>>()
    .test(
      'numbers',
      'The numbers of a shape are finite.',
      (value) =>
        value === undefined ||
        (typeof value === 'object' &&
          value !== null &&
          Object.values(value).every((one) => typeof one === 'number' && Number.isFinite(one))),
    );

/** Fields that only one kind of layer has, each needed by it. A null fill or outline is none. */
const OWN = {
  picture: {
    assetId: identifier().required('A picture needs its artwork file (assetId).'),
    treatments: optionalTreatments(),
  },
  shape: {
    shape: choice('Shape', SHAPE_KINDS).required('A shape needs its kind of shape (shape).'),
    parameters: parameters().required('A shape needs its numbers (parameters).'),
    fill: paint('Fill').defined('A shape needs its fill, or null for none.'),
    outline: outlineSchema.nullable().default(undefined).defined('A shape needs its outline, or null for none.'),
  },
  text: {
    text: yup
      .string()
      .defined('Lettering needs its text.')
      .max(MAX_LETTERS, `Lettering holds at most ${MAX_LETTERS} letters.`),
    missing: yup.string().max(MAX_LETTERS).optional(),
    fontId: identifier().required('Lettering needs its font (fontId).'),
    settings: letteringSettingsSchema.default(undefined).required('Lettering needs its settings.'),
    outlines: yup
      .object({ path: pathData(1_500_000).required(), ...size('Outlines') })
      .noUnknown()
      .default(undefined)
      .required('Lettering needs its outlines.'),
    fill: paint('Fill').defined('Lettering needs its fill, or null for none.'),
    outline: outlineSchema.nullable().default(undefined).defined('Lettering needs its outline, or null for none.'),
  },
  graphic: {
    graphic: identifier().required('A graphic needs its name in the library (graphic).'),
    box: yup.object(size('Box')).noUnknown().default(undefined).required('A graphic needs the box of its parts.'),
    parts: list(partSchema.required(), 300, 'A graphic has at most 300 parts.'),
  },
  freehand: {
    frame: boxSchema.default(undefined).required('A drawing needs its frame.'),
    strokes: list(
      strokeSchema.required(),
      MAX_STROKES,
      `A freehand layer holds at most ${MAX_STROKES} strokes. Begin a new one.`,
    ),
  },
} as const;

const ofKind = <K extends Layer['kind'], Own extends yup.ObjectShape>(kind: K, own: Own) =>
  yup
    .object({ kind: choice('Kind', [kind]).required(), ...ANY, ...own })
    .noUnknown(({ unknown }: { unknown?: string }) => `A ${kind} layer has no field “${unknown}”.`)
    .required();

/** One schema for each kind of layer. */
export const LAYER_SCHEMAS = {
  picture: schemaOf<PictureLayer>()(ofKind('picture', OWN.picture)),
  shape: schemaOf<ShapeLayer>()(ofKind('shape', OWN.shape)),
  text: schemaOf<TextLayer>()(ofKind('text', OWN.text)),
  graphic: schemaOf<GraphicLayer>()(ofKind('graphic', OWN.graphic)),
  freehand: schemaOf<FreehandLayer>()(ofKind('freehand', OWN.freehand)),
} satisfies Readonly<Record<Layer['kind'], yup.Schema>>;

/** A layer, by its kind. */
export const layerSchema = ofKinds<Layer['kind'], yup.Schema<Layer>>(LAYER_SCHEMAS, {
  none: 'A layer is an object.',
  unknown: 'A layer says its kind.',
});
