import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';
import type { Secret } from './gate-store.js';

const stretch = promisify(scrypt) as (password: string, salt: Buffer, length: number) => Promise<Buffer>;

/** True for the words that a hash was made of. */
export const holds = async (words: string, { salt, hash }: Secret): Promise<boolean> =>
  timingSafeEqual(await stretch(words, salt, 32), hash);

/** Words as they are kept: salted and stretched (scrypt, RFC 7914). */
export async function secretOf(words: string): Promise<Secret> {
  const salt = randomBytes(16);
  return { salt, hash: await stretch(words, salt, 32) };
}

/** The secret of a link: 128 random bits, safe in addresses. */
export const newLink = (): string => randomBytes(16).toString('base64url');

/** The hash a link's secret is found by. */
export const linkHash = (token: string): Buffer => createHash('sha256').update(token).digest();
