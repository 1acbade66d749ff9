import type * as yup from 'yup';
import type { Typed } from './fields.js';

/** A type that names all of its keys, so that a field that may be left out has to be known to both sides all the same. */
type Whole<T> = T extends string | number | boolean | null | undefined
  ? T
  : T extends readonly (infer Item)[]
    ? readonly Whole<Item>[]
    : {
        readonly [K in keyof T]-?:
          Whole<Exclude<T[K], undefined>> | (undefined extends T[K] ? 'may be missing' : never);
      };

type Proof<Model, Told> = [Whole<Model>] extends [Whole<Told>]
  ? [Whole<Told>] extends [Whole<Model>]
    ? unknown
    : { readonly 'what the schema tells is no such thing': Whole<Told> }
  : { readonly 'the schema does not know all of the model': Whole<Told> };

type KeysOf<T> = T extends unknown ? keyof T : never;
type FieldOf<T, K extends PropertyKey> = T extends unknown ? (K extends keyof T ? T[K] : undefined) : never;

/** The fields of all kinds of a union in one object, as a schema has them that asks only then whether they go together. */
type Merged<Model> =
  { readonly [K in KeysOf<NonNullable<Model>>]: FieldOf<NonNullable<Model>, K> } | Extract<Model, undefined>;

/**
 * A schema of a type of core: it compiles only while both have the same fields of the same types. Whoever adds a field to
 * the model and forgets its schema is told here.
 * @example export const placeSchema = schemaOf<LayerPlace>()(yup.object({ … }));
 */
export const schemaOf =
  <Model>() =>
  <S extends Typed>(schema: S & Proof<Model, yup.InferType<S>>): yup.Schema<Model> =>
    schema as unknown as yup.Schema<Model>;

/** The same of a union whose schema has the fields of all its kinds, and a test of its own which of them go together. */
export const schemaOfMerged =
  <Model>() =>
  <S extends Typed>(schema: S & Proof<Merged<Model>, yup.InferType<S>>): yup.Schema<Model> =>
    schema as unknown as yup.Schema<Model>;
