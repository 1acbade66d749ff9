import {
  cmsFLAGS_BLACKPOINTCOMPENSATION,
  cmsFLAGS_NOCACHE,
  cmsFLAGS_NOOPTIMIZE,
  instantiate,
  TYPE_CMYK_16,
  TYPE_CMYK_8,
  TYPE_Lab_16,
  TYPE_RGB_16,
  TYPE_RGB_8,
  type Lcms,
} from 'lcms-wasm';
import { deltaE2000, type Lab } from '@kettle/core/colour';
import type { ColourConversion, Intent } from '@kettle/core/model';
import { DELTA_LEVELS, tablePoints, type ColourTable, type ProofTables } from '@kettle/core/press';

/** Numbers of the intents in a profile's header (ICC.1:2022, table 23). */
const INTENT: Readonly<Record<Intent, number>> = { perceptual: 0, relative: 1, saturation: 2, absolute: 3 };

const PRECISE = cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE;

let engine: Promise<Lcms> | null = null;

type Space = 'srgb' | 'lab' | Buffer;
const FORMAT = { srgb: TYPE_RGB_16, lab: TYPE_Lab_16 } as const;

/**
 * Colours through Little CMS, 16 bits a value.
 * @throws Error when it cannot use the profile
 */
async function transformed(
  values: Uint16Array,
  from: Space,
  to: Space,
  intent: Intent,
  blackPoint: boolean,
): Promise<Uint16Array> {
  const lcms = await (engine ??= instantiate());
  const opened: number[] = [];
  const open = (space: Space): number => {
    const profile =
      space === 'srgb'
        ? lcms.cmsCreate_sRGBProfile()
        : space === 'lab'
          ? lcms.cmsCreateLab4Profile(null)
          : lcms.cmsOpenProfileFromMem(new Uint8Array(space), space.length);
    if (!profile) throw new Error('The colour profile cannot be opened.');
    opened.push(profile);
    return profile;
  };
  const format = (space: Space): number => (typeof space === 'string' ? FORMAT[space] : TYPE_CMYK_16);
  try {
    const [one, other] = [open(from), open(to)];
    const flags = PRECISE | (blackPoint ? cmsFLAGS_BLACKPOINTCOMPENSATION : 0);
    const transform = lcms.cmsCreateTransform(one, format(from), other, format(to), INTENT[intent], flags);
    if (!transform) throw new Error('The colour profile has no way between these colours.');
    try {
      const channels = typeof from === 'string' ? 3 : 4;
      return lcms.cmsDoTransform(transform, values, values.length / channels);
    } finally {
      lcms.cmsDeleteTransform(transform);
    }
  } catch (error) {
    // A profile that breaks the engine takes what it knew with it.
    if ((error as Error).name === 'RuntimeError') engine = null;
    throw error;
  } finally {
    if (engine) for (const profile of opened) lcms.cmsCloseProfile(profile);
  }
}

/** The inks of a press for the points of a table. @param profile bytes of a CMYK output profile */
export async function inkTable(
  profile: Buffer,
  { intent, blackPoint }: Pick<ColourConversion, 'intent' | 'blackPoint'>,
): Promise<ColourTable> {
  return { values: await transformed(tablePoints(), 'srgb', profile, intent, blackPoint) };
}

/**
 * How inks look on paper, as sRGB of 16 bits.
 * @param paper true to show the colour of the paper too, which eyes that have nothing else to look at take for white
 */
export const looksOf = (inks: Uint16Array, profile: Buffer, paper: boolean): Promise<Uint16Array> =>
  transformed(inks, profile, 'srgb', paper ? 'absolute' : 'relative', false);

/** sRGB, 16 bits, as the inks of a press. */
export const inksOf = (
  rgb: Uint16Array,
  profile: Buffer,
  { intent, blackPoint }: Pick<ColourConversion, 'intent' | 'blackPoint'>,
): Promise<Uint16Array> => transformed(rgb, 'srgb', profile, intent, blackPoint);

/**
 * sRGB pixels as the inks of a press, 8 bits a value, by Little CMS' own quick way: for whole pictures. Alpha is passed
 * over.
 * @returns C, M, Y and K of each pixel
 */
export async function plainInksOf(
  rgba: ArrayLike<number>,
  profile: Buffer,
  { intent, blackPoint }: Pick<ColourConversion, 'intent' | 'blackPoint'>,
): Promise<Uint8Array> {
  const lcms = await (engine ??= instantiate());
  const [from, to] = [
    lcms.cmsCreate_sRGBProfile(),
    lcms.cmsOpenProfileFromMem(new Uint8Array(profile), profile.length),
  ];
  const flags = blackPoint ? cmsFLAGS_BLACKPOINTCOMPENSATION : 0;
  const transform = to && lcms.cmsCreateTransform(from, TYPE_RGB_8, to, TYPE_CMYK_8, INTENT[intent], flags);
  if (!transform) throw new Error('The colour profile has no way between these colours.');
  const count = rgba.length / 4;
  const inks = new Uint8Array(count * 4);
  const rgb = new Uint8Array(STRETCH * 3);
  for (let start = 0; start < count; start += STRETCH) {
    const part = Math.min(STRETCH, count - start);
    for (let i = 0; i < part; i++) for (let k = 0; k < 3; k++) rgb[i * 3 + k] = rgba[(start + i) * 4 + k];
    inks.set(lcms.cmsDoTransform(transform, rgb.subarray(0, part * 3), part), start * 4);
  }
  lcms.cmsDeleteTransform(transform);
  lcms.cmsCloseProfile(from);
  lcms.cmsCloseProfile(to);
  return inks;
}

/** Pixels that go through the engine at a time. */
const STRETCH = 1 << 20;

/** Lab of 16 bits as ICC version 4 has it: L from 0 to 100, a and b from −128 to 127 (ICC.1:2022, 6.3.4.2). */
const lab = (values: Uint16Array, i: number): Lab => ({
  L: values[i * 3] / 655.35,
  a: values[i * 3 + 1] / 257 - 128,
  b: values[i * 3 + 2] / 257 - 128,
});

/** What a print looks like on screen, what it is printed with, and how far that is from the design. */
export async function proofTables(profile: Buffer, conversion: ColourConversion, paper: boolean): Promise<ProofTables> {
  const points = tablePoints();
  const inks = await inksOf(points, profile, conversion);
  const [seen, wanted, printed] = await Promise.all([
    looksOf(inks, profile, paper),
    transformed(points, 'srgb', 'lab', 'relative', false),
    transformed(inks, profile, 'lab', 'relative', false),
  ]);
  const count = inks.length / 4;
  const values = new Uint16Array(count * 4);
  for (let i = 0; i < count; i++) {
    values.set(seen.subarray(i * 3, i * 3 + 3), i * 4);
    const delta = deltaE2000(lab(wanted, i), lab(printed, i)) * DELTA_LEVELS * 257;
    values[i * 4 + 3] = Math.min(65535, Math.round(delta));
  }
  return { inks: { values: inks }, seen: { values } };
}
