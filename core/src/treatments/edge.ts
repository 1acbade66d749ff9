import type { Pixels } from '../geometry/pixels.js';
import { alphaOf, boxBlur, shifted, smoothed, type AlphaPlane } from './alpha-plane.js';
import { STEP_X, STEP_Y } from './graph-cut.js';
import type { EdgeWork } from '../model/treatment.js';

/** What an edge step found on the working copy. */
export interface EdgeSolved {
  readonly width: number;
  readonly height: number;
  /** 1 where a speck is cleared, 2 where a pinhole is filled. */
  readonly islands: Uint8Array | null;
  /** Colour of the nearest solid part of the art, RGB of each cell, with 1 in `known` where there is one near. */
  readonly art: Uint8Array | null;
  readonly known: Uint8Array | null;
}

/** Alpha from which a cell counts as part of an island, and from which its colour is the art's own. */
const PRESENT = 96;
const SOLID = 252;
/** Cells around the art into which its colours are carried. */
const CARRIED = 10;

/**
 * Looks for specks, pinholes and the art's own colours on the working copy.
 * @param scale working px for one px of the picture's own grid
 */
export function solveEdge(pixels: Pixels, edge: EdgeWork, scale: number): EdgeSolved {
  const { width, height } = pixels;
  const alpha = alphaOf(pixels);
  const islands = edge.specks > 0 || edge.pinholes > 0 ? new Uint8Array(width * height) : null;
  const cells = (px: number): number => px * scale * scale;
  if (islands && edge.specks > 0) markIslands(alpha, islands, 1, cells(edge.specks));
  if (islands && edge.pinholes > 0) markIslands(alpha, islands, 2, cells(edge.pinholes));
  const carried = edge.decontaminate > 0 || edge.shift > 0 || edge.pinholes > 0 ? carryColours(pixels) : null;
  return { width, height, islands, art: carried?.art ?? null, known: carried?.known ?? null };
}

/** Marks connected parts of the art (1) or of what is clear inside it (2) that are no larger than `most` cells. */
function markIslands({ width, height, data }: AlphaPlane, islands: Uint8Array, mark: 1 | 2, most: number): void {
  const count = width * height;
  const seen = new Uint8Array(count);
  const member = (cell: number): boolean => data[cell] >= PRESENT === (mark === 1);
  const found = new Int32Array(count);
  for (let start = 0; start < count; start++) {
    if (seen[start] || !member(start)) continue;
    let size = 1;
    let open = false;
    found[0] = start;
    seen[start] = 1;
    for (let at = 0; at < size; at++) {
      const cell = found[at];
      const x = cell % width;
      for (let n = 0; n < 4; n++) {
        const to = cell + STEP_Y[n] * width + STEP_X[n];
        if (x + STEP_X[n] < 0 || x + STEP_X[n] >= width || to < 0 || to >= count) {
          open = true;
          continue;
        }
        if (seen[to] || !member(to)) continue;
        seen[to] = 1;
        found[size++] = to;
      }
    }
    // A bay that is open to the picture's border is no hole.
    if (size > most || (mark === 2 && open)) continue;
    for (let at = 0; at < size; at++) islands[found[at]] = mark;
  }
}

/** Colours of solid cells carried outwards over the edge, each cell from its nearest. */
function carryColours({ width, height, data }: Pixels): { art: Uint8Array; known: Uint8Array } {
  const count = width * height;
  const art = new Uint8Array(count * 3);
  const known = new Uint8Array(count);
  let front: number[] = [];
  for (let cell = 0; cell < count; cell++) {
    if (data[cell * 4 + 3] < SOLID) continue;
    for (let k = 0; k < 3; k++) art[cell * 3 + k] = data[cell * 4 + k];
    known[cell] = 1;
    front.push(cell);
  }
  for (let step = 0; step < CARRIED && front.length; step++) {
    const next: number[] = [];
    for (const cell of front) {
      const x = cell % width;
      for (let n = 0; n < 8; n++) {
        const to = cell + STEP_Y[n] * width + STEP_X[n];
        if (x + STEP_X[n] < 0 || x + STEP_X[n] >= width || to < 0 || to >= count || known[to]) continue;
        known[to] = 1;
        art[to * 3] = art[cell * 3];
        art[to * 3 + 1] = art[cell * 3 + 1];
        art[to * 3 + 2] = art[cell * 3 + 2];
        next.push(to);
      }
    }
    front = next;
  }
  return { art, known };
}

/** Side of the tiles that a picture is worked on in, px: those without an edge in or near them are passed over. */
const TILE = 128;

/**
 * Works on the edge of a picture of any size, in place.
 * @param scale px of this grid for one px of the picture's own
 */
