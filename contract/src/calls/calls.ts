import type * as yup from 'yup';
import { ARTWORK_CALLS } from './artwork.js';
import { BECAME_CALLS } from './became.js';
import { BLANKS_CALLS } from './blanks.js';
import { CLIENT_PAGES_CALLS } from './client-pages.js';
import { CLIPS_CALLS } from './clips.js';
import { DESIGNS_CALLS } from './designs.js';
import { LIBRARY_CALLS } from './library.js';
import { LISTINGS_CALLS } from './listings.js';
import { MAKING_CALLS } from './making.js';
import { PICTURES_CALLS } from './pictures.js';
import { PRINT_RUNS_CALLS } from './print-runs.js';
import { REQUIREMENTS_CALLS } from './requirements.js';
import { SERVER_CALLS } from './server.js';
import { SHOP_ORDERS_CALLS } from './shop-orders.js';
import type { Call } from './call.js';

/**
 * Every call of the HTTP interface, by its method and path. The server's routes, the page's client, the OpenAPI description,
 * the list in docs/api.md and the types of all of them come from here.
 */
export const CALLS = {
  ...SERVER_CALLS,
  ...ARTWORK_CALLS,
  ...REQUIREMENTS_CALLS,
  ...DESIGNS_CALLS,
  ...MAKING_CALLS,
  ...PICTURES_CALLS,
  ...CLIPS_CALLS,
  ...LISTINGS_CALLS,
  ...SHOP_ORDERS_CALLS,
  ...CLIENT_PAGES_CALLS,
  ...PRINT_RUNS_CALLS,
  ...BECAME_CALLS,
  ...LIBRARY_CALLS,
  ...BLANKS_CALLS,
} satisfies Readonly<Record<string, Call>>;

type Calls = typeof CALLS;
/** Method and path, e.g. `get /api/designs/{id}`. */
export type CallName = keyof Calls;
export const CALL_NAMES = Object.keys(CALLS) as readonly CallName[];

/** A call by its name, as far as all are alike. */
export const callOf = (name: CallName): Call => CALLS[name];

/** @returns method in lower case, and path */
export function partsOf(name: CallName): { readonly method: 'get' | 'post' | 'put' | 'delete'; readonly path: string } {
  const [method, path] = name.split(' ');
  return { method: method as 'get', path };
}

type Holes<Path extends string> = Path extends `${string}{${infer Hole}}${infer Rest}` ? Hole | Holes<Rest> : never;
/** What stands in the braces of its path. */
export type PathOf<N extends CallName> = { readonly [Hole in Holes<N>]: string };

/** Its body as it was checked; bytes are a stream on the server. */
export type BodyOf<N extends CallName> = Calls[N] extends { readonly body: yup.ISchema<infer Body> } ? Body : never;

/** What a handler has to answer; nothing for what is a file, a stream or no answer at all. */
export type AnswerOf<N extends CallName> = Calls[N] extends { readonly answer: yup.ISchema<infer Answer> }
  ? Answer
  : void;

/** True for what is answered as a file or as events. */
export type IsSent<N extends CallName> = Calls[N] extends { readonly answer: string } ? true : false;

type ShapeOf<N extends CallName> = Calls[N] extends { readonly query: infer Shape extends yup.ObjectShape }
  ? Shape
  : Record<never, never>;
/** Its query as it was read. */
export type QueryOf<N extends CallName> = yup.InferType<yup.ObjectSchema<yup.TypeFromShape<ShapeOf<N>, yup.AnyObject>>>;

type Given<N extends CallName, Field extends string, Value> = Calls[N] extends { readonly [F in Field]: unknown }
  ? { readonly [F in Field]: Value }
  : unknown;

/** What a browser sends as it is: a `Blob` or an `ArrayBuffer`. */
interface Bytes {
  slice(from?: number, to?: number): Bytes;
}

/** What a caller has to give for a call: path, body, edition, and whatever of the query it wants. */
export type Asking<N extends CallName> = PathOf<N> &
  Given<N, 'ifMatch', number> &
  (Calls[N] extends { readonly body: 'binary' }
    ? { readonly body: Bytes }
    : Calls[N] extends { readonly body: unknown }
      ? { readonly body: BodyOf<N> }
      : unknown) &
  (Calls[N] extends { readonly query: unknown }
    ? { readonly query?: { readonly [K in keyof ShapeOf<N>]?: string | number | boolean | null } }
    : unknown);
