import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { hexOf, rgbOf } from '@kettle/core/colour';
import type { PrintRecipe } from '@kettle/core/recipes';
import { ProblemError } from '../../../floor/basics/problem-error.js';
import type { Files } from '../../artwork/files.js';
import { outlinesOf } from '../outlines.js';
import { clearShare, type PrintFormat } from './format.js';

/** Longest side of the picture of an SVG that is compared with the design, px. */
const SEEN_PX = 1000;
const MM_PER_INCH = 25.4;

/** SVG: outlines alone, at true size. */
export const SVG: PrintFormat = {
  type: 'svg',
  writer: 'a writer of our own',
  reader: 'librsvg (in libvips)',

  async encode(recipe, files, progress) {
    return [Buffer.from(await svgOf(recipe, files, progress))];
  },

  async open(path, recipe) {
    const bytes = await readFile(path);
    const size = trueSize(bytes.toString('utf8', 0, 400));
    // librsvg is given the resolution, and libvips enlarges by it over 72 besides: both together make the longest side.
    const density = Math.sqrt((SEEN_PX * 72 * MM_PER_INCH) / Math.max(size.widthMm, size.heightMm));
    const { data, info } = await sharp(bytes, { density, unlimited: true, limitInputPixels: false })
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const text = bytes.toString('utf8');
    const clear = clearShare(data);
    return {
      pixels: { width: info.width, height: info.height, data },
      facts: {
        fileType: 'svg',
        widthPx: Math.round((size.widthMm / MM_PER_INCH) * recipe.dpi),
        heightPx: Math.round((size.heightMm / MM_PER_INCH) * recipe.dpi),
        pixelsPerMetreX: null,
        pixelsPerMetreY: null,
        trueSize: size,
        mode: 'rgb',
        bitsPerChannel: 8,
        hasAlpha: clear > 0,
        transparentShare: clear,
        profile: 'sRGB, as every SVG',
        interlaced: false,
        privateData: ['metadata', 'title', 'desc', 'text', 'image', 'script'].filter((name) =>
          text.includes(`<${name}`),
        ),
        bytes: bytes.length,
      },
    };
  },
};

/** Size that the root element says, mm. @throws Error when it says none */
function trueSize(head: string): { widthMm: number; heightMm: number } {
  const said = /<svg [^>]*?width="([\d.]+)mm" height="([\d.]+)mm"/.exec(head);
  if (!said) throw new Error('An SVG print file does not say its size.');
  return { widthMm: Number(said[1]), heightMm: Number(said[2]) };
}

async function svgOf(recipe: PrintRecipe, files: Files, progress: (share: number) => void): Promise<string> {
  const { widthPx, heightPx, dpi, alpha, ground, layers } = recipe;
  const parts: string[] = [];
  for (const [i, layer] of layers.entries()) {
    const outlines = await outlinesOf(layer, files, `l${i}`);
    if (outlines === null)
      throw new ProblemError(
        409,
        'file-type',
        'An SVG holds outlines alone, and a layer of this design cannot be drawn as outlines.',
      );
    const look = [
      layer.opacity < 1 ? ` opacity="${layer.opacity}"` : '',
      layer.blend ? ` style="mix-blend-mode:${layer.blend}"` : '',
    ].join('');
    parts.push(look ? `<g${look}>${outlines}</g>` : outlines);
    progress((i + 1) / layers.length);
  }
  const mm = (px: number): string => `${Math.round((px / dpi) * MM_PER_INCH * 1e4) / 1e4}mm`;
  const back = alpha
    ? ''
    : `<rect width="${widthPx}" height="${heightPx}" fill="${hexOf(rgbOf(ground ?? '#ffffff'))}"/>`;
  return `<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="${mm(widthPx)}" height="${mm(heightPx)}" viewBox="0 0 ${widthPx} ${heightPx}">${back}${parts.join('')}</svg>\n`;
}
