import { createHash } from 'node:crypto';
import { imageSize } from 'image-size';

/** Something wrong with a listing: which part of it, and in which words the shop is told. */
export interface Reason {
  readonly field: string;
  readonly text: string;
}

/** A picture as its bytes say it is; null when they are none. */
export function readPicture(bytes: Uint8Array): { readonly width: number; readonly height: number } | null {
  try {
    const { width, height } = imageSize(bytes);
    return width > 0 && height > 0 ? { width, height } : null;
  } catch {
    return null;
  }
}

export const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

export const isText = (value: unknown): value is string => typeof value === 'string';

/** A price: whole minor units, more than nothing. */
export const isPrice = (value: unknown): boolean =>
  typeof value === 'number' && Number.isSafeInteger(value) && value > 0 && value < 1e9;
