import type { Request, Response } from 'express';
import { pipeline } from 'node:stream/promises';
import type { Caller } from '../caller.js';
import { ProblemError } from '../safety/problem-error.js';

/** Answer of a handler that has sent a file or a stream itself. */
export const SENT = Symbol('sent');

export type ApiRequest = Request<Record<string, string>>;

/** What a call does for who asks. Its answer is sent as JSON, unless it is {@link SENT}. */
export type Handler = (who: Caller, request: ApiRequest, response: Response) => Promise<unknown>;

/** Handlers by the contract's method and path, so that none can be missing or too many. */
export type Handlers = Record<string, Handler>;

/** An id as all of ours are. @throws ProblemError 404 for anything else, which no table needs to be asked about */
export function ownId(value: unknown): string {
  if (typeof value !== 'string' || !/^[A-Za-z0-9_-]{1,64}$/.test(value))
    throw new ProblemError(404, 'no-such-id', 'There is nothing with this id.');
  return value;
}

/** The id in a call's path. */
export const idOf = (request: ApiRequest): string => ownId(request.params['id']);

/** An id in a call's query, or null. */
export const askedId = (value: unknown): string | null => (typeof value === 'string' ? ownId(value) : null);

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
