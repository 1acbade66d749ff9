import * as yup from 'yup';
import type { Typed } from './fields.js';

/** Checks a body and answers the sentences by field when it is not as demanded. */
export function refuse(schema: Typed, value: unknown): Record<string, string> | null {
  try {
    (schema as yup.AnySchema).validateSync(value, { abortEarly: false, strict: true });
    return null;
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const inner = error.inner.length ? error.inner : [error];
    // The first complaint about a field is the one to mend first.
    return Object.fromEntries(inner.map((one) => [one.path || 'body', one.message] as const).reverse());
  }
}
