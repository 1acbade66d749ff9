import { ColorMode, Hierarchical, PathSimplifyMode, vectorizeRaw } from '@neplex/vectorizer';
import sharp from 'sharp';
import svgpath from 'svgpath';
import type { Pixels } from '@kettle/core/geometry';
import { mergeColours } from '@kettle/core/raster';
import type { GraphicPart } from '@kettle/core/model';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { readShown, type ShownSource } from './shown.js';
import { drawOwnSvg, drawWholeSvg } from './source.js';

/** A picture redrawn as outlines. */
export interface Traced {
  readonly parts: readonly GraphicPart[];
  readonly box: { readonly width: number; readonly height: number };
  /** Share of the picture whose colour is another than the original's, 0 to 1. */
  readonly differing: number;
}

/** Longer side of the copy that is traced, px: between its pixels the edges of a small picture are found more finely. */
const TRACED_SIDE = 1400;
/** Most that a small picture is enlarged for it. */
const MOST_ENLARGED = 6;
/** Most parts and letters of path data that a graphic may have. */
const MOST_PARTS = 300;
const MOST_PATH = 100_000;
/** Difference of a pixel, levels, from which it counts as another colour. */
const ANOTHER = 48;

const notFlat = (): ProblemError =>
  new ProblemError(
    422,
    'too-much-to-trace',
    'This picture has too few flat areas to be redrawn as outlines: it is a photo, or has much noise. Choose fewer colours, or keep it as it is. Nothing was changed.',
  );

const nothingSeen = (): ProblemError =>
  new ProblemError(422, 'nothing-to-trace', 'There is nothing to be seen on this picture, so nothing was redrawn.');

function isSeen({ data }: Pixels): boolean {
  for (let i = 3; i < data.length; i += 4) if (data[i] >= 128) return true;
  return false;
}

/**
 * Redraws flat art as outlines of a few colours. @throws ProblemError 422 when it has more areas than a graphic may have
 * @param colours most colours that are kept, 2 to 24
 */
export async function trace(shown: ShownSource, path: string, colours: number): Promise<Traced> {
  const source = await readShown(shown, path);
  const picture = 'svg' in source ? await drawWholeSvg(source.svg, TRACED_SIDE, TRACED_SIDE) : source.pixels;
  const enlarged = await sized(picture);
  const merged = mergeColours(enlarged, colours);
  if (!merged) throw isSeen(enlarged) ? notFlat() : nothingSeen();
  const raw = { width: merged.width, height: merged.height };
  const svg = await vectorizeRaw(Buffer.from(merged.data), raw, {
    colorMode: ColorMode.Color,
    hierarchical: Hierarchical.Stacked,
    filterSpeckle: 6,
    colorPrecision: 8,
    layerDifference: 0,
    mode: PathSimplifyMode.Spline,
    cornerThreshold: 60,
    lengthThreshold: 4,
    maxIterations: 10,
    spliceThreshold: 45,
    pathPrecision: 2,
  });
  const parts = partsOf(svg);
  if (!parts.length) throw nothingSeen();
  if (parts.length > MOST_PARTS || parts.some((part) => part.path.length > MOST_PATH)) throw notFlat();
  return { parts, box: raw, differing: await differing(enlarged, parts) };
}

const rawOf = ({ width, height }: Pixels) => ({ raw: { width, height, channels: 4 as const } });

/** The picture at the size it is traced at. */
async function sized(picture: Pixels): Promise<Pixels> {
  const longer = Math.max(picture.width, picture.height);
  const factor = Math.min(MOST_ENLARGED, TRACED_SIDE / longer);
  const { data, info } = await sharp(picture.data as Uint8Array, rawOf(picture))
    .resize(Math.max(1, Math.round(picture.width * factor)), Math.max(1, Math.round(picture.height * factor)), {
      fit: 'fill',
      kernel: factor > 1 ? 'mitchell' : 'lanczos3',
    })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

const PATH = /<path d="([^"]+)" fill="(#[0-9a-fA-F]{6})"(?: transform="translate\(([-\d.]+),\s*([-\d.]+)\)")?[^>]*\/>/g;

/** Outlines back to front; neighbours of one colour are one part. */
function partsOf(svg: string): GraphicPart[] {
  const parts: { path: string; fill: string }[] = [];
  for (const [, d, fill, x = '0', y = '0'] of svg.matchAll(PATH)) {
    const path = svgpath(d).translate(Number(x), Number(y)).abs().round(2).toString();
    const hex = fill.toLowerCase();
    const last = parts.at(-1);
    if (last?.fill === hex && last.path.length + path.length < MOST_PATH) last.path += path;
    else parts.push({ path, fill: hex });
  }
  return parts;
}

async function differing(original: Pixels, parts: readonly GraphicPart[]): Promise<number> {
  const { width, height } = original;
  const drawn = await drawOwnSvg(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${parts.map(({ path, fill }) => `<path d="${path}" fill="${String(fill)}"/>`).join('')}</svg>`,
  );
  let other = 0;
  for (let i = 0; i < drawn.data.length; i += 4) {
    const [a, b] = [drawn.data[i + 3] / 255, original.data[i + 3] / 255];
    const far = Math.max(
      ...[0, 1, 2].map((k) => Math.abs(drawn.data[i + k] * a - original.data[i + k] * b)),
      Math.abs(drawn.data[i + 3] - original.data[i + 3]),
    );
    if (far > ANOTHER) other++;
  }
  return other / (width * height);
}
