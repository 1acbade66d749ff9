import type { FileFacts, FileType, Pixels, PrintRecipe } from '@kettle/core';
import type { Files } from '../draw-layers.js';

/** What a reader found in a finished file. */
export interface Opened {
  readonly facts: FileFacts;
  /**
   * What the file shows, straight RGBA in sRGB, of any size in the file's proportions: it is compared with the design.
   * In CMYK files the colours are those of the print.
   */
  readonly pixels: Pixels;
  /** Levels by which this reader's way of showing inks may differ from that of their profile; absent for none. */
  readonly slack?: number;
}

/**
 * One kind of print file: how it is written, and how a library that did not write it opens it again. What it can hold
 * and what it is called is in the core's list under the same name.
 */
export interface PrintFormat {
  readonly type: FileType;
  /** The library that writes it, and the one that reads it back, as certificates name them. */
  readonly writer: string;
  readonly reader: string;
  /** Bytes in the pieces they are written in. A recipe always gives the same. */
  encode(recipe: PrintRecipe, files: Files, progress: (share: number) => void): Promise<readonly Uint8Array[]>;
  /** Opens a finished file from its bytes alone. @throws when it does not decode to the end */
  open(path: string, recipe: PrintRecipe, files: Files): Promise<Opened>;
}

/** Share of pixels that are wholly clear, 0 to 1. */
export function clearShare(rgba: Uint8Array | Uint8ClampedArray): number {
  let clear = 0;
  for (let i = 3; i < rgba.length; i += 4) if (rgba[i] === 0) clear++;
  return clear / (rgba.length / 4);
}
