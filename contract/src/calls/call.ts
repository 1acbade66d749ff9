import * as yup from 'yup';
import { identifier, type Typed } from '../fields.js';
import { told } from '../told.js';

/** A call of the HTTP interface: all that anybody has to know of it, said once. */
export interface Call {
  readonly summary: string;
  /** What else has to be known, for docs/api.md and the description. */
  readonly about?: string;
  /** What may stand behind the question mark. */
  readonly query?: yup.ObjectShape;
  /** True when If-Match has to say which revision was looked at. */
  readonly ifMatch?: true;
  /** True when X-Filename names what is sent. */
  readonly named?: true;
  readonly body?: Typed | 'binary';
  /** 200 when absent; 204 without an answer. */
  readonly status?: number;
  readonly answer?: Typed | 'binary' | 'events';
  /** Statuses of problem answers. */
  readonly problems?: readonly number[];
  /** What it leaves on the disk: refused (507) while there is no room for that. */
  readonly keeps?: 'files' | 'rows';
  /** Whoever reaches the server may make it; the seller alone when absent. */
  readonly who?: 'anybody';
}

export const call = <const C extends Call>(of: C): C => of;

export const listOf = told.list;

/**
 * Fields of a query. They are read kindly: what is not understood counts as not given. An id that is none leads nowhere,
 * and is refused.
 */
export const asked = {
  whole: (otherwise: number) =>
    yup
      .number()
      .transform((_value, raw: unknown) => (typeof raw === 'string' && /^\d{1,9}$/.test(raw) ? Number(raw) : otherwise))
      .default(otherwise),
  id: () =>
    identifier()
      .transform((_value, raw: unknown) => (typeof raw === 'string' ? raw : null))
      .nullable()
      .default(null),
  text: () => yup.string().transform((_value, raw: unknown) => (typeof raw === 'string' ? raw : undefined)),
  oneOf: <T extends string>(...words: readonly T[]) =>
    yup
      .string<T>()
      .transform((_value, raw: unknown) => (words.includes(raw as T) ? raw : undefined))
      .meta({ enum: words }),
  /** True when it stands there, whatever it says. */
  flag: () =>
    yup
      .boolean()
      .transform((_value, raw: unknown) => raw !== undefined)
      .default(false),
};
