import type { Box } from '../geometry/affine.js';
import type { PrintArea } from '../model/blank.js';
import type { AreaMaps } from './maps.js';

/** Cells along each side of an area: of a notebook's elastic, a hoodie's cord, a strap, at least one lies under it. */
const CELLS = 64;
/** Cells that two pixels side by side may be apart and still be neighbours on the cloth. */
const MOST_APART = 8;
/** Less of the art than this under something is nothing that anybody sees. */
const LEAST_COVERED = 0.005;

type Size = Pick<PrintArea, 'widthMm' | 'heightMm'>;

/**
 * What lies over a print area: places that the picture does not show between places that it shows. What is hidden because
 * the product turns away, as the other side of a mug, is not covered.
 */
export class CoveredPlaces {
  /** 1 for each covered cell, row by row; counts of those above and to the left of each corner. */
  private readonly sums = new Uint32Array((CELLS + 1) ** 2);
  readonly any: boolean;

  constructor(maps: Pick<AreaMaps, 'count' | 'index' | 'u' | 'v' | 'coverage'>) {
    const seen = new Uint8Array(CELLS * CELLS);
    for (let i = 0; i < maps.count; i++) {
      if (maps.coverage[i] < 96) continue;
      const [u, v] = [maps.u[i], maps.v[i]];
      // Where it is seen at a slant, two pixels side by side are several cells apart: what lies between them is seen.
      const isBeside = i > 0 && maps.index[i] === maps.index[i - 1] + 1;
      const [du, dv] = isBeside ? [maps.u[i - 1] - u, maps.v[i - 1] - v] : [0, 0];
      const apart = Math.ceil((Math.max(Math.abs(du), Math.abs(dv)) / 65536) * CELLS * 2);
      const steps = apart <= MOST_APART * 2 ? apart : 0;
      for (let k = 0; k <= steps; k++) {
        const share = steps ? k / steps : 0;
        seen[cellOf(v + dv * share) * CELLS + cellOf(u + du * share)] = 1;
      }
    }
    const covered = new Uint8Array(CELLS * CELLS);
    /** One line of cells, `step` apart, with lines `across` from each other beside it. */
    const between = (line: number, step: number, across: number): void => {
      let [first, last] = [-1, -1];
      for (let k = 0; k < CELLS; k++)
        if (seen[line * across + k * step]) {
          if (first < 0) first = k;
          last = k;
        }
      for (let k = first + 1; k < last; k++) {
        const cell = line * across + k * step;
        if (!seen[cell] && !isRim(seen, line, k * step, across)) covered[cell] = 1;
      }
    };
    for (let k = 0; k < CELLS; k++) {
      between(k, 1, CELLS);
      between(k, CELLS, 1);
    }
    for (let y = 0; y < CELLS; y++)
      for (let x = 0; x < CELLS; x++)
        this.sums[(y + 1) * (CELLS + 1) + x + 1] =
          covered[y * CELLS + x] +
          this.sums[y * (CELLS + 1) + x + 1] +
          this.sums[(y + 1) * (CELLS + 1) + x] -
          this.sums[y * (CELLS + 1) + x];
    this.any = this.sums[this.sums.length - 1] > 0;
  }

  /** Share of a box, in area mm, that lies under something. */
  shareOf(box: Box, { widthMm, heightMm }: Size): number {
    const at = (mm: number, length: number): number => Math.min(CELLS, Math.max(0, Math.round((mm / length) * CELLS)));
    const [left, right] = [at(box.x, widthMm), at(box.x + box.width, widthMm)];
    const [top, bottom] = [at(box.y, heightMm), at(box.y + box.height, heightMm)];
    const sum = (x: number, y: number): number => this.sums[y * (CELLS + 1) + x];
    const count = sum(right, bottom) - sum(left, bottom) - sum(right, top) + sum(left, top);
    const cells = ((box.width / widthMm) * CELLS * box.height * CELLS) / heightMm;
    const share = cells > 0 ? Math.min(1, count / cells) : 0;
    return share < LEAST_COVERED ? 0 : share;
  }

  /**
   * The place nearest to a box where nothing lies over it, inside the area's safe line: moved, and where that does not do
   * made smaller. Null when there is none worth having.
   */
  clearOf(box: Box, area: Pick<PrintArea, 'widthMm' | 'heightMm' | 'safeInsetMm'>): Box | null {
    const inset = area.safeInsetMm;
    for (let factor = 1; factor > 0.3; factor *= 0.92) {
      const [width, height] = [box.width * factor, box.height * factor];
      const [roomX, roomY] = [area.widthMm - 2 * inset - width, area.heightMm - 2 * inset - height];
      if (roomX < 0 || roomY < 0) continue;
      const middle = { x: box.x + (box.width - width) / 2, y: box.y + (box.height - height) / 2 };
      let best: Box | null = null;
      let least = Infinity;
      const steps = CELLS / 2;
      for (let j = 0; j <= steps; j++)
        for (let i = 0; i <= steps; i++) {
          const [x, y] = [inset + (roomX * i) / steps, inset + (roomY * j) / steps];
          const distance = Math.hypot(x - middle.x, y - middle.y);
          if (distance >= least || this.shareOf({ x, y, width, height }, area) > 0) continue;
          least = distance;
          best = { x, y, width, height };
        }
      if (best) return best;
    }
    return null;
  }
}

/** Cells from the edge of an area within which it may bend away from sight, as the rim of a mug and the corner of a cushion do. */
const RIM = 7;

/** True for an unseen cell that belongs to a short unseen run along the other way which reaches the edge of the area. */
function isRim(seen: Uint8Array, line: number, off: number, across: number): boolean {
  let [from, to] = [line, line];
  while (from > 0 && !seen[(from - 1) * across + off]) from--;
  while (to < CELLS - 1 && !seen[(to + 1) * across + off]) to++;
  return (from === 0 || to === CELLS - 1) && to - from < RIM;
}

const cellOf = (value: number): number => Math.min(CELLS - 1, Math.floor((value / 65536) * CELLS));
