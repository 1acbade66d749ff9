import { randomBytes } from 'node:crypto';

/** A short random id, 72 bits, safe in addresses and file names. */
export const newId = (): string => randomBytes(9).toString('base64url');
