import * as yup from 'yup';
import type { Point } from '@kettle/core/geometry';
import {
  MAX_SEED_POINTS,
  MAX_SEED_STROKES,
  MAX_TREATMENTS,
  MOST_SOFT_EDGE,
  type ColourCut,
  type Crop,
  type Dissolve,
  type EdgeWork,
  type StrokeCut,
  type Tone,
  type Touch,
  type Treatment,
} from '@kettle/core/model';
import { choice, colour, finite, flag, identifier, list, numbers, ofKinds, optionalList } from './fields.js';
import { schemaOf } from './proved.js';

const ANY = { id: identifier().required('A treatment needs an id.'), off: flag('Off').optional() };

const share = (label: string) => finite(label, 0, 1);

const points = () =>
  numbers('Points', -1, 2)
    .required('A stroke needs its points.')
    .test(
      'count',
      `A stroke has 1 to ${MAX_SEED_POINTS} points, each as x and y.`,
      (given) =>
        given === undefined || (given.length >= 2 && given.length <= 2 * MAX_SEED_POINTS && given.length % 2 === 0),
    );

const strokes = <Own extends yup.ObjectShape>(own: Own) =>
  list(
    yup
      .object({ ...own, points: points(), size: finite('Stroke width', 0.0005, 1).required() })
      .noUnknown()
      .required(),
    MAX_SEED_STROKES,
    `A treatment holds at most ${MAX_SEED_STROKES} strokes. Begin a new one.`,
  );

/** Fields of each kind of treatment. */
const OWN = {
  crop: {
    box: yup
      .object({
        x: share('Crop').required(),
        y: share('Crop').required(),
        width: finite('Crop width', 0.001, 1).required(),
        height: finite('Crop height', 0.001, 1).required(),
      })
      .noUnknown()
      .default(undefined)
      .required('A crop needs its box.')
      .test(
        'inside',
        'A crop lies inside its picture.',
        (box) => !box || (box.x + box.width <= 1.000001 && box.y + box.height <= 1.000001),
      ),
  },
  colour: {
    hex: colour('Colour').required(),
    tolerance: finite('Tolerance', 0, 255).required(),
    from: choice('Where', ['border', 'point', 'everywhere']).required(),
    at: yup
      .object({ x: share('Point').required(), y: share('Point').required() })
      .noUnknown()
      .default(undefined)
      .when('from', {
        is: 'point',
        then: (schema) => schema.required('Say where: a colour from a point needs that point (at).'),
        otherwise: (schema) => schema.optional(),
      }) as unknown as yup.Schema<Point | undefined>,
    soft: finite('Soft edge', 0, MOST_SOFT_EDGE).optional(),
  },
  strokes: {
    strokes: strokes({ keep: flag('Keep').required() }),
    hair: finite('Soft edge', 0, 0.1).required(),
    fine: flag('Fine').optional(),
    clean: finite('Clean', 0, 0.5).optional(),
    anew: finite('Decided anew', 0, 192).optional(),
  },
  dissolve: { hex: colour('Colour').required(), clean: finite('Clean', 0, 0.5).required() },
  edge: {
    shift: finite('Edge', -50, 50).required(),
    soften: finite('Softness', 0, 50).required(),
    smooth: finite('Smoothing', 0, 50).required(),
    decontaminate: share('Colour of the edge').required(),
    specks: finite('Specks', 0, 1_000_000).required(),
    pinholes: finite('Pinholes', 0, 1_000_000).required(),
  },
  touch: { strokes: strokes({ back: flag('Back').required(), hardness: share('Hardness').required() }) },
  tone: {
    lightness: finite('Lightness', -1, 1).required(),
    contrast: finite('Contrast', -1, 1).required(),
    saturation: finite('Saturation', -1, 1).required(),
    warmth: finite('Warmth', -1, 1).required(),
    hue: finite('Hue', -180, 180).required(),
    turnedOver: flag('Turned over').required(),
    ink: colour('Ink').nullable().defined('A tone needs its ink, or null for none.'),
    threshold: share('Threshold').nullable().defined('A tone needs its threshold, or null for none.'),
  },
} as const;

const ofKind = <K extends Treatment['kind'], Own extends yup.ObjectShape>(kind: K, own: Own) =>
  yup
    .object({ kind: choice('Kind', [kind]).required(), ...ANY, ...own })
    .noUnknown(({ unknown }: { unknown?: string }) => `A ${kind} treatment has no field “${unknown}”.`)
    .required();

/** A treatment, by its kind. */
export const treatmentSchema = ofKinds<Treatment['kind'], yup.Schema<Treatment>>(
  {
    crop: schemaOf<Crop>()(ofKind('crop', OWN.crop)),
    colour: schemaOf<ColourCut>()(ofKind('colour', OWN.colour)),
    strokes: schemaOf<StrokeCut>()(ofKind('strokes', OWN.strokes)),
    dissolve: schemaOf<Dissolve>()(ofKind('dissolve', OWN.dissolve)),
    edge: schemaOf<EdgeWork>()(ofKind('edge', OWN.edge)),
    touch: schemaOf<Touch>()(ofKind('touch', OWN.touch)),
    tone: schemaOf<Tone>()(ofKind('tone', OWN.tone)),
  },
  { none: 'A treatment is an object.', unknown: 'A treatment says its kind.' },
);

const MANY = `A picture has at most ${MAX_TREATMENTS} treatments.`;
export const treatmentsSchema = () => list(treatmentSchema, MAX_TREATMENTS, MANY);

/** The same where they may be left out. */
export const optionalTreatments = () => optionalList(treatmentSchema, MAX_TREATMENTS, MANY);
