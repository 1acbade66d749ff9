import type { Box, Point } from '../geometry/affine.js';
import { AreaLookup } from './area-lookup.js';
import type { Blank, PrintArea } from '../model/blank.js';
import { isWhole, type BlankView, type OnPicture } from './crop.js';
import { WHOLE_AREA, type AreaMaps } from './maps.js';

/** Where a print area is seen on a picture of its blank: places of a grid over it, in shares of the picture. */
export interface AreaGrid {
  /** Places along each side of the area. */
  readonly side: number;
  /** Row by row from the area's top left; null where the picture does not show it. */
  readonly places: readonly (Point | null)[];
  /** Density at which the area is seen where it faces the camera, picture widths per mm. */
  readonly density: number;
}

type Places = Pick<AreaGrid, 'side' | 'places'>;

/** Places along each side. */
const SIDE = 25;

export function areaGrid(
  maps: AreaMaps,
  area: PrintArea,
  { width, height }: { width: number; height: number },
): AreaGrid {
  const lookup = new AreaLookup(maps, area, width);
  const places: (Point | null)[] = [];
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      const pixel = lookup.pixelOf({
        x: (i / (SIDE - 1)) * area.widthMm,
        y: (j / (SIDE - 1)) * area.heightMm,
      });
      places.push(pixel && { x: (pixel.x + 0.5) / width, y: (pixel.y + 0.5) / height });
    }
  return { side: SIDE, places, density: maps.pixelsPerMm / width };
}

/** Samples along each side of a box that is looked for. */
const SAMPLES = 9;

/** The box on the picture, in shares of it, that holds a box on the area, in shares of that; null when it is not seen. */
export function boxOnPicture({ side, places }: Places, box: Box): Box | null {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let j = 0; j <= SAMPLES; j++)
    for (let i = 0; i <= SAMPLES; i++) {
      const at = placeAt({ side, places }, box.x + (i / SAMPLES) * box.width, box.y + (j / SAMPLES) * box.height);
      if (!at) continue;
      left = Math.min(left, at.x);
      right = Math.max(right, at.x);
      top = Math.min(top, at.y);
      bottom = Math.max(bottom, at.y);
    }
  return right > left && bottom > top ? { x: left, y: top, width: right - left, height: bottom - top } : null;
}

/** Linear between the four places around it; null when one of them is not seen. */
function placeAt({ side, places }: Places, u: number, v: number): Point | null {
  const [x, y] = [u, v].map((value) => Math.min(1, Math.max(0, value)) * (side - 1));
  const [i, j] = [Math.min(side - 2, Math.floor(x)), Math.min(side - 2, Math.floor(y))];
  const [a, b, c, d] = [0, 1, side, side + 1].map((step) => places[j * side + i + step]);
  if (!a || !b || !c || !d) return null;
  const [fx, fy] = [x - i, y - j];
  const mix = (k: 'x' | 'y'): number => (a[k] + (b[k] - a[k]) * fx) * (1 - fy) + (c[k] + (d[k] - c[k]) * fx) * fy;
  return { x: mix('x'), y: mix('y') };
}

/** Where a print area and the art on it, in area mm, are seen. */
export function onPicture(grid: AreaGrid, area: Pick<PrintArea, 'widthMm' | 'heightMm'>, art: Box | null): OnPicture {
  const share = art && {
    x: art.x / area.widthMm,
    y: art.y / area.heightMm,
    width: art.width / area.widthMm,
    height: art.height / area.heightMm,
  };
  const whole: Box = { x: 0, y: 0, width: 1, height: 1 };
  return { area: boxOnPicture(grid, whole) ?? whole, print: share && boxOnPicture(grid, share) };
}

/** Cells of the grid that are added around what is seen. */
const AROUND = 1.5;

/**
 * How a print area is seen: picture pixels per mm, and the part of it, in shares of it, that holds all that a crop of the
 * picture shows of it.
 */
export function areaSeen(
  { side, places, density }: AreaGrid,
  blank: Pick<Blank, 'width' | 'height'>,
  view: BlankView,
): Pick<AreaMaps, 'pixelsPerMm' | 'part'> {
  const { crop, width } = view;
  const pixelsPerMm = (density * blank.width * width) / crop.width;
  if (isWhole(blank, view)) return { pixelsPerMm, part: WHOLE_AREA };
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  places.forEach((place, at) => {
    const [x, y] = [(place?.x ?? -1) * blank.width - crop.x, (place?.y ?? -1) * blank.height - crop.y];
    if (x < 0 || y < 0 || x > crop.width || y > crop.height) return;
    const [i, j] = [at % side, Math.floor(at / side)];
    left = Math.min(left, i);
    right = Math.max(right, i);
    top = Math.min(top, j);
    bottom = Math.max(bottom, j);
  });
  // Between two places of the grid, or beside all of them: then any part is as good as all.
  if (left > right) return { pixelsPerMm, part: WHOLE_AREA };
  const along = (from: number, to: number): readonly [number, number] => {
    const start = Math.max(0, from - AROUND) / (side - 1);
    return [start, Math.min(1, (to + AROUND) / (side - 1)) - start];
  };
  const [[x, w], [y, h]] = [along(left, right), along(top, bottom)];
  return { pixelsPerMm, part: { x, y, width: w, height: h } };
}
