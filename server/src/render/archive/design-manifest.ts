import { readFile, stat } from 'node:fs/promises';
import { designSchema, refuse } from '@kettle/contract';
import type { DesignDocument, Requirement } from '@kettle/core/model';
import { ProblemError } from '../../floor/basics/problem-error.js';

/** First member of a design file's JSON. */
export const FORMAT = 'kettle-sheet-design';

/** Largest design.json: what a saved design may hold, and its requirements. */
const MOST_MANIFEST_BYTES = 16 * 1024 * 1024;

/** What a design file says it holds. Its lists come from anybody: only its document is checked. */
export interface Manifest {
  readonly format: typeof FORMAT;
  readonly version: 1;
  readonly document: DesignDocument;
  readonly requirements: readonly Requirement[];
  readonly assets: Readonly<
    Record<string, { readonly file: string; readonly filename: string; readonly sha256: string }>
  >;
  readonly fonts: Readonly<
    Record<string, { readonly file: string; readonly filename: string; readonly sha256: string }>
  >;
}

export const damagedDesign = (what: string): ProblemError =>
  new ProblemError(422, 'damaged-design', `This design file is damaged: ${what}.`);

/** Reads and checks a design.json. @throws ProblemError when it is no design */
export async function readManifest(path: string): Promise<Manifest> {
  if ((await stat(path)).size > MOST_MANIFEST_BYTES) throw damagedDesign('design.json in it is larger than any design');
  let manifest: Manifest;
  try {
    manifest = JSON.parse(await readFile(path, 'utf8')) as Manifest;
  } catch {
    throw damagedDesign('design.json in it is not whole');
  }
  if (manifest?.format !== FORMAT) throw damagedDesign('design.json in it is not a design of this program');
  if (manifest.version !== 1)
    throw new ProblemError(422, 'newer-design', 'This design file was written by a later version of the program.');
  const wrong = refuse(designSchema, manifest.document);
  if (wrong) throw damagedDesign(Object.values(wrong)[0].replace(/\.$/, ''));
  return manifest;
}
