import type { AnswerOf, BodyOf, CallName, IsSent, PathOf, QueryOf } from '@kettle/contract';
import type { Request, Response } from 'express';
import { pipeline } from 'node:stream/promises';
import type { Caller } from '../basics/caller.js';
import { ProblemError } from '../basics/problem-error.js';

/** Answer of a handler that has sent a file or a stream itself. */
export const SENT = Symbol('sent');

/** An answer that is JSON already. */
export class Ready {
  constructor(readonly json: string) {}
}

/** What knows its JSON without being read. */
export interface WithJson<T> {
  readonly json: string;
  toJSON(): T;
}

/**
 * What a handler is given: who asks, and what of the call was checked against the contract. Each part is checked when it is
 * looked at, so that a handler decides what is complained about first.
 */
export type Asked<N extends CallName> = PathOf<N> & {
  readonly who: Caller;
  /** @throws ProblemError 413, 415, 422 with a sentence for each field */
  readonly body: BodyOf<N>;
  /** @throws ProblemError 404 for an id that is none */
  readonly query: QueryOf<N>;
  /** Revision in If-Match. @throws ProblemError 428 when it is missing */
  readonly ifMatch: number;
  /** Name of an upload. */
  readonly filename: string;
  /** The request itself, for whoever reads its bytes. */
  readonly request: Request;
  readonly response: Response;
};

/** What a call does. It answers what the contract promises, or says that it has sent a file itself. */
export type Handler<N extends CallName> = (
  asked: Asked<N>,
) => Promise<IsSent<N> extends true ? typeof SENT : AnswerOf<N> | WithJson<AnswerOf<N>> | Ready>;

export type Handlers<N extends CallName> = { readonly [Name in N]: Handler<Name> };

/** Some of the contract's calls with what they do. */
export const handlers = <N extends CallName>(table: Handlers<N>): Handlers<N> => table;

/** What asks for work answers by the number of its run. */
export async function queued(job: Promise<{ readonly id: string }>): Promise<{ readonly jobId: string }> {
  return { jobId: (await job).id };
}

/** An id as all of ours are. @throws ProblemError 404 for anything else, which no table needs to be asked about */
export function ownId(value: unknown): string {
  if (typeof value !== 'string' || !/^[A-Za-z0-9_-]{1,64}$/.test(value))
    throw new ProblemError(404, 'no-such-id', 'There is nothing with this id.');
  return value;
}

export const wholeNumber = (value: unknown, otherwise: number): number =>
  typeof value === 'string' && /^\d{1,9}$/.test(value) ? Number(value) : otherwise;

/** How a file is answered. `encoding` is what it is compressed with as it lies there. */
export interface SentFile {
  readonly type: string;
  readonly tag: string;
  readonly name?: string;
  readonly attachment?: boolean;
  readonly encoding?: 'gzip';
}

/** A file that never changes under its tag. Uploaded content is always a download or a picture, never a page. */
export function sendFile(
  response: Response,
  path: string,
  { type, name, tag, attachment, encoding }: SentFile,
): typeof SENT {
  if (name) response.attachment(name);
  if (name && !attachment)
    response.setHeader(
      'Content-Disposition',
      String(response.getHeader('Content-Disposition')).replace('attachment', 'inline'),
    );
  response.setHeader('Content-Type', type);
  if (encoding) response.setHeader('Content-Encoding', encoding);
  response.setHeader('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'; sandbox");
  response.setHeader('Cache-Control', 'private, max-age=0, must-revalidate');
  response.setHeader('ETag', `"${tag}"`);
  const options = { etag: false, cacheControl: false, lastModified: false, dotfiles: 'allow' } as const;
  response.sendFile(path, options, (error) => {
    if (error && !response.headersSent) response.status(404).end();
  });
  return SENT;
}

/** A download that is made while it is read. One that breaks off is shorter than it said, which every reader notices. */
export async function sendStream(
  response: Response,
  stream: NodeJS.ReadableStream,
  { type, name, length }: { readonly type: string; readonly name: string; readonly length: number },
): Promise<typeof SENT> {
  response.attachment(name);
  response.setHeader('Content-Type', type);
  response.setHeader('Content-Length', length);
  response.setHeader('Cache-Control', 'no-store');
  await pipeline(stream, response).catch((error: unknown) => {
    if (!response.headersSent) throw error;
    response.destroy();
  });
  return SENT;
}
