import type { Request } from 'express';
import { ProblemError } from '../basics/problem-error.js';

/** How many times the most is listened to before the line is broken. */
const PATIENCE = 10;

/** A body as it came, in memory. @throws ProblemError 413 above `most` bytes */
export async function wholeBody(request: Request, most: number): Promise<Buffer> {
  const pieces: Buffer[] = [];
  let length = 0;
  for await (const piece of request as AsyncIterable<Buffer>) {
    length += piece.length;
    // What is a little too long is read to its end and let go: a line that breaks off tells nobody why.
    if (length > most * PATIENCE) break;
    if (length <= most) pieces.push(piece);
  }
  if (length > most)
    throw new ProblemError(
      413,
      'too-many-bytes',
      `This is more than ${Math.round(most / 1e6)} MB, which is more than is read here.`,
    );
  return Buffer.concat(pieces);
}
