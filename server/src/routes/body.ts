import type { Request } from 'express';
import type { AnySchema } from 'yup';
import { refuse } from '@kettle/contract';
import { ProblemError } from '../safety/problem-error.js';

/** The body, checked. @throws ProblemError 422 with a sentence for each field */
export function checkedBody<T>(schema: AnySchema, request: Request): T {
  const fields = refuse(schema, request.body);
  if (fields) throw new ProblemError(422, 'not-as-demanded', Object.values(fields)[0], fields);
  return request.body as T;
}

/** Revision in If-Match, with or without quotes. @throws ProblemError 428 when it is missing */
export function matchedRevision(request: Request): number {
  const given = /^(?:W\/)?"?(\d{1,9})"?$/.exec(request.get('If-Match') ?? '');
  if (!given) throw new ProblemError(428, 'revision-missing', 'Say in If-Match which revision you had open, so that nobody’s work is overwritten.');
  return Number(given[1]);
}
