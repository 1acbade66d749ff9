import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import type { ColourConversion } from '@kettle/core/model';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { profileName } from './icc.js';
import { inkTable } from './colour-engine.js';

/** What is known of a profile that came in. */
export interface ProfileFacts {
  readonly name: string;
}

const CLASSES: Readonly<Record<string, string>> = {
  scnr: 'a camera or scanner',
  mntr: 'a screen',
  link: 'a fixed pair of devices',
  spac: 'a colour space',
  abst: 'an effect',
  nmcl: 'named colours',
};
const SPACES: Readonly<Record<string, string>> = { 'RGB ': 'RGB', GRAY: 'grey', 'Lab ': 'Lab', 'XYZ ': 'XYZ' };

const refused = (code: string, sentence: string): ProblemError => new ProblemError(422, code, sentence);

/**
 * Looks at a profile that somebody sent, and tries it.
 * @throws ProblemError with a sentence when it is none, is broken, or is not of a CMYK press
 */
export async function checkProfile(path: string): Promise<ProfileFacts> {
  const bytes = await readFile(path);
  if (bytes.length < 132 || bytes.toString('latin1', 36, 40) !== 'acsp')
    throw refused('no-profile', 'This is not an ICC profile. Such a file usually ends in .icc or .icm.');
  const [kind, space] = [bytes.toString('latin1', 12, 16), bytes.toString('latin1', 16, 20)];
  if (space !== 'CMYK')
    throw refused(
      'profile-not-cmyk',
      `This profile is for ${SPACES[space] ?? 'other'} colours. A print in CMYK needs the CMYK profile of its press: ask the print shop for it.`,
    );
  if (kind !== 'prtr')
    throw refused(
      'profile-wrong-class',
      `This profile describes ${CLASSES[kind] ?? 'something else'}, not a press. Ask the print shop for its output profile.`,
    );
  const broken = refused('profile-broken', 'This profile is broken or cut off and cannot be used. Ask for it again.');
  if (bytes.readUInt32BE(0) > bytes.length) throw broken;
  try {
    const { values } = await inkTable(bytes, { intent: 'relative', blackPoint: true });
    // A press whose white has ink, or whose black has none, is none.
    const [white, black] = [values.subarray(-4), values.subarray(0, 4)];
    const sum = (inks: Uint16Array): number => inks.reduce((total, ink) => total + ink, 0) / 65535;
    if (sum(white) > 0.5 || sum(black) < 0.5) throw broken;
  } catch {
    throw broken;
  }
  return { name: profileName(bytes) };
}

let shipped: Promise<Buffer> | null = null;

/** The CMYK profile that comes with the renderer, in the public domain. */
export const shippedProfile = (): Promise<Buffer> =>
  (shipped ??= (async () => {
    const one = sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } });
    const { icc } = await sharp(await one.withIccProfile('cmyk').tiff().toBuffer()).metadata();
    if (!icc) throw new Error('The renderer has no CMYK profile.');
    return icc;
  })());

/** The bytes of the profile that a conversion names. @param files local paths by name */
export const profileOf = ({ profile }: ColourConversion, files: Readonly<Record<string, string>>): Promise<Buffer> =>
  profile === null ? shippedProfile() : readFile(files[profile]);
