import type { Request } from 'express';
import { refuse, type Typed } from '@kettle/contract';
import { ProblemError } from '../basics/problem-error.js';

/** The body, checked. @throws ProblemError 415 when it is no JSON, 422 with a sentence for each field */
export function checkedBody<T>(schema: Typed<T>, request: Request): T {
  if (Buffer.isBuffer(request.body))
    throw new ProblemError(413, 'too-many-bytes', 'This is more than this call takes.');
  if (request.body === undefined || request.body === null)
    throw new ProblemError(415, 'not-json', 'Send the body as JSON, with Content-Type: application/json.');
  const fields = refuse(schema, request.body);
  if (fields) throw new ProblemError(422, 'not-as-demanded', Object.values(fields)[0], fields);
  return request.body as T;
}

/** Revision in If-Match, with or without quotes. @throws ProblemError 428 when it is missing */
export function matchedRevision(request: Request): number {
  const given = /^(?:W\/)?"?(\d{1,9})"?$/.exec(request.get('If-Match') ?? '');
  if (!given)
    throw new ProblemError(
      428,
      'revision-missing',
      'Say in If-Match which revision you had open, so that nobody’s work is overwritten.',
    );
  return Number(given[1]);
}

/**
 * The name of an upload. Percent signs that encode nothing are part of it, and so are letters that were sent as they
 * are.
 */
export function uploadName(request: Request): string {
  const given = request.get('X-Filename') ?? 'untitled';
  // Header bytes arrive as Latin-1; most callers mean UTF-8.
  const utf8 = Buffer.from(given, 'latin1').toString('utf8');
  const name = utf8.includes('\ufffd') ? given : utf8;
  return name.replace(/(?:%[0-9a-f]{2})+/gi, (part) => {
    try {
      return decodeURIComponent(part);
    } catch {
      return part;
    }
  });
}

/** Deepest nesting of a body: a design has a handful of levels. */
const MOST_DEEP = 32;
const NUL = '\\u0000';
const LONE_SURROGATE =
  /\\u[dD][89abAB][0-9a-fA-F]{2}(?!\\u[dD][c-fC-F])|(?<!\\u[dD][89abAB][0-9a-fA-F]{2})\\u[dD][c-fC-F][0-9a-fA-F]{2}/;

/**
 * Looks at the bytes of a JSON body before it is parsed.
 * @throws ProblemError 422 for nesting that would only exhaust the stack, for halves of letters, which no
 * database can hold, and for the letter NUL
 */
export function checkJsonBytes(bytes: Buffer): void {
  let [depth, quoted] = [0, false];
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (quoted) {
      if (byte === 0x5c) i++;
      else if (byte === 0x22) quoted = false;
    } else if (byte === 0x22) quoted = true;
    else if (byte === 0x5b || byte === 0x7b) {
      if (++depth > MOST_DEEP)
        throw new ProblemError(
          422,
          'too-deep',
          `This body is nested more than ${MOST_DEEP} levels deep. Nothing here is.`,
        );
    } else if (byte === 0x5d || byte === 0x7d) depth--;
  }
  if (!['\\ud', '\\uD', NUL].some((part) => bytes.includes(part))) return;
  // Without backslashes that stand for themselves.
  const text = bytes.toString('latin1').replaceAll('\\\\', '');
  if (text.includes(NUL))
    throw new ProblemError(
      422,
      'no-letter',
      'This body holds the letter NUL, with which a text ends for many programs that read it later. Leave it out.',
    );
  if (LONE_SURROGATE.test(text))
    throw new ProblemError(
      422,
      'half-letter',
      'This body holds half of a letter (one of two surrogates), which cannot be kept. Cut texts between letters.',
    );
}
