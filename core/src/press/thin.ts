import { components, distances, type Component } from '../raster/components.js';

/**
 * Coverage from which a pixel is looked at as a part of a line: thinner lines than half a pixel never cover more. Bare
 * ground has to show more: where two edges meet, a quarter of a pixel shines through, which is no gap.
 */
export const [LINE_FROM, GAP_FROM] = [50, 90];
/** A tip that runs out has widths that differ by this share of their mean; it is a line when it is so many times as long. */
const [TAPERS, TAPER_LENGTH] = [0.22, 2.7];
/** Directions in which a line is crossed: between two of them its width is told to 0.5 %. */
export const DIRECTIONS = Array.from({ length: 16 }, (_, k) => {
  const angle = (k * Math.PI) / 16;
  return [Math.cos(angle), Math.sin(angle)] as const;
});
/** Coverage below which a chord has left its line. */
const LEFT = 6;
/** By how much coverage rises again where a chord comes upon the next line. */
const NEXT = 14;
/** Most pixels of lines that are measured; of more, some are passed over. */
const MOST_MEASURED = 150_000;
/** Widths are told in hundredths of a pixel. */
const PART = 100;

/** A line that is too thin. */
export interface ThinPart extends Component {
  /** How wide it is in the middle of its places, px. */
  readonly width: number;
}

/**
 * Lines of a coverage that are narrower than a limit. Candidates are what an opening with a disc a little wider than the
 * limit takes away (Serra 1982, «Image Analysis and Mathematical Morphology»); a chord across each tells its width from
 * how much its pixels are covered.
 * @param cover 0 to 255 a pixel
 * @param limit px
 * @param length least length of a line, px
 * @param from least coverage that is looked at
 */
export function thinParts(
  cover: Uint8Array,
  width: number,
  height: number,
  { limit, length, from }: { limit: number; length: number; from: number },
): ThinPart[] {
  // Half covered pixels count for a candidate, and distances go to the middle of the first pixel that does not.
  const radius = limit / 2 + 1.1;
  const reach = Math.ceil(radius + 0.5);
  const ink = new Uint8Array(cover.length);
  for (let i = 0; i < cover.length; i++) ink[i] = cover[i] >= from ? 1 : 0;
  const inner = distances(ink, width, height, reach);
  const fits = radius ** 2;
  const bare = new Uint8Array(ink.length);
  const unsure = new Uint8Array(ink.length);
  for (let i = 0; i < ink.length; i++) {
    if (inner[i] >= fits) continue;
    bare[i] = 1;
    unsure[i] = ink[i];
  }
  const outer = distances(bare, width, height, reach, unsure);
  const beyond = (radius + 0.5) ** 2;
  const ridge: number[] = [];
  for (let i = 0; i < ink.length; i++) {
    if (!unsure[i] || outer[i] <= beyond) continue;
    const own = inner[i];
    const x = i % width;
    // A crest along one axis at least: along the other a slanting line climbs in steps.
    if (
      !((x > 0 && inner[i - 1] > own) || (x < width - 1 && inner[i + 1] > own)) ||
      !(inner[i - width] > own || inner[i + width] > own)
    )
      ridge.push(i);
  }
  const each = Math.ceil(ridge.length / MOST_MEASURED);
  return joined(
    ridge.filter((_one, k) => k % each === 0),
    (i) => chord(cover, width, height, i, limit + 2),
    { width, height, limit, length, spread: 1 + each },
  );
}

/** Places of a grid whose width is below a limit, joined to lines. */
export function joined(
  places: readonly number[],
  widthAt: (place: number) => number,
  grid: { width: number; height: number; limit: number; length: number; spread: number },
): ThinPart[] {
  const { width, height, limit, length, spread } = grid;
  const thin: number[] = [];
  const found: number[] = [];
  for (const i of places) {
    const own = widthAt(i);
    if (!(own < limit)) continue;
    thin.push(i);
    found.push(own);
  }
  if (!thin.length) return [];
  const mask = new Uint8Array(width * height);
  const widths = new Uint16Array(width * height);
  for (const [k, i] of thin.entries()) {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let j = Math.max(0, y - spread); j <= Math.min(height - 1, y + spread); j++)
      mask.fill(1, j * width + Math.max(0, x - spread), j * width + Math.min(width, x + spread + 1));
    widths[i] = Math.max(1, Math.round(found[k] * PART));
  }
  return components(mask, width, height, 1, widths).flatMap((one): ThinPart[] => {
    const left = Math.min(one.left + spread, one.right - 1);
    const top = Math.min(one.top + spread, one.bottom - 1);
    const right = Math.max(one.right - spread, one.left + 1);
    const bottom = Math.max(one.bottom - spread, one.top + 1);
    const own = Math.hypot(right - left, bottom - top);
    const tapers = one.spread > TAPERS * one.mean;
    if (own < length || (tapers && own < length * TAPER_LENGTH)) return [];
    return [{ ...one, left, top, right, bottom, width: one.mean / PART }];
  });
}

/** The shortest way across what covers a pixel, px; infinite where it is longer than the reach on each side. */
function chord(cover: Uint8Array, width: number, height: number, at: number, reach: number): number {
  const [x, y] = [at % width, Math.floor(at / width)];
  let least = Infinity;
  for (const [dx, dy] of DIRECTIONS) {
    const own = cover[at];
    let [sum, peak, ends] = [own, own, 0];
    let flat = 0;
    for (const sign of [1, -1]) {
      let before = own;
      for (let t = 1; t <= reach; t++) {
        const value = sampled(cover, width, height, x + sign * t * dx, y + sign * t * dy);
        if (value < LEFT || (before < peak / 2 && value > before + NEXT)) {
          ends++;
          break;
        }
        sum += value;
        if (value > peak) peak = value;
        if (value > peak * 0.93) flat++;
        before = value;
      }
      if (ends === 0) break;
    }
    if (ends < 2) continue;
    // Ink that is the same over several pixels is see-through; where it is not, the line is narrower than its pixels.
    const length = sum / (flat >= 3 ? peak : 255);
    if (length < least) least = length;
  }
  return least;
}

/** A value between pixels, by those around it; beyond the edges that of the edge. */
function sampled(cover: Uint8Array, width: number, height: number, x: number, y: number): number {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - left, y - top];
  const [x0, x1] = [Math.max(0, Math.min(width - 1, left)), Math.max(0, Math.min(width - 1, left + 1))];
  const [y0, y1] = [Math.max(0, Math.min(height - 1, top)) * width, Math.max(0, Math.min(height - 1, top + 1)) * width];
  return (
    (cover[y0 + x0] * (1 - fx) + cover[y0 + x1] * fx) * (1 - fy) +
    (cover[y1 + x0] * (1 - fx) + cover[y1 + x1] * fx) * fy
  );
}
