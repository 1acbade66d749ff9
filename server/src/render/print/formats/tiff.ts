import { readFile, stat } from 'node:fs/promises';
import sharp from 'sharp';
import UTIF from 'utif2';
import type { Pixels } from '@kettle/core/geometry';
import type { PrintRecipe } from '@kettle/core/recipes';
import { inkTable } from '../../colour/colour-engine.js';
import { pressKernel } from '../../colour/kernel.js';
import { profileOf } from '../../colour/profiles.js';
import { tiffPieces } from './tiff-writer.js';
import { asImage, drawCanvas } from '../canvas.js';
import { plainProfile, profileName } from '../../colour/icc.js';
import type { PrintFormat } from './format.js';

/** TIFF: exact pixels, in RGB, grey or the inks of a press, with alpha apart. */
export const TIFF: PrintFormat = {
  type: 'tiff',
  writer: 'a TIFF writer of our own',
  reader: 'libtiff (in libvips)',

  async encode(recipe, files, progress) {
    const canvas = await drawCanvas(recipe, files, progress);
    const { mode, alpha, dpi, packing = 'lzw', conversion } = recipe;
    let samples: Uint8Array;
    let profile: Buffer;
    if (mode === 'cmyk') {
      profile = await profileOf(conversion!, files);
      samples = pressKernel().convert(canvas.data, await inkTable(profile, conversion!), alpha);
    } else {
      profile = await plainProfile(mode);
      samples = await plainSamples(canvas, recipe);
    }
    return tiffPieces(
      { width: canvas.width, height: canvas.height, mode, alpha, samples, dpi, profile, packing },
      pressKernel(),
    );
  },

  async open(path) {
    const { size } = await stat(path);
    const open = () => sharp(path, { limitInputPixels: false });
    const { width, height, space, channels, icc, hasAlpha, exif, xmp, iptc } = await open().metadata();
    const mode = space === 'cmyk' ? 'cmyk' : space === 'b-w' ? 'grey' : space === 'srgb' ? 'rgb' : 'other';
    const alpha = hasAlpha === true;
    const tags = tagsOf(await readFile(path));
    const image = open();
    const { data, info } = await (
      mode === 'cmyk'
        ? image.pipelineColourspace('cmyk').toColourspace('cmyk')
        : image.toColourspace('srgb').ensureAlpha()
    )
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    if (mode === 'cmyk' && info.channels !== channels)
      throw new Error('Two readings of the print file disagree on its channels.');
    let clear = 0;
    if (alpha) for (let i = info.channels - 1; i < data.length; i += info.channels) if (data[i] === 0) clear++;
    return {
      // libvips hands the inks out as they stand in the file.
      pixels: mode === 'cmyk' ? { width, height, data, alpha } : { width, height, data },
      profile: icc ?? null,
      facts: {
        fileType: 'tiff',
        widthPx: width,
        heightPx: height,
        pixelsPerMetreX: tags.x,
        pixelsPerMetreY: tags.y,
        mode,
        bitsPerChannel: 8,
        hasAlpha: alpha,
        transparentShare: alpha ? clear / (width * height) : 0,
        profile: icc ? profileName(icc) : null,
        interlaced: false,
        privateData: [...tags.unknown, ...(exif ? ['Exif'] : []), ...(xmp ? ['XMP'] : []), ...(iptc ? ['IPTC'] : [])],
        bytes: size,
      },
    };
  },
};

/** Samples of an RGB or grey file: libvips has no grey with alpha, so that is put beside it here. */
async function plainSamples(canvas: Pixels, { mode, alpha }: PrintRecipe): Promise<Uint8Array> {
  if (mode === 'rgb' && alpha) return canvas.data as Uint8Array;
  const flat = await asImage(canvas, { mode, alpha: false }).raw().toBuffer();
  if (!alpha) return flat;
  const both = new Uint8Array(flat.length * 2);
  for (let i = 0; i < flat.length; i++) {
    both[i * 2] = flat[i];
    both[i * 2 + 1] = canvas.data[i * 4 + 3];
  }
  return both;
}

interface Tags {
  readonly x: number | null;
  readonly y: number | null;
  readonly unknown: readonly string[];
}

/** Tags that a print file has; any other one says more than it should. */
const NEEDED = [254, 256, 257, 258, 259, 262, 273, 277, 278, 279, 282, 283, 284, 296, 317, 332, 338, 34675];

/** Resolution of both axes, whole pixels per metre, and tags that do not belong, as another reader finds them. */
function tagsOf(bytes: Buffer): Tags {
  const [page] = UTIF.decode(new Uint8Array(bytes).buffer) as unknown as Record<
    string,
    (number | [number, number])[]
  >[];
  const perUnit = page['t296']?.[0] === 3 ? 100 : page['t296']?.[0] === 2 ? 1 / 0.0254 : null;
  const axis = (tag: string): number | null => {
    const value = page[tag]?.[0];
    if (perUnit === null || value === undefined) return null;
    return Math.round((Array.isArray(value) ? value[0] / value[1] : value) * perUnit);
  };
  return {
    x: axis('t282'),
    y: axis('t283'),
    unknown: Object.keys(page)
      .filter((name) => /^t\d+$/.test(name) && !NEEDED.includes(Number(name.slice(1))))
      .map((name) => `tag ${name.slice(1)}`),
  };
}
