import type { Point } from '../geometry/affine.js';
import type { PrintArea } from '../model/blank.js';
import type { AreaMaps } from './maps.js';

/** Entry of a picture pixel in an area's maps, which are in row order; -1 where the area is not. */
function entryOf(maps: AreaMaps, pixel: number): number {
  let [low, high] = [0, maps.count - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    if (maps.index[middle] === pixel) return middle;
    if (maps.index[middle] < pixel) low = middle + 1;
    else high = middle - 1;
  }
  return -1;
}

/** Position in mm on a print area under a picture pixel, or null outside it. */
export function areaPointAt(maps: AreaMaps, area: PrintArea, pixel: number): Point | null {
  const entry = entryOf(maps, pixel);
  if (entry < 0) return null;
  const { x, y, width, height } = maps.part;
  return {
    x: (x + (maps.u[entry] / 65535) * width) * area.widthMm,
    y: (y + (maps.v[entry] / 65535) * height) * area.heightMm,
  };
}

/** How far beyond the part that is seen a place is still taken for its edge. */
const OFF = 0.005;
/** Cells of the inverse grid along each side of a print area. */
const CELLS = 96;

/** Finds the picture pixel under a position on a print area, for lines and handles drawn over the picture. */
export class AreaLookup {
  /** First map entry in each cell of the area, or -1. */
  private readonly cells = new Int32Array(CELLS * CELLS).fill(-1);

  constructor(
    private readonly maps: AreaMaps,
    private readonly area: PrintArea,
    private readonly width: number,
  ) {
    for (let i = 0; i < maps.count; i++) {
      if (maps.coverage[i] < 128) continue;
      const cell = cellOf(maps.v[i]) * CELLS + cellOf(maps.u[i]);
      // The entry nearest to the cell's middle stands for it.
      if (this.cells[cell] < 0 || offCentre(maps, i) < offCentre(maps, this.cells[cell])) this.cells[cell] = i;
    }
  }

  /** Pixel position of a point in area mm, or null where the picture does not show it. */
  pixelOf(point: Point): Point | null {
    const { part } = this.maps;
    const seenU = (point.x / this.area.widthMm - part.x) / part.width;
    const seenV = (point.y / this.area.heightMm - part.y) / part.height;
    // What lies beyond the area is shown on its edge; what lies beyond the part that is seen is not shown.
    if (part.width < 1 && (seenU < -OFF || seenU > 1 + OFF)) return null;
    if (part.height < 1 && (seenV < -OFF || seenV > 1 + OFF)) return null;
    const [u, v] = [seenU, seenV].map((value) => Math.min(1, Math.max(0, value)));
    const [cu, cv] = [cellOf(u * 65535), cellOf(v * 65535)];
    for (let reach = 0; reach < 4; reach++) {
      let best = -1;
      let least = Infinity;
      for (let j = Math.max(0, cv - reach); j <= Math.min(CELLS - 1, cv + reach); j++) {
        for (let i = Math.max(0, cu - reach); i <= Math.min(CELLS - 1, cu + reach); i++) {
          const entry = this.cells[j * CELLS + i];
          if (entry < 0) continue;
          const distance = Math.hypot(this.maps.u[entry] / 65535 - u, this.maps.v[entry] / 65535 - v);
          if (distance < least) {
            least = distance;
            best = entry;
          }
        }
      }
      if (best >= 0) return this.refined(best, u, v);
    }
    return null;
  }

  /** One step along the local slope of the map, from the entry that stands for the cell to the wanted point. */
  private refined(entry: number, u: number, v: number): Point {
    const { index } = this.maps;
    const at = { x: index[entry] % this.width, y: Math.floor(index[entry] / this.width) };
    const right = entryOf(this.maps, index[entry] + 6);
    const down = entryOf(this.maps, index[entry] + 6 * this.width);
    if (right < 0 || down < 0) return at;
    const d = (from: number, map: Uint16Array) => (map[from] - map[entry]) / 65535 / 6;
    const [ux, uy, vx, vy] = [d(right, this.maps.u), d(down, this.maps.u), d(right, this.maps.v), d(down, this.maps.v)];
    const det = ux * vy - uy * vx;
    if (Math.abs(det) < 1e-9) return at;
    const [du, dv] = [u - this.maps.u[entry] / 65535, v - this.maps.v[entry] / 65535];
    return { x: at.x + clampStep((du * vy - dv * uy) / det), y: at.y + clampStep((dv * ux - du * vx) / det) };
  }
}

const cellOf = (value: number): number => Math.min(CELLS - 1, Math.floor((value / 65536) * CELLS));
const offCentre = (maps: AreaMaps, i: number): number => {
  const off = (value: number) => Math.abs((((value / 65536) * CELLS) % 1) - 0.5);
  return off(maps.u[i]) + off(maps.v[i]);
};
const clampStep = (value: number): number => Math.min(25, Math.max(-25, value));
