import { readFile } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { MAX_PIXELS, type Pixels } from '@kettle/core';
import { ProblemError } from '../safety/problem-error.js';
import { safeSvg } from './svg.js';

sharp.cache(false);

const ALLOWED = { limitInputPixels: MAX_PIXELS, failOn: 'error', sequentialRead: true } as const;

/** True when bytes begin like XML or SVG text. */
export const looksLikeSvg = (bytes: Uint8Array): boolean => /^(?:\uFEFF)?\s*<(?:\?xml|!doctype\s+svg|!--|svg)/i.test(new TextDecoder().decode(bytes.subarray(0, 512)));

/** Opens a raster picture with all limits on. */
export const openRaster = (bytes: Buffer): Sharp => sharp(bytes, ALLOWED);

/** 8-bit sRGB with alpha, turned upright; embedded profiles are honoured. */
export async function decodeRaster(bytes: Buffer): Promise<Pixels> {
  const { data, info } = await openRaster(bytes).autoOrient().toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** Draws a safe SVG at an exact size in px. */
export async function drawSvg(bytes: Buffer, width: number, height: number): Promise<Pixels> {
  const svg = safeSvg(bytes);
  const [w, h] = [Math.max(1, Math.round(width)), Math.max(1, Math.round(height))];
  const density = Math.min(100_000, Math.max(1, (72 * w) / svg.width));
  const { data, info } = await sharp(Buffer.from(withSize(svg.text, svg.width, svg.height)), { ...ALLOWED, density })
    .resize(w, h, { fit: 'fill' }).ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** Draws an SVG of our own making at the size its root says, in px. Its paths may be longer than a foreign file's would be allowed to be. */
export async function drawOwnSvg(svg: string): Promise<Pixels> {
  const { data, info } = await sharp(Buffer.from(svg), { ...ALLOWED, unlimited: true }).ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** The renderer takes the size from the root element: say it in px, whatever unit stood there. */
function withSize(text: string, width: number, height: number): string {
  return text.replace(/<(\w+:)?svg\b([^>]*)>/i, (_whole, prefix: string | undefined, rest: string) => {
    const kept = rest.replace(/\s(?:width|height)="[^"]*"/gi, '');
    const view = /\sviewBox="/.test(kept) ? '' : ` viewBox="0 0 ${width} ${height}"`;
    // 72 px make one inch in the renderer's own reckoning, so a density of 72 is a scale of one.
    return `<${prefix ?? ''}svg${kept}${view} width="${width}" height="${height}">`;
  });
}

/** Recently decoded pictures, because one picture often goes into several files. Bounded by bytes. */
const kept = new Map<string, { pixels: Pixels } | { svg: Buffer }>();
const MOST_KEPT = 70_000_000;

/** Reads an artwork file: pixels for raster pictures, the bytes for SVG. */
export async function readSource(sha256: string, path: string): Promise<{ pixels: Pixels } | { svg: Buffer }> {
  const known = kept.get(sha256);
  if (known) return known;
  const bytes = await readFile(path);
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

/** What a decoder's complaint means, as a problem for the person who dropped the file. */
export function decodeProblem(error: unknown): ProblemError {
  if (error instanceof ProblemError) return error;
  const message = String((error as Error)?.message ?? error);
  if (/pixel limit|too large|exceeds/i.test(message)) return new ProblemError(413, 'too-many-pixels', 'This picture claims more than 300 million pixels and was not opened. Save a smaller copy.');
  if (/unsupported image format|not a known|unknown file/i.test(message)) return new ProblemError(415, 'not-a-picture', 'This file is not a picture Kettle Sheet can read. Use PNG, JPEG, WebP, TIFF or SVG.');
  if (/truncat|premature|end of (file|stream|input)|too short|cut off|ended|not enough data/i.test(message)) return new ProblemError(422, 'truncated', 'This picture is cut off: part of the file is missing. Export or download it again.');
  return new ProblemError(422, 'damaged', 'This picture is damaged and cannot be read. Export it again from the program that made it.');
}
