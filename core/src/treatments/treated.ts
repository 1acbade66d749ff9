import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { canonicalJson } from '../model/canonical-json.js';
import { atWork, type Treatment } from '../model/treatment.js';
import { TREATMENT_VERSION } from './treat.js';

/** A treatment without the id it has in its list: only what decides pixels. */
export type TreatmentStep = Treatment extends infer T ? (T extends Treatment ? Omit<T, 'id' | 'off'> : never) : never;

/** Everything that decides the pixels of a treated picture besides its file. */
export interface Treated {
  readonly version: number;
  readonly steps: readonly TreatmentStep[];
}

/** What treatments do to a picture, or null when they leave it as it is. */
export function treatedBy(treatments: readonly Treatment[] | undefined): Treated | null {
  const steps = atWork(treatments).map(({ id: _id, off: _off, ...step }) => step);
  return steps.length ? { version: TREATMENT_VERSION, steps } : null;
}

const names = new WeakMap<readonly Treatment[], string>();

/** A name of what treatments do, 32 hexadecimal digits; empty when they leave the picture as it is. */
export function treatmentName(treatments: readonly Treatment[] | undefined): string {
  if (!treatments) return '';
  let name = names.get(treatments);
  if (name === undefined) {
    const treated = treatedBy(treatments);
    name = treated ? bytesToHex(sha256(utf8ToBytes(canonicalJson(treated)))).slice(0, 32) : '';
    names.set(treatments, name);
  }
  return name;
}

/** Key under which a picture's facts are kept: its file, and what is done to it. */
export function pictureKey(assetId: string, treatments: readonly Treatment[] | undefined): string {
  const name = treatmentName(treatments);
  return name ? `${assetId}.${name}` : assetId;
}
