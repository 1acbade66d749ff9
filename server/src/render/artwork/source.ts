import { readFile } from 'node:fs/promises';
import { deflateSync, gunzipSync } from 'node:zlib';
import { ResizeFilterType, ResizeFit, Transformer } from '@napi-rs/image';
import sharp, { type Sharp } from 'sharp';
import { compose, MAX_PIXELS, scale, type Affine, type Pixels } from '@kettle/core/geometry';
import { withProfileChunk } from '@kettle/core/raster';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { letGo } from '../../floor/processes/let-go.js';
import { withSaidColour } from './png-colour.js';
import { readPlainPng } from './plain-png.js';
import { safeSvg } from './svg.js';
import { refuseTiff } from './tiff.js';

sharp.cache(false);

const ALLOWED = { limitInputPixels: MAX_PIXELS, failOn: 'error', sequentialRead: true } as const;

/** True when bytes begin like XML or SVG text, in any encoding XML allows. */
export function looksLikeSvg(bytes: Uint8Array): boolean {
  const wide =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  return /^(?:\uFEFF)?\s*<(?:\?xml|!doctype\s+svg|!--|(?:\w+:)?svg[\s>])/i.test(
    new TextDecoder(wide).decode(bytes.subarray(0, 512)),
  );
}

/** Largest SVG text that a packed one may unpack to. */
const MOST_UNPACKED = 64 * 1024 * 1024;

/**
 * The bytes as they are drawn: a gzip-packed SVG (.svgz) unpacked, all else as it is. @throws ProblemError when what
 * is packed is no SVG
 */
export function unpackedSource(bytes: Buffer): Buffer {
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return bytes;
  let text: Buffer;
  try {
    text = gunzipSync(bytes, { maxOutputLength: MOST_UNPACKED });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE')
      throw new ProblemError(
        413,
        'too-many-bytes',
        'This file unpacks to far more than a drawing needs, so it was not opened.',
      );
    throw new ProblemError(
      422,
      'damaged',
      'This is a packed file that cannot be unpacked. Save it again, as SVG without packing if there is a choice.',
    );
  }
  if (!looksLikeSvg(text))
    throw new ProblemError(415, 'not-a-picture', 'This is a gzip archive without an SVG in it. Unpack it first.');
  return text;
}

/** Opens a raster picture with all limits on. */
export const openRaster = (bytes: Buffer): Sharp => sharp(bytes, ALLOWED);

/**
 * 8-bit sRGB with alpha, turned upright; embedded profiles, and what a PNG says of its colours without one, are
 * honoured.
 */
