import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import type { FileFacts } from '@kettle/core/requirement';
import type { PrintRecipe } from '@kettle/core/recipes';
import { letGo } from '../../floor/processes/let-go.js';
import { profileOf } from '../colour/profiles.js';
import type { Files } from '../artwork/files.js';
import { printFormat } from './formats/formats.js';
import { plainProfile, profileName } from '../colour/icc.js';
import { likeness } from './likeness.js';
import { wholeFile } from '../../floor/files/whole-file.js';

/** What became of a print file: its hash, and what a reader found in it. */
export interface MadePrintFile {
  readonly sha256: string;
  readonly facts: FileFacts;
}

/** Shares of the time that are over when all layers are drawn, the file is encoded, and it is read back. */
const [DRAWN, ENCODED, READ] = [0.35, 0.7, 0.85];

/** Bytes of a print file, in the pieces they are written in. The same recipe always gives the same. */
export async function encodePrintFile(
  recipe: PrintRecipe,
  files: Files,
  progress: (share: number) => void = () => undefined,
): Promise<readonly Uint8Array[]> {
  const format = await printFormat(recipe.type ?? 'png');
  return format.encode(recipe, files, (share) => progress(DRAWN * share));
}

/** Makes a print file at `out`: written beside it, read back, and only then given its name. */
export async function makePrintFile(
  recipe: PrintRecipe,
  files: Files,
  out: string,
  progress: (share: number) => void = () => undefined,
): Promise<MadePrintFile> {
  let pieces = await encodePrintFile(recipe, files, progress);
  progress(ENCODED);
  return wholeFile(out, async (coming) => {
    const hash = createHash('sha256');
    const file = await open(coming, 'w');
    try {
      for (const piece of pieces) {
        hash.update(piece);
        await file.write(piece);
      }
    } finally {
      await file.close();
    }
    pieces = [];
    await letGo();
    return { sha256: hash.digest('hex'), facts: await readBack(coming, recipe, files, () => progress(READ)) };
  });
}

/**
 * What a finished file is: what its reader finds in its bytes, whether its profile is the one that its colours were
 * made for, and how it compares with a second drawing of the recipe.
 */
export async function readBack(
  path: string,
  recipe: PrintRecipe,
  files: Files,
  opened: () => void = () => undefined,
): Promise<FileFacts> {
  const format = await printFormat(recipe.type ?? 'png');
  const { facts, pixels, profile, ...reader } = await format.open(path, recipe, files);
  opened();
  const meant = profile && (await meantProfile(recipe, files));
  return {
    ...facts,
    ...(meant && !profile.equals(meant) ? { profileMeant: profileName(meant) } : {}),
    likeness: await likeness(recipe, files, pixels, reader),
    readBy: { writer: format.writer, reader: format.reader },
  };
}

/** The profile that a recipe's file is to carry. */
const meantProfile = ({ mode, conversion }: PrintRecipe, files: Files): Promise<Buffer> =>
  mode === 'cmyk' ? profileOf(conversion!, files) : plainProfile(mode);
