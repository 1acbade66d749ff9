import { CLIP } from './clip.js';
import type { OutputKind } from './output-kind.js';
import { PICTURE } from './picture.js';
import { PROOF_SHEET } from './proof-sheet.js';
import { PRINT_FILE } from './print-file.js';

/** Every kind of output there is. Adding one: a description beside these, and its name here. */
export const OUTPUT_KINDS: readonly OutputKind[] = [
  PICTURE,
  PROOF_SHEET,
  PRINT_FILE,
  CLIP,
] as unknown as readonly OutputKind[];

export const outputKind = (kind: string): OutputKind | undefined => OUTPUT_KINDS.find((one) => one.kind === kind);
