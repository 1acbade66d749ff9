import * as yup from 'yup';
import { isHex } from '@kettle/core/colour';
import {
  LEAST_PICTURE,
  LEAST_PICTURE_DPI,
  MOST_PICTURE_DPI,
  MAX_STOPS,
  MOST_PICTURE,
  PICTURE_SIZES,
  type Paint,
} from '@kettle/core/model';
import { MOST_MONEY } from '@kettle/core/listing';

export const finite = (label: string, least: number, most: number) =>
  yup
    .number()
    .typeError(`${label} must be a number.`)
    .min(least, `${label} must be at least ${least}.`)
    .max(most, `${label} must be at most ${most}.`)
    .test(
      'finite',
      `${label} must be a number.`,
      (value) => value === undefined || value === null || Number.isFinite(value),
    );
export const whole = (label: string, least: number, most: number) =>
  finite(label, least, most).integer(`${label} must be a whole number.`);
/** Minor units of a currency. */
export const money = (label: string) => whole(label, 0, MOST_MONEY);
export const text = (label: string, most: number) =>
  yup.string().strict().typeError(`${label} must be text.`).max(most, `${label} must be at most ${most} letters long.`);
export const choice = <T extends string>(label: string, values: readonly T[]) =>
  yup.string<T>().oneOf(values, `${label} must be one of ${values.join(', ')}.`);
