import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { pngFacts, type FileFacts, type Pixels } from '@kettle/core';
import { openRaster } from '../artwork/source.js';
import { profileName } from './icc.js';

const COLOUR_TYPES: Readonly<Record<number, FileFacts['mode']>> = {
  0: 'grey',
  2: 'rgb',
  3: 'palette',
  4: 'grey',
  6: 'rgb',
};

/**
 * Opens a finished PNG from its bytes alone. The chunks are read by the core's reader, the pixels decoded in full by
 * libvips: neither wrote the file.
 * @throws when the file does not decode to the end
 */
export async function readBack(path: string): Promise<{ facts: FileFacts; pixels: Pixels }> {
  const bytes = await readFile(path);
  const chunks = pngFacts(bytes);
  const hasAlpha = chunks.colourType === 4 || chunks.colourType === 6 || chunks.hasTransparencyChunk;
  const { icc, width, height } = await sharp(bytes).metadata();
  if (width !== chunks.width || height !== chunks.height)
    throw new Error('Two readers disagree on the size of the print file.');
  // Decoding to the last row proves the file whole. Its pixels go on to be compared with the design.
  const { data } = await openRaster(bytes)
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return {
    pixels: { width, height, data },
    facts: {
      fileType: 'png',
      widthPx: chunks.width,
      heightPx: chunks.height,
      pixelsPerMetreX: chunks.pixelsPerMetreX,
      pixelsPerMetreY: chunks.pixelsPerMetreY,
      mode: COLOUR_TYPES[chunks.colourType] ?? 'other',
      bitsPerChannel: chunks.bitDepth,
      hasAlpha,
      transparentShare: hasAlpha ? clearShare(data) : 0,
      profile: chunks.profile && icc ? profileName(icc) : null,
      interlaced: chunks.interlaced,
      privateData: chunks.privateChunks,
      bytes: bytes.length,
    },
  };
}

function clearShare(rgba: Buffer): number {
  let clear = 0;
  for (let i = 3; i < rgba.length; i += 4) if (rgba[i] === 0) clear++;
  return clear / (rgba.length / 4);
}
