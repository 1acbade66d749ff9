import { readFile } from 'node:fs/promises';
import { asImage, drawCanvas } from '../canvas.js';
import { plainProfile, profileName } from '../../colour/icc.js';
import { jpegSays, withPrintSegments } from '../jpeg-segments.js';
import { foreignPixels } from './foreign-pixels.js';
import type { PrintFormat } from './format.js';
import { underLimit } from './under-limit.js';

/** JPEG: laid on a ground, as good as a byte limit allows. */
export const JPEG: PrintFormat = {
  type: 'jpeg',
  writer: 'libjpeg (in libvips)',
  reader: 'image-rs',

  async encode(recipe, files, progress) {
    const canvas = await drawCanvas({ ...recipe, alpha: false }, files, progress);
    const profile = await plainProfile(recipe.mode === 'grey' ? 'grey' : 'rgb');
    const { bytes } = await underLimit(
      async (quality) =>
        withPrintSegments(
          await asImage(canvas, { ...recipe, alpha: false })
            .jpeg({ quality, chromaSubsampling: quality >= 90 ? '4:4:4' : '4:2:0' })
            .toBuffer(),
          recipe.dpi,
          profile,
        ),
      recipe.maxBytes,
    );
    return [bytes];
  },

  async open(path) {
    const bytes = await readFile(path);
    const { pixels, channels } = await foreignPixels(bytes);
    const { x, y, profile, other } = jpegSays(bytes);
    return {
      pixels,
      profile,
      // What it loses to be small.
      slack: { edges: 12, colours: 6 },
      facts: {
        fileType: 'jpeg',
        widthPx: pixels.width,
        heightPx: pixels.height,
        pixelsPerMetreX: x,
        pixelsPerMetreY: y,
        mode: channels === 1 ? 'grey' : 'rgb',
        bitsPerChannel: 8,
        hasAlpha: false,
        transparentShare: 0,
        profile: profile && profileName(profile),
        interlaced: false,
        privateData: other,
        bytes: bytes.length,
      },
    };
  },
};
