import { compose, scale, translate } from '@kettle/core/geometry';
import { keylineStrokes, type PlacedSilhouette } from '@kettle/core/layers';
import type { RecipeLayer } from '@kettle/core/recipes';
import { readShown } from '../artwork/shown.js';
import { safeSvg } from '../artwork/svg.js';
import type { Files } from '../artwork/files.js';
import { strokeSvg } from './draw-keyline.js';

/** What an SVG may hold besides paths that not every reader of outlines draws alike. */
const MORE_THAN_OUTLINES = /<(?:text|image|filter|mask|pattern|style|foreignObject|use|marker|symbol)\b/;

/** A stop of a gradient that is not solid. */
const CLEAR_STOP =
  /stop-opacity\s*[:=]\s*"?\s*(?!1(?:\.0*)?["\s;])|stop-color\s*[:=]\s*"?\s*(?:rgba|hsla|transparent|#[0-9a-f]{8}\b|#[0-9a-f]{4}\b)/i;

/** True when SVG fades a colour into nothing: readers of PDF show that in three ways. */
export const fadesOut = (svg: string): boolean => CLEAR_STOP.test(svg);

/**
 * A layer as SVG on a canvas's pixels, or null when outlines alone cannot hold it: pictures, what was rubbed out, dots.
 * @param name keeps the ids of gradients apart from those of other layers
 */
export async function outlinesOf(layer: RecipeLayer, files: Files, name: string): Promise<string | null> {
  if (layer.screen || layer.rubbed) return null;
  const body = await bodyOf(layer, files);
  return body === null ? null : ownIds(body, name);
}

async function bodyOf({ sha256, treated, drawing, keyline, map }: RecipeLayer, files: Files): Promise<string | null> {
  if (keyline) {
    const { around, ...line } = keyline;
    if (around.some(({ shapes }) => !shapes)) return null;
    const placed: PlacedSilhouette[] = around.flatMap((one) =>
      one.shapes!.map((shape) => ({ ...shape, map: one.map })),
    );
    const { drawn, taken } = keylineStrokes(line, placed);
    return taken.length ? null : drawn.map((one) => strokeSvg(one, line)).join('');
  }
  if (sha256 === null) {
    if (drawing!.some((step) => step.erase)) return null;
    return drawing!
      .map(({ view, body }) => {
        const place = compose(map, scale(1 / view.width, 1 / view.height), translate(-view.x, -view.y));
        return `<g transform="matrix(${place.join(' ')})">${body}</g>`;
      })
      .join('');
  }
  if (treated) return null;
  const source = await readShown({ sha256 }, files[sha256]);
  if (!('svg' in source)) return null;
  const own = safeSvg(source.svg);
  if (own.liveText || MORE_THAN_OUTLINES.test(own.nested)) return null;
  const place = compose(map, scale(1 / own.width, 1 / own.height));
  return `<g transform="matrix(${place.join(' ')})">${own.nested}</g>`;
}

const ownIds = (svg: string, name: string): string =>
  svg
    .replace(/\bid="([^"]+)"/g, `id="${name}-$1"`)
    .replace(/url\((['"]?)#([^)'"]+)\1\)/g, `url(#${name}-$2)`)
    .replace(/href="#([^"]+)"/g, `href="#${name}-$1"`);