export function applyEdge(pixels: Pixels, edge: EdgeWork, solved: EdgeSolved, scale: number): void {
  const { width, height } = pixels;
  const whole = alphaOf(pixels);
  const reach = Math.max(1.6 * Math.abs(edge.shift), 1.5) + 2 * edge.smooth + 2 * edge.soften;
  const margin = Math.ceil(reach * scale) + 3;
  for (let top = 0; top < height; top += TILE)
    for (let left = 0; left < width; left += TILE) {
      const tile = { left, top, right: Math.min(width, left + TILE), bottom: Math.min(height, top + TILE) };
      const part = partOf(whole, tile, margin);
      if (part === null && !hasIslands(solved, tile, pixels)) continue;
      applyTile(pixels, whole, tile, part, edge, solved, scale);
    }
}

interface Tile {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** A tile's alpha with a margin around it, or null where it is the same all over. */
function partOf(
  { width, height, data }: AlphaPlane,
  tile: Tile,
  margin: number,
): (AlphaPlane & { left: number; top: number }) | null {
  const left = Math.max(0, tile.left - margin);
  const top = Math.max(0, tile.top - margin);
  const right = Math.min(width, tile.right + margin);
  const bottom = Math.min(height, tile.bottom + margin);
  const first = data[top * width + left];
  let even = first === 0 || first === 255;
  for (let y = top; y < bottom && even; y++)
    for (let i = y * width + left, end = y * width + right; i < end; i++)
      if (data[i] !== first) {
        even = false;
        break;
      }
  if (even) return null;
  const part = new Uint8ClampedArray((right - left) * (bottom - top));
  for (let y = top; y < bottom; y++)
    part.set(data.subarray(y * width + left, y * width + right), (y - top) * (right - left));
  return { width: right - left, height: bottom - top, data: part, left, top };
}

function hasIslands({ islands, width, height }: EdgeSolved, tile: Tile, pixels: Pixels): boolean {
  if (!islands) return false;
  const [x0, x1] = [tile.left, tile.right].map((x) => Math.min(width - 1, Math.floor((x / pixels.width) * width)));
  const [y0, y1] = [tile.top, tile.bottom].map((y) => Math.min(height - 1, Math.floor((y / pixels.height) * height)));
  for (let y = Math.max(0, y0 - 1); y <= y1; y++)
    for (let x = Math.max(0, x0 - 1); x <= x1; x++) if (islands[y * width + x]) return true;
  return false;
}

function applyTile(
  { width, height, data }: Pixels,
  whole: AlphaPlane,
  { left, top, right, bottom }: Tile,
  part: (AlphaPlane & { left: number; top: number }) | null,
  edge: EdgeWork,
  solved: EdgeSolved,
  scale: number,
): void {
  let plane: AlphaPlane = part ?? whole;
  if (part) {
    if (edge.shift !== 0) plane = shifted(plane, edge.shift * scale);
    if (edge.smooth > 0) plane = smoothed(plane, edge.smooth * scale);
    if (edge.soften > 0) plane = boxBlur(boxBlur(plane, edge.soften * scale), edge.soften * scale);
  }
  const scaleX = solved.width / width;
  const scaleY = solved.height / height;
  const { islands, art, known } = solved;
  for (let y = top; y < bottom; y++) {
    const row = Math.min(solved.height - 1, Math.floor((y + 0.5) * scaleY)) * solved.width;
    for (let x = left; x < right; x++) {
      const i = (y * width + x) * 4;
      const cell = row + Math.min(solved.width - 1, Math.floor((x + 0.5) * scaleX));
      let alpha = part ? plane.data[(y - part.top) * plane.width + x - part.left] : data[i + 3];
      const island = islands ? islandAt(islands, cell, solved) : 0;
      if (island === 1) alpha = 0;
      else if (island === 2) alpha = 255;
      const own = data[i + 3];
      data[i + 3] = alpha;
      if (alpha === 0) {
        data[i] = data[i + 1] = data[i + 2] = 0;
        continue;
      }
      if (!art || !known || !known[cell] || own >= SOLID) continue;
      // Where there was little or nothing of the art its colour is carried over; elsewhere as far as was asked for.
      const missing = own < 8 || alpha > own + 8 ? 1 - own / 255 : 0;
      const share = Math.max(edge.decontaminate, missing);
      const c = cell * 3;
      data[i] = (data[i] + (art[c] - data[i]) * share + 0.5) | 0;
      data[i + 1] = (data[i + 1] + (art[c + 1] - data[i + 1]) * share + 0.5) | 0;
      data[i + 2] = (data[i + 2] + (art[c + 2] - data[i + 2]) * share + 0.5) | 0;
    }
  }
}

/** The mark of a cell or of one beside it: an island's rim belongs to it, unless it is the art's own. */
function islandAt(islands: Uint8Array, cell: number, { width, height }: EdgeSolved): number {
  if (islands[cell]) return islands[cell];
  const x = cell % width;
  if (x > 0 && islands[cell - 1]) return islands[cell - 1];
  if (x < width - 1 && islands[cell + 1]) return islands[cell + 1];
  if (cell >= width && islands[cell - width]) return islands[cell - width];
  return cell < width * (height - 1) ? islands[cell + width] : 0;
}
