import type { Pixels } from '@kettle/core/geometry';
import type { FileType } from '@kettle/core/model';
import type { FileFacts } from '@kettle/core/requirement';
import type { PrintRecipe } from '@kettle/core/recipes';
import type { Files } from '../../artwork/files.js';

/** The inks of a file, 8 bits each, with alpha behind them where it has any. */
export interface Inks {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
  readonly alpha: boolean;
}

/** What a reader found in a finished file. */
export interface Opened {
  readonly facts: FileFacts;
  /**
   * What the file shows, straight RGBA in sRGB, of any size in the file's proportions: it is compared with the design.
   * Of a file of inks that are its very inks, or the colours of the print where its reader knows no better.
   */
  readonly pixels: Pixels | Inks;
  /** The ICC profile in the file, or null when it has none; absent for a kind of file that holds none. */
  readonly profile?: Buffer | null;
  /**
   * Levels by which what the reader shows may differ for no fault of the file, absent for none: at edges, in colour, and
   * in colour where that changes from cell to cell.
   */
  readonly slack?: { readonly edges: number; readonly colours: number; readonly slopes?: number };
  /** How this reader shows inks, where it found no inks but their colours, and those not by their profile. */
  readonly shows?: (inks: Inks) => Promise<Pixels>;
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
