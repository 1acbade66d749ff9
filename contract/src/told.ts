import * as yup from 'yup';
import { identifier, type Typed } from './fields.js';

// Fields of answers. They say what is, not what may be asked: no sentences, and nothing beside what is named.

/** An object with these fields and no others. */
export const record = <Shape extends yup.ObjectShape>(shape: Shape) => yup.object(shape).noUnknown().required();

export const told = {
  id: () => identifier().required(),
  /** May be empty. */
  text: () => yup.string().strict().defined(),
  /** One of a few words that core names. */
  word: <T extends string>() => yup.string<T>().required(),
  oneOf: <T extends string>(...words: readonly T[]) =>
    yup
      .string<T>()
      .oneOf([...words])
      .required(),
  number: () => yup.number().required(),
  whole: () => yup.number().integer().required(),
  flag: () => yup.boolean().required(),
  /** ISO 8601, UTC. */
  time: () =>
    yup
      .string()
      .matches(/^\d{4}-\d\d-\d\dT[\d:.]+Z$/)
      .required(),
  /** Hex. */
  sha256: () => yup.string().length(64).required(),
  list: <S extends Typed>(of: S) =>
    yup
      .array()
      .of(of as unknown as yup.AnySchema)
      .required() as unknown as yup.Schema<readonly yup.InferType<S>[]>,
  /** An object of like values under free keys. */
  byKey: <S extends Typed>(of: S) =>
    yup
      .mixed<Readonly<Record<string, yup.InferType<S>>>>()
      .required()
      .meta({ values: of })
      .test(
        'values',
        'has values of another kind',
        (value) =>
          typeof value === 'object' &&
          Object.values(value as object).every((one) =>
            (of as unknown as yup.AnySchema).isValidSync(one, { strict: true }),
          ),
      ),
};

/** What may be absent. */
export const maybe = <S extends Typed>(of: S) =>
  (of as unknown as yup.AnySchema).default(undefined).optional() as unknown as yup.Schema<yup.InferType<S> | undefined>;

/** What may be null. */
export const orNull = <S extends Typed>(of: S) =>
  (of as unknown as yup.AnySchema).nullable() as unknown as yup.Schema<yup.InferType<S> | null>;

/** Something the seller keeps, with its edition. */
export const KEPT = { id: told.id(), revision: told.whole() };
/** The same of what also ships: shipped ones stay as they are. */
export const OWN = { ...KEPT, shipped: told.flag() };

export const boxSchema = record({
  x: told.number(),
  y: told.number(),
  width: told.number(),
  height: told.number(),
});
export const colourwayTold = record({ name: told.text(), hex: told.text() });
