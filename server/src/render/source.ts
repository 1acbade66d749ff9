import { readFile } from 'node:fs/promises';
import { deflateSync, gunzipSync } from 'node:zlib';
import sharp, { type Sharp } from 'sharp';
import { compose, MAX_PIXELS, scale, withProfileChunk, type Affine, type Pixels } from '@kettle/core';
import { ProblemError } from '../safety/problem-error.js';
import { withSaidColour } from './png-colour.js';
import { safeSvg } from './svg.js';
import { refuseTiff } from './tiff.js';

sharp.cache(false);

const ALLOWED = { limitInputPixels: MAX_PIXELS, failOn: 'error', sequentialRead: true } as const;

/** True when bytes begin like XML or SVG text, in any encoding XML allows. */
export function looksLikeSvg(bytes: Uint8Array): boolean {
  const wide = bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  return /^(?:\uFEFF)?\s*<(?:\?xml|!doctype\s+svg|!--|(?:\w+:)?svg[\s>])/i.test(new TextDecoder(wide).decode(bytes.subarray(0, 512)));
}

/** Largest SVG text that a packed one may unpack to. */
const MOST_UNPACKED = 64 * 1024 * 1024;

/** The bytes as they are drawn: a gzip-packed SVG (.svgz) unpacked, all else as it is. @throws ProblemError when what is packed is no SVG */
export function unpackedSource(bytes: Buffer): Buffer {
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return bytes;
  let text: Buffer;
  try { text = gunzipSync(bytes, { maxOutputLength: MOST_UNPACKED }); } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') throw new ProblemError(413, 'too-many-bytes', 'This file unpacks to far more than a drawing needs, so it was not opened.');
    throw new ProblemError(422, 'damaged', 'This is a packed file that cannot be unpacked. Save it again, as SVG without packing if there is a choice.');
  }
  if (!looksLikeSvg(text)) throw new ProblemError(415, 'not-a-picture', 'This is a gzip archive without an SVG in it. Unpack it first.');
  return text;
}

/** Opens a raster picture with all limits on. */
export const openRaster = (bytes: Buffer): Sharp => sharp(bytes, ALLOWED);