export const colour = (label: string) =>
  yup.string().matches(/^#[0-9a-fA-F]{6}$/, `${label} must be a colour like #1f2b4d.`);
export const identifier = () =>
  yup
    .string()
    .matches(/^[A-Za-z0-9_-]{1,64}$/, 'An id has up to 64 letters, digits, hyphens and underscores.')
    .test(
      'own',
      'This id is the name of something that every object has. Choose another.',
      (value) => value === undefined || value === null || !(value in Object.prototype),
    );

/** Any schema that says what it is of. */
export type Typed<T = unknown> = yup.ISchema<T, yup.AnyObject>;

interface Least {
  readonly count: number;
  readonly sentence: string;
}

function sized(of: Typed, most: number, sentence: string, least?: Least) {
  const bare = least ? yup.array().min(least.count, least.sentence) : yup.array();
  return (value: unknown) => {
    const bounded = bare.max(most, sentence);
    return Array.isArray(value) && value.length > most ? bounded : bounded.of(of);
  };
}

/** A list whose length is checked before anything in it: a long list of nonsense costs no more than its length. */
export function list<S extends Typed>(of: S, most: number, sentence: string, least?: Least) {
  const bounded = sized(of, most, sentence, least);
  return yup.lazy((value: unknown) => bounded(value).required()) as unknown as Typed<readonly yup.InferType<S>[]>;
}

/** The same where it may be left out. */
export function optionalList<S extends Typed>(of: S, most: number, sentence: string) {
  const bounded = sized(of, most, sentence);
  return yup.lazy((value: unknown) =>
    value === undefined ? bounded(value).optional() : bounded(value).required(),
  ) as unknown as Typed<readonly yup.InferType<S>[] | undefined>;
}

/**
 * One of several objects, told apart by their `kind`.
 * @param kinds each with its own `kind` as its only one
 * @param complaints sentences for what is no object, and for one without a kind
 */
export function ofKinds<K extends string, S extends Typed>(
  kinds: Readonly<Record<K, S>>,
  complaints: { readonly none: string; readonly unknown: string },
): Typed<yup.InferType<S>> {
  const names = Object.keys(kinds) as K[];
  const unknown = yup
    .object({ kind: choice('Kind', names).required(complaints.unknown) })
    .required(complaints.none)
    .meta({ anyOf: Object.values(kinds) });
  return yup.lazy((value: unknown) => {
    const kind = typeof value === 'object' && value !== null ? (value as { kind?: unknown }).kind : undefined;
    return names.includes(kind as K) ? kinds[kind as K] : unknown;
  }) as unknown as Typed<yup.InferType<S>>;
}

/** The same where it may be left out. */
export const maybeOfKinds = <K extends string, S extends Typed>(
  kinds: Readonly<Record<K, S>>,
  complaints: Parameters<typeof ofKinds>[1],
) => (ofKinds(kinds, complaints) as unknown as { optional(): Typed<yup.InferType<S> | undefined> }).optional();

/** Numbers in a plain loop: a drawing has tens of thousands. */
export const numbers = (label: string, least: number, most: number) =>
  yup
    .mixed<readonly number[]>()
    .meta({ items: yup.number().min(least).max(most) })
    .test(
      'numbers',
      `${label} must be numbers from ${least} to ${most}.`,
      (value) =>
        value === undefined ||
        (Array.isArray(value) && value.every((one) => typeof one === 'number' && one >= least && one <= most)),
    );
/** What becomes of a picture after it is drawn. */
export const pictureSizeSchema = yup
  .number()
  .oneOf([...PICTURE_SIZES], `Size must be one of ${PICTURE_SIZES.join(', ')} px.`)
  .required();

export const pictureFitSchema = yup
  .object({
    longest: finite('Longest side', LEAST_PICTURE, MOST_PICTURE).integer('Pixels are whole.').optional(),
    frame: yup
      .object({
        width: finite('Frame width', LEAST_PICTURE, MOST_PICTURE).integer('Pixels are whole.').required(),
        height: finite('Frame height', LEAST_PICTURE, MOST_PICTURE).integer('Pixels are whole.').required(),
      })
      .noUnknown()
      .default(undefined)
      .optional(),
    maxBytes: finite('Byte limit', 5000, 100_000_000).integer('Bytes are whole.').optional(),
    dpi: finite('DPI', LEAST_PICTURE_DPI, MOST_PICTURE_DPI).integer('DPI are whole.').optional(),
  })
  .noUnknown();

export const flag = (label: string) => yup.boolean().strict().typeError(`${label} must be true or false.`);

/** An object of like values under free keys. */
export const recordOf = <S extends Typed>(schema: S, most: number, sentence: string) =>
  yup
    .mixed<Readonly<Record<string, yup.InferType<S>>>>()
    .meta({ values: schema })
    .test('record', sentence, function each(value) {
      if (value === undefined) return true;
      const entries =
        typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.entries(value) : null;
      return (
        entries !== null &&
        entries.length <= most &&
        entries.every(
          ([key, one]) =>
            /^[A-Za-z0-9_#-]{1,64}$/.test(key) &&
            (schema as unknown as yup.AnySchema).isValidSync(one, { strict: true }),
        )
      );
    });

export const stopSchema = yup
  .object({
    at: finite('Stop', 0, 1).required(),
    hex: colour('Stop colour').required(),
    opacity: finite('Stop opacity', 0, 1).required(),
  })
  .noUnknown();

export const gradientSchema = yup
  .object({
    kind: choice('Gradient', ['linear', 'radial']).required(),
    turn: finite('Turn', -3600, 3600).required(),
    stops: list(stopSchema.required(), MAX_STOPS, `A gradient has at most ${MAX_STOPS} stops.`, {
      count: 2,
      sentence: 'A gradient has at least two stops.',
    }),
  })
  .noUnknown();

/** A colour, a gradient, or null for none. */
export const paint = (label: string) =>
  yup
    .mixed<Paint>()
    .nullable()
    .test(
      'paint',
      `${label} must be a colour like #1f2b4d or a gradient.`,
      (value) =>
        value === undefined ||
        value === null ||
        (typeof value === 'string' ? isHex(value) : gradientSchema.isValidSync(value, { strict: true })),
    );

export const pathData = (most: number) =>
  yup
    .string()
    .max(most, 'These outlines are too long.')
    .matches(/^[MLHVQCSTAZmlhvqcstaz0-9 .,eE+-]+$/, 'Outlines are SVG path data.');

/** Points in mm. */
export const outline = (label: string, least: number) =>
  yup
    .array(
      yup
        .array(finite(`${label}, mm`, -1000, 20_000).required())
        .length(2, `${label}: a point is two lengths.`)
        .required(),
    )
    .min(least, `${label}: an outline has ${least} points or more.`)
    .max(5000, `${label}: an outline has at most 5,000 points.`);

/** Ids of designs that something is done to at once. */
export const someDesigns = () =>
  list(identifier().required(), 2000, 'At most 2,000 designs at once.', {
    count: 1,
    sentence: 'Choose at least one design.',
  });
