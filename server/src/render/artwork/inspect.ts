import { readFile, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';
import { measureInk } from '@kettle/core/raster';
import type { AssetFacts } from '@kettle/core/model';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { profileName } from '../colour/icc.js';
import { isForBrightScreens, pngColour } from './png-colour.js';
import { decodeProblem, decodeRaster, drawWholeSvg, looksLikeSvg, openRaster, unpackedSource } from './source.js';
import { safeSvg } from './svg.js';
import { plainDrawing } from './svg-styles.js';
import { lettersAsOutlines } from '../text/letters-as-outlines.js';
import { refuseTiff } from './tiff.js';

/** Facts of a file that has just come in, and its colour mode. */
export interface Inspection {
  readonly facts: AssetFacts;
  readonly mode: string;
  readonly contentType: string;
  /** True when what is drawn is another file than the one that came in. */
  readonly isRedrawn: boolean;
}

/** Side of the reduced copy that ink is measured on: 512 px is one part in 500, finer than any finding. */
const MEASURED_SIDE = 512;

const TYPES: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  webp: 'image/webp',
  tiff: 'image/tiff',
  gif: 'image/gif',
};

/** Writes an SVG again with all of its live text in one face. */
export async function setFace(path: string, out: string, face: string): Promise<void> {
  await writeFile(out, safeSvg(unpackedSource(await readFile(path)), { face }).text);
}

/** What live text may ask for and gets. */
export interface KnownFonts {
  /** Families that everybody draws alike. */
  readonly shipped: readonly string[];
  /** Files of the seller's own, which nobody else knows. */
  readonly own: readonly { readonly family: string; readonly path: string }[];
}

/**
 * Sniffs, fully decodes and measures a file.
 * @param out where a drawing is put that was drawn anew: its letters as outlines where they are set in own fonts, its
 *   styles worked out where renderers differ
 * @throws ProblemError with a sentence for anything that cannot be used
 */
export async function inspect(
  path: string,
  fonts: KnownFonts = { shipped: [], own: [] },
  out = `${path}.outlined`,
): Promise<Inspection> {
  const packed = await readFile(path);
  if (packed.length === 0) throw new ProblemError(422, 'empty', 'This file is empty: it has 0 bytes.');
  try {
    const bytes = unpackedSource(packed);
    return looksLikeSvg(bytes) ? await inspectSvg(bytes, fonts, out) : await inspectRaster(bytes);
  } catch (error) {
    throw decodeProblem(error, packed);
  }
}

async function inspectSvg(bytes: Buffer, { shipped, own }: KnownFonts, out: string): Promise<Inspection> {
  const svg = safeSvg(bytes);
  const asked = (family: string) => svg.fonts.some((font) => font.toLowerCase() === family.toLowerCase());
  const used = own.filter(({ family }) => asked(family));
  const plain = await plainDrawing(bytes, svg.text);
  let drawn = plain.text === null ? bytes : Buffer.from(plain.text);
  if (used.length) {
    const { text } = safeSvg(drawn, { spelled: used.map(({ family }) => family) });
    drawn = Buffer.from(await lettersAsOutlines(text, used));
  }
  const isRedrawn = drawn !== bytes;
  if (isRedrawn) await writeFile(out, drawn);
  // Text in a face that every machine draws alike is as good as outlines.
  const known = new Set([...shipped, ...used.map(({ family }) => family)].map((family) => family.toLowerCase()));
  const strange = svg.fonts.filter((font) => !known.has(font.toLowerCase()));
  const live = svg.liveText && (strange.length > 0 || svg.fonts.length === 0);
  const factor = MEASURED_SIDE / Math.max(svg.width, svg.height);
  const pixels = await drawWholeSvg(drawn, svg.width * factor, svg.height * factor);
  return {
    mode: 'RGB',
    contentType: 'image/svg+xml',
    isRedrawn,
    facts: {
      ...measureInk(pixels),
      width: Math.max(1, Math.round(svg.width)),
      height: Math.max(1, Math.round(svg.height)),
      vector: true,
      dpi: null,
      hasAlpha: true,
      format: 'SVG',
      conversions: [...svg.removed, ...plain.told],
      ...(live ? { liveText: strange } : {}),
      ...(used.length ? { ownFamilies: [...new Set(used.map(({ family }) => family))] } : {}),
    },
  };
}

async function inspectRaster(bytes: Buffer): Promise<Inspection> {
  const refused = refuseTiff(bytes);
  if (refused) throw refused;
  const found = await openRaster(bytes).metadata();
  const contentType = TYPES[found.format ?? ''];
  if (!contentType) {
    const named = /^[a-z0-9]{2,5}$/.test(found.format ?? '') ? found.format!.toUpperCase() : 'unknown';
    throw new ProblemError(
      415,
      'not-taken',
      `This is ${named} content, which is not taken in. Use PNG, JPEG, WebP, HEIC, TIFF, GIF or SVG.`,
    );
  }
  const pixels = await decodeRaster(bytes);
  const conversions: string[] = [];
  const profile = found.icc ? profileName(found.icc) : null;
  const space = found.space ?? '';
  if (space === 'cmyk')
    conversions.push(`Converted from CMYK${profile ? ` (${profile})` : ''} to sRGB; the original is kept.`);
  else if (profile && !/srgb/i.test(profile))
    conversions.push(`Converted from ${profile} to sRGB; the original is kept.`);
  const said = pngColour(bytes);
  if (said)
    conversions.push(
      `Its brightness${said.primaries ? ' and colours were' : ' was'} brought from what the PNG says to sRGB; the original is kept.`,
    );
  if (isForBrightScreens(bytes))
    conversions.push('Made for screens brighter than paper (HDR): read as if it were not, so it may look flat.');
  if (found.depth === 'ushort' || found.depth === 'float')
    conversions.push(`Reduced from ${found.depth === 'ushort' ? 16 : 32} to 8 bits a channel for printing.`);
  if (space === 'b-w' || space === 'grey16') conversions.push('Grey, read as sRGB.');
  if ((found.pages ?? 1) > 1) conversions.push(`Animated or many pages (${found.pages}): the first one is used.`);
  return {
    mode:
      space === 'cmyk' ? 'CMYK' : space === 'b-w' || space === 'grey16' ? 'grey' : found.isPalette ? 'palette' : 'RGB',
    contentType,
    isRedrawn: false,
    facts: {
      ...measureInk(await reduced(pixels)),
      opaque: isOpaque(pixels),
      width: pixels.width,
      height: pixels.height,
      vector: false,
      dpi: found.density && found.density > 1 ? Math.round(found.density) : null,
      hasAlpha: Boolean(found.hasAlpha),
      format: found.format!.toUpperCase(),
      conversions,
    },
  };
}

async function reduced(pixels: Pixels): Promise<Pixels> {
  const { data, info } = await sharp(pixels.data, { raw: { width: pixels.width, height: pixels.height, channels: 4 } })
    .resize(MEASURED_SIDE, MEASURED_SIDE, { fit: 'inside', withoutEnlargement: true })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

function isOpaque({ data }: Pixels): boolean {
  for (let i = 3; i < data.length; i += 4) if (data[i] !== 255) return false;
  return true;
}