/** 8-bit sRGB with alpha, turned upright; embedded profiles, and what a PNG says of its colours without one, are honoured. */
export async function decodeRaster(bytes: Buffer): Promise<Pixels> {
  const refused = refuseTiff(bytes);
  if (refused) throw refused;
  const said = await withGreyAsRead(withSaidColour(bytes));
  const { icc, depth } = await openRaster(said).metadata();
  const upright = openRaster(said).autoOrient();
  // 16-bit pictures with a profile are brought to a wider space inside the library: only naming the last profile brings their numbers to sRGB.
  const srgb = icc && depth === 'ushort' ? upright.withIccProfile('srgb') : upright.toColourspace('srgb');
  const { data, info } = await srgb.ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** The library passes over the profile of 16-bit grey, so that is reduced to 8 bits first. */
async function withGreyAsRead(bytes: Buffer): Promise<Buffer> {
  const { icc, space } = await openRaster(bytes).metadata();
  if (!icc || space !== 'grey16') return bytes;
  const plain = await sharp(bytes, { ...ALLOWED, ignoreIcc: true }).autoOrient().toColourspace('b-w').png({ compressionLevel: 0, palette: false }).toBuffer();
  return Buffer.concat(withProfileChunk(plain, { name: 'Grey', deflated: deflateSync(icc) }));
}

/** What an SVG's own style sheet may not do to the frame around it. */
const FRAME = 'opacity:1!important;filter:none!important;mask:none!important;clip-path:none!important;transform:none!important;display:inline!important;visibility:visible!important';

/**
 * Draws a foreign SVG on a window of whole pixels, whatever size its own lengths are in: the drawing is scaled, never its resolution, so that a line of 3 pt
 * keeps its proportion to the rest. One inch is 96 px of the drawing (CSS Values and Units, 6.2).
 * @param map unit square of the drawing to the window's pixels
 */
export async function drawSvg(bytes: Buffer, window: { width: number; height: number }, map: Affine): Promise<Pixels> {
  const svg = safeSvg(bytes);
  const place = compose(map, scale(1 / svg.width, 1 / svg.height));
  // The renderer enlarges everything by resolution / 72: at 96 an inch is as CSS has it, and the frame is that much smaller.
  const [width, height] = [(window.width * 72) / 96, (window.height * 72) / 96];
  const framed = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${window.width} ${window.height}" preserveAspectRatio="none" style="${FRAME}"><g transform="matrix(${place.join(' ')})" style="${FRAME}">${svg.nested}</g></svg>`;
  const { data, info } = await sharp(Buffer.from(framed), { ...ALLOWED, density: 96 }).ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  if (info.width !== window.width || info.height !== window.height) throw new Error(`An SVG was drawn at ${info.width} × ${info.height} instead of ${window.width} × ${window.height} px.`);
  return { width: info.width, height: info.height, data };
}

/** The whole of a foreign SVG at an exact size in px. */
export function drawWholeSvg(bytes: Buffer, width: number, height: number): Promise<Pixels> {
  const [w, h] = [Math.max(1, Math.round(width)), Math.max(1, Math.round(height))];
  return drawSvg(bytes, { width: w, height: h }, [w, 0, 0, h, 0, 0]);
}

/** Draws an SVG of our own making at the size its root says, in px. Its paths may be longer than a foreign file's would be allowed to be. */
export async function drawOwnSvg(svg: string): Promise<Pixels> {
  const { data, info } = await sharp(Buffer.from(svg), { ...ALLOWED, unlimited: true }).ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/**
 * An artwork file as a small PNG, by libvips alone: its own shrinking and colour management, none of the ways that print files take.
 * @param width, height largest size wanted, px; a raster picture is never enlarged
 */
export async function asWritten(path: string, width: number, height: number): Promise<{ png: Buffer; width: number; height: number }> {
  const bytes = unpackedSource(await readFile(path));
  const size = { width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) };
  let image: Sharp;
  if (looksLikeSvg(bytes)) {
    const svg = safeSvg(bytes);
    // Its root is given another size, as a viewer's window would: at a resolution of 96, one px of the root is 96 / 72 px of the picture.
    image = sharp(Buffer.from(svg.text.replace(/ width="[^"]*" height="[^"]*">/, ` width="${size.width * 0.75}" height="${size.height * 0.75}">`)), { ...ALLOWED, density: 96 });
  } else {
    image = openRaster(await withGreyAsRead(withSaidColour(bytes))).autoOrient().withIccProfile('srgb');
  }
  const { data, info } = await image.resize({ ...size, fit: 'fill', withoutEnlargement: true }).ensureAlpha().png({ compressionLevel: 1, palette: false }).toBuffer({ resolveWithObject: true });
  return { png: data, width: info.width, height: info.height };
}

/** Recently decoded pictures, because one picture often goes into several files. Bounded by bytes. */
const kept = new Map<string, { pixels: Pixels } | { svg: Buffer }>();
const MOST_KEPT = 70_000_000;

/** Reads an artwork file: pixels for raster pictures, the bytes for SVG. */
export async function readSource(sha256: string, path: string): Promise<{ pixels: Pixels } | { svg: Buffer }> {
  const known = kept.get(sha256);
  if (known) return known;
  const bytes = unpackedSource(await readFile(path));
  const source = looksLikeSvg(bytes) ? { svg: bytes } : { pixels: await decodeRaster(bytes) };
  const weight = (one: { pixels: Pixels } | { svg: Buffer }) => ('svg' in one ? one.svg.length : one.pixels.data.length);
  if (weight(source) > MOST_KEPT) return source;
  kept.set(sha256, source);
  for (const [key, one] of kept) {
    if ([...kept.values()].reduce((sum, each) => sum + weight(each), 0) <= MOST_KEPT) break;
    if (one !== source) kept.delete(key);
  }
  return source;
}

/** What a file says it is in its first bytes, though it may not be readable. */
function beginningOf(bytes: Uint8Array): string | null {
  const head = Buffer.from(bytes.subarray(0, 12)).toString('latin1');
  if (head.startsWith('\u0089PNG')) return 'PNG';
  if (head.startsWith('\u00ff\u00d8\u00ff')) return 'JPEG';
  if (head.startsWith('II*\u0000') || head.startsWith('MM\u0000*')) return 'TIFF';
  if (head.startsWith('GIF8')) return 'GIF';
  return head.startsWith('RIFF') && head.endsWith('WEBP') ? 'WebP' : null;
}

/** What a decoder's complaint means, as a problem for the person who dropped the file. */
export function decodeProblem(error: unknown, bytes?: Uint8Array): ProblemError {
  if (error instanceof ProblemError) return error;
  const begins = bytes ? beginningOf(bytes) : null;
  const message = String((error as Error)?.message ?? error);
  if (/pixel limit|too large|exceeds/i.test(message)) return new ProblemError(413, 'too-many-pixels', 'This picture claims more than 300 million pixels and was not opened. Save a smaller copy.');
  if (/unsupported image format|not a known|unknown file/i.test(message)) return begins ? new ProblemError(422, 'truncated', `This file begins as a ${begins} and then breaks off: most of it is missing. Export or download it again.`) : new ProblemError(415, 'not-a-picture', 'This file is not a picture Kettle Sheet can read. Use PNG, JPEG, WebP, TIFF, GIF or SVG.');
  if (/truncat|premature|end of (file|stream|input)|too short|cut off|ended|not enough data/i.test(message)) return new ProblemError(422, 'truncated', 'This picture is cut off: part of the file is missing. Export or download it again.');
  return new ProblemError(422, 'damaged', 'This picture is damaged and cannot be read. Export it again from the program that made it.');
}
