import type { Pixels } from '@kettle/core/geometry';
import { hexOf, rgbOf } from '@kettle/core/colour';
import { takeOut } from '@kettle/core/raster';
import { reduced, workingSize } from '@kettle/core/treatments';
import {
  contourOf,
  KEYLINE_MITRE,
  keylineStrokes,
  type KeylineStroke,
  type PlacedSilhouette,
} from '@kettle/core/layers';
import type { RecipeKeyline } from '@kettle/core/recipes';
import { readShown } from '../artwork/shown.js';
import { drawOwnSvg, drawWholeSvg } from '../artwork/source.js';
import type { Files } from '../artwork/files.js';

/**
 * A line around layers, drawn on the whole grid: exact around outlines, along the line of half alpha around pictures and
 * around what something was rubbed out of.
 * @param alone draws one of them by itself
 */
export async function drawKeyline(
  { around, ...keyline }: RecipeKeyline,
  files: Files,
  grid: { width: number; height: number },
  alone: (one: RecipeKeyline['around'][number]) => Promise<Pixels>,
): Promise<Pixels> {
  const placed: PlacedSilhouette[] = [];
  for (const one of around) {
    const { sha256, treated, drawing, rubbed, shapes, map } = one;
    if (drawing || rubbed) placed.push({ path: contourOf(await alone(one)), rule: 'evenodd', line: 0, map });
    else if (shapes) placed.push(...shapes.map((shape) => ({ ...shape, map })));
    else if (sha256 && files[sha256])
      placed.push({ path: await contour(sha256, treated, files), rule: 'evenodd', line: 0, map });
  }
  const { drawn, taken } = keylineStrokes(keyline, placed);
  const draw = (strokes: readonly KeylineStroke[]): Promise<Pixels> =>
    drawOwnSvg(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${grid.width}" height="${grid.height}" viewBox="0 0 ${grid.width} ${grid.height}">${strokes.map((one) => strokeSvg(one, keyline)).join('')}</svg>`,
    );
  const pixels = await draw(drawn);
  if (taken.length) takeOut(pixels, await draw(taken));
  return pixels;
}

export function strokeSvg(
  { path, rule, width }: KeylineStroke,
  { hex, join }: Pick<RecipeKeyline, 'hex' | 'join'>,
): string {
  const colour = hexOf(rgbOf(hex));
  const corners = join === 'sharp' ? `miter" stroke-miterlimit="${KEYLINE_MITRE}` : 'round';
  return `<path d="${path}" fill="${colour}" fill-rule="${rule}" stroke="${colour}" stroke-width="${width}" stroke-linejoin="${corners}" stroke-linecap="round"/>`;
}

/** Outline of what is seen of a picture, found on a copy of the size that treatments are worked out on. */
async function contour(
  sha256: string,
  treated: RecipeKeyline['around'][number]['treated'],
  files: Files,
): Promise<string> {
  const source = await readShown({ sha256, ...(treated ? { treated } : {}) }, files[sha256]);
  if ('svg' in source) return contourOf(await drawWholeSvg(source.svg, 1024, 1024));
  const { width, height } = workingSize(source.pixels.width, source.pixels.height);
  return contourOf(reduced(source.pixels, width, height));
}
