import { readFile } from 'node:fs/promises';
import UTIF from 'utif2';
import { asImage, drawCanvas } from '../canvas.js';
import { plainProfile, profileName } from '../../colour/icc.js';
import { foreignPixels } from './foreign-pixels.js';
import { lookOver } from '../likeness.js';
import type { PrintFormat } from './format.js';
import { underLimit } from './under-limit.js';

/** WebP: smaller than JPEG, with transparency. Only Exif can say its resolution. */
export const WEBP: PrintFormat = {
  type: 'webp',
  writer: 'libwebp (in libvips)',
  reader: 'image-rs',

  async encode(recipe, files, progress) {
    const canvas = await drawCanvas(recipe, files, progress);
    const profile = await plainProfile('rgb');
    const { bytes } = await underLimit(
      async (quality) =>
        withPrintParts(
          await asImage(canvas, recipe).webp({ quality, alphaQuality: 100, effort: 4 }).toBuffer(),
          { width: canvas.width, height: canvas.height, alpha: recipe.alpha },
          resolutionExif(recipe.dpi),
          profile,
        ),
      recipe.maxBytes,
    );
    return [bytes];
  },

  async open(path, recipe) {
    const bytes = await readFile(path);
    const { pixels, channels } = await foreignPixels(bytes);
    const parts = partsOf(bytes);
    const profile = parts.find(({ name }) => name === 'ICCP');
    const exif = parts.find(({ name }) => name === 'EXIF');
    const [page] = exif
      ? (UTIF.decode(Uint8Array.from(exif.data).buffer) as unknown as Record<string, [number, number][]>[])
      : [{} as Record<string, [number, number][]>];
    const axis = (tag: string): number | null => {
      const value = page[tag]?.[0];
      return value ? Math.round(value[0] / value[1] / 0.0254) : null;
    };
    const seen = lookOver(pixels, recipe);
    return {
      pixels: seen,
      profile: profile?.data ?? null,
      // What it loses to be small.
      slack: { edges: 12, colours: 6 },
      facts: {
        fileType: 'webp',
        widthPx: pixels.width,
        heightPx: pixels.height,
        pixelsPerMetreX: axis('t282'),
        pixelsPerMetreY: axis('t283'),
        mode: 'rgb',
        bitsPerChannel: 8,
        hasAlpha: channels === 4,
        transparentShare: channels === 4 ? seen.clearShare : 0,
        profile: profile ? profileName(profile.data) : null,
        interlaced: false,
        privateData: [
          ...parts.filter(({ name }) => !KNOWN.includes(name)).map(({ name }) => name.trim()),
          ...Object.keys(page).filter((tag) => /^t\d+$/.test(tag) && !['t282', 't283', 't296'].includes(tag)),
        ],
        bytes: bytes.length,
      },
    };
  },
};

const KNOWN = ['VP8X', 'VP8 ', 'VP8L', 'ALPH', 'ICCP', 'EXIF'];

interface Part {
  readonly name: string;
  readonly data: Buffer;
}

/** Chunks of a WebP file (RFC 9649, 2.3). */
function partsOf(bytes: Buffer): Part[] {
  const parts: Part[] = [];
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = bytes.readUInt32LE(at + 4);
    parts.push({ name: bytes.toString('latin1', at, at + 4), data: bytes.subarray(at + 8, at + 8 + length) });
    at += 8 + length + (length & 1);
  }
  return parts;
}

/** Exif that says a resolution and nothing else. */
function resolutionExif(dpi: number): Buffer {
  const exif = Buffer.alloc(8 + 2 + 3 * 12 + 4 + 16);
  exif.write('II*\0', 'latin1');
  exif.writeUInt32LE(8, 4);
  exif.writeUInt16LE(3, 8);
  const values = 8 + 2 + 3 * 12 + 4;
  [
    [282, 5, values],
    [283, 5, values + 8],
    [296, 3, 2],
  ].forEach(([tag, type, value], i) => {
    exif.writeUInt16LE(tag, 10 + i * 12);
    exif.writeUInt16LE(type, 12 + i * 12);
    exif.writeUInt32LE(1, 14 + i * 12);
    exif.writeUInt32LE(value, 18 + i * 12);
  });
  for (const at of [values, values + 8]) {
    exif.writeUInt32LE(Math.round(dpi * 1000), at);
    exif.writeUInt32LE(1000, at + 4);
  }
  return exif;
}

/** The picture of a WebP file, with a profile and a resolution in the extended form (RFC 9649, 2.7). */
function withPrintParts(
  webp: Buffer,
  { width, height, alpha }: { width: number; height: number; alpha: boolean },
  exif: Buffer,
  profile: Buffer,
): Buffer {
  const part = (name: string, data: Buffer): Buffer => {
    const head = Buffer.alloc(8);
    head.write(name, 'latin1');
    head.writeUInt32LE(data.length, 4);
    return Buffer.concat([head, data, Buffer.alloc(data.length & 1)]);
  };
  const head = Buffer.alloc(10);
  head[0] = 0x20 | 0x08 | (alpha ? 0x10 : 0);
  head.writeUIntLE(width - 1, 4, 3);
  head.writeUIntLE(height - 1, 7, 3);
  const picture = partsOf(webp).filter(({ name }) => ['VP8 ', 'VP8L', 'ALPH'].includes(name));
  const body = Buffer.concat([
    Buffer.from('WEBP', 'latin1'),
    part('VP8X', head),
    part('ICCP', profile),
    ...picture.map(({ name, data }) => part(name, data)),
    part('EXIF', exif),
  ]);
  const riff = Buffer.alloc(8);
  riff.write('RIFF', 'latin1');
  riff.writeUInt32LE(body.length, 4);
  return Buffer.concat([riff, body]);
}
