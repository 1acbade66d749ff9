import { basename } from 'node:path';
import { cutText, wholeLetters } from '@kettle/core/text';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ProblemError } from '../basics/problem-error.js';
import { newId } from '../database/ids.js';

/**
 * Writes an upload to a file of its own, hands its path on, and removes it afterwards. @throws ProblemError 413 when
 * it has more than `most` bytes
 */
export async function withIncoming<T>(
  cache: string,
  stream: Readable,
  most: number,
  use: (path: string) => Promise<T>,
): Promise<T> {
  const folder = join(cache, 'incoming');
  await mkdir(folder, { recursive: true });
  const path = join(folder, newId());
  let bytes = 0;
  const counted = new Transform({
    transform(piece: Buffer, _encoding, next) {
      bytes += piece.length;
      next(
        bytes > most
          ? new ProblemError(
              413,
              'too-many-bytes',
              `This file is larger than ${Math.floor(most / 1024 / 1024)} MB and was not taken in.`,
            )
          : null,
        piece,
      );
    },
  });
  try {
    await pipeline(stream, counted, createWriteStream(path));
    return await use(path);
  } finally {
    await rm(path, { force: true });
  }
}

// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u001f\u007f]/g;

/** A file name without folders, control characters, halves of letters or endless length; its ending stays. */
export function cleanName(name: string): string {
  const clean = wholeLetters(basename(name.replaceAll('\\', '/')))
    .replace(CONTROL, '')
    .trim();
  const ending = /\.[A-Za-z0-9]{1,5}$/.exec(clean)?.[0] ?? '';
  return `${cutText(clean.slice(0, clean.length - ending.length), 200 - ending.length)}${ending}` || 'untitled';
}