export async function decodeRaster(bytes: Buffer): Promise<Pixels> {
  const refused = refuseTiff(bytes);
  if (refused) throw refused;
  const said = await withGreyAsRead(withSaidColour(bytes));
  const { icc, depth } = await openRaster(said).metadata();
  const upright = openRaster(said).autoOrient();
  // 16-bit pictures with a profile are brought to a wider space inside the library: only naming the last profile
  // brings their numbers to sRGB.
  const srgb = icc && depth === 'ushort' ? upright.withIccProfile('srgb') : upright.toColourspace('srgb');
  const { data, info } = await srgb.ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** The library passes over the profile of 16-bit grey, so that is reduced to 8 bits first. */
async function withGreyAsRead(bytes: Buffer): Promise<Buffer> {
  const { icc, space } = await openRaster(bytes).metadata();
  if (!icc || space !== 'grey16') return bytes;
  const plain = await sharp(bytes, { ...ALLOWED, ignoreIcc: true })
    .autoOrient()
    .toColourspace('b-w')
    .png({ compressionLevel: 0, palette: false })
    .toBuffer();
  return Buffer.concat(withProfileChunk(plain, { name: 'Grey', deflated: deflateSync(icc) }));
}

/** What an SVG's own style sheet may not do to the frame around it. */
const FRAME =
  'opacity:1!important;filter:none!important;mask:none!important;clip-path:none!important;transform:none!important;display:inline!important;visibility:visible!important';

/**
 * Draws a foreign SVG on a window of whole pixels, whatever size its own lengths are in: the drawing is scaled, never
 * its resolution, so that a line of 3 pt
 * keeps its proportion to the rest. One inch is 96 px of the drawing (CSS Values and Units, 6.2).
 * @param map unit square of the drawing to the window's pixels
 */
export async function drawSvg(bytes: Buffer, window: { width: number; height: number }, map: Affine): Promise<Pixels> {
  const svg = safeSvg(bytes);
  const place = compose(map, scale(1 / svg.width, 1 / svg.height));
  // The renderer enlarges everything by resolution / 72: at 96 an inch is as CSS has it, and the frame is that much
  // smaller.
  const [width, height] = [(window.width * 72) / 96, (window.height * 72) / 96];
  const framed = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${window.width} ${window.height}" preserveAspectRatio="none" style="${FRAME}"><g transform="matrix(${place.join(' ')})" style="${FRAME}">${svg.nested}</g></svg>`;
  const { data, info } = await sharp(Buffer.from(framed), { ...ALLOWED, density: 96 })
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  if (info.width !== window.width || info.height !== window.height)
    throw new Error(
      `An SVG was drawn at ${info.width} × ${info.height} instead of ${window.width} × ${window.height} px.`,
    );
  return { width: info.width, height: info.height, data };
}

/** The whole of a foreign SVG at an exact size in px. */
export function drawWholeSvg(bytes: Buffer, width: number, height: number): Promise<Pixels> {
  const [w, h] = [Math.max(1, Math.round(width)), Math.max(1, Math.round(height))];
  return drawSvg(bytes, { width: w, height: h }, [w, 0, 0, h, 0, 0]);
}

/**
 * Draws an SVG of our own making at the size its root says, in px. Its paths may be longer than a foreign file's would
 * be allowed to be.
 */
export async function drawOwnSvg(svg: string): Promise<Pixels> {
  const { data, info } = await sharp(Buffer.from(svg), { ...ALLOWED, unlimited: true })
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** Longest side of a picture that is drawn a second time, px. */
const SECOND_PX = 2000;
/** The same where it is drawn at the size of the file itself. */
const OWN_PX = 10_000;

/** A part of a picture, as shares of its width and height from its left and upper edge, 0 to 1. */
export interface Part {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/**
 * A part of an artwork file as a small PNG, by libvips alone: its own shrinking and colour management, none of
 * the ways that print files take.
 * @param finer times that an SVG is drawn finer than asked for: twice, and lines thinner than a pixel keep their weight through
 *   another filter
 * @param seen the part that is wanted; what comes back may be a little or much more of it, and says so
 * @param width, height px that the whole picture is wanted at; nothing longer
 * than {@link SECOND_PX} is made
 */
export async function asWritten(
  path: string,
  seen: Part,
  width: number,
  height: number,
  finer = 2,
): Promise<{ png: Buffer; part: Part }> {
  const bytes = unpackedSource(await readFile(path));
  // What is looked at again at a file's own size has to be as fine as that.
  const most = finer > 1 ? SECOND_PX : OWN_PX;
  const within = (px: number): number => Math.max(1, Math.min(most, Math.round(px)));
  const whole = { left: 0, top: 0, right: 1, bottom: 1 };
  const written = async (image: Sharp): Promise<Buffer> =>
    image.ensureAlpha().png({ compressionLevel: 1, palette: false }).toBuffer();
  if (looksLikeSvg(bytes)) {
    const svg = safeSvg(bytes);
    const enlarged = finer * Math.max(width / svg.width, height / svg.height);
    // At a resolution of 96, one px of a root is 96 / 72 px of the picture.
    const sized = (w: number, h: number): string => ` width="${w * 0.75}" height="${h * 0.75}"`;
    if (Math.max(svg.width, svg.height) * enlarged <= most) {
      // Its root is given another size in its own proportion, as a viewer's window would.
      const text = svg.text.replace(
        / width="[^"]*" height="[^"]*">/,
        `${sized(within(svg.width * enlarged), within(svg.height * enlarged))}>`,
      );
      return { png: await written(sharp(Buffer.from(text), { ...ALLOWED, density: 96 })), part: whole };
    }
    const [w, h] = [seen.right - seen.left, seen.bottom - seen.top];
    const view = `${seen.left * svg.width} ${seen.top * svg.height} ${w * svg.width} ${h * svg.height}`;
    const text = `<svg xmlns="http://www.w3.org/2000/svg"${sized(within(w * width * finer), within(h * height * finer))} viewBox="${view}" preserveAspectRatio="none">${svg.nested}</svg>`;
    return { png: await written(sharp(Buffer.from(text), { ...ALLOWED, density: 96 })), part: seen };
  }
  const image = openRaster(await withGreyAsRead(withSaidColour(bytes)));
  const {
    autoOrient: { width: w, height: h },
    icc,
  } = await image.metadata();
  // A filter reads two pixels beyond what it shows.
  const [left, top] = [Math.floor(seen.left * w) - 2, Math.floor(seen.top * h) - 2].map((px) => Math.max(0, px));
  const [right, bottom] = [
    Math.min(w, Math.max(left + 1, Math.ceil(seen.right * w) + 2)),
    Math.min(h, Math.max(top + 1, Math.ceil(seen.bottom * h) + 2)),
  ];
  const part = { left: left / w, top: top / h, right: right / w, bottom: bottom / h };
  const size = { width: within((part.right - part.left) * width), height: within((part.bottom - part.top) * height) };
  // Numbers that nobody tagged are sRGB; naming a profile would have 16-bit ones taken for linear light.
  const upright = image.autoOrient();
  const cut = (icc ? upright.withIccProfile('srgb') : upright.toColourspace('srgb')).extract({
    left,
    top,
    width: right - left,
    height: bottom - top,
  });
  if (size.width > right - left || size.height > bottom - top)
    return { png: await written(await enlarged(cut, size)), part };
  return { png: await written(cut.resize({ ...size, fit: 'fill' })), part };
}

/** What a filter swings beyond the whole of a pixel is kept until colours are parted from alpha again. */
const HEADROOM = 0.8;

/** A picture enlarged by image-rs with the cubic of Catmull and Rom, as prints are: libvips enlarges with another one. */
async function enlarged(image: Sharp, { width, height }: { width: number; height: number }): Promise<Sharp> {
  const { data, info } = await image.ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  for (let i = 0; i < data.length; i += 4) {
    const share = (data[i + 3] / 255) * HEADROOM;
    for (let k = 0; k < 3; k++) data[i + k] = Math.round(data[i + k] * share);
    data[i + 3] = Math.round(255 * share);
  }
  const larger = await Transformer.fromRgbaPixels(data, info.width, info.height)
    .resize({ width, height, filter: ResizeFilterType.CatmullRom, fit: ResizeFit.Fill })
    .rawPixels();
  for (let i = 0; i < larger.length; i += 4) {
    const alpha = larger[i + 3];
    for (let k = 0; k < 3; k++) larger[i + k] = alpha ? Math.min(255, Math.round((larger[i + k] * 255) / alpha)) : 0;
    larger[i + 3] = Math.min(255, Math.round(alpha / HEADROOM));
  }
  return sharp(larger, { raw: { width, height, channels: 4 } });
}

/** Recently decoded pictures, because one picture often goes into several files. Bounded by bytes. */
const kept = new Map<string, { pixels: Pixels } | { svg: Buffer }>();
const MOST_KEPT = 70_000_000;
const LARGE = 20_000_000;

/**
 * Reads an artwork file: pixels for raster pictures and for whatever was treated, the bytes for SVG.
 * @param key names what is read: a file by its content, a treated one by what was done to it
 */
export async function readSource(
  key: string,
  read: () => Promise<{ pixels: Pixels } | { svg: Buffer }>,
): Promise<{ pixels: Pixels } | { svg: Buffer }> {
  const known = kept.get(key);
  if (known) return known;
  const source = await read();
  const weight = (one: { pixels: Pixels } | { svg: Buffer }) =>
    'svg' in one ? one.svg.length : one.pixels.data.length;
  // The file's own bytes and the decoder's copy of a large picture are not needed any more.
  if (weight(source) > LARGE) await letGo();
  if (weight(source) > MOST_KEPT) return source;
  kept.set(key, source);
  for (const [name, one] of kept) {
    if ([...kept.values()].reduce((sum, each) => sum + weight(each), 0) <= MOST_KEPT) break;
    if (one !== source) kept.delete(name);
  }
  return source;
}

/** A file as it lies on the disk. */
export async function readFileSource(path: string): Promise<{ pixels: Pixels } | { svg: Buffer }> {
  const bytes = unpackedSource(await readFile(path));
  return looksLikeSvg(bytes) ? { svg: bytes } : { pixels: (await readPlainPng(bytes)) ?? (await decodeRaster(bytes)) };
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
  if (/pixel limit|too large|exceeds/i.test(message))
    return new ProblemError(
      413,
      'too-many-pixels',
      'This picture claims more than 300 million pixels and was not opened. Save a smaller copy.',
    );
  if (/unsupported image format|not a known|unknown file/i.test(message))
    return begins
      ? new ProblemError(
          422,
          'truncated',
          `This file begins as a ${begins} and then breaks off: most of it is missing. Export or download it again.`,
        )
      : new ProblemError(
          415,
          'not-a-picture',
          'This file is not a picture Kettle Sheet can read. Use PNG, JPEG, WebP, HEIC, TIFF, GIF or SVG.',
        );
  if (/truncat|premature|end of (file|stream|input)|too short|cut off|ended|not enough data/i.test(message))
    return new ProblemError(
      422,
      'truncated',
      'This picture is cut off: part of the file is missing. Export or download it again.',
    );
  return new ProblemError(
    422,
    'damaged',
    'This picture is damaged and cannot be read. Export it again from the program that made it.',
  );
}
