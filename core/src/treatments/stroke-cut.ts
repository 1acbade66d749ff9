import type { Pixels } from '../geometry/pixels.js';
import { learnColours, type ColourModel } from './colour-model.js';
import { leastCut, STEP_X, STEP_Y } from './graph-cut.js';
import { BAND, emptyMatte, IN, OUT, type Matte } from './matte.js';
import { sampledMatte } from './sampled-matte.js';
import { strokeCells } from './stroke-cells.js';
import { LITTLE_ANEW, SOME_HAZE, type SeedStroke, type StrokeCut } from '../model/treatment.js';
import { reduced } from './working.js';

/** Longer side of the copy that the edge is sought on, and of the one its softness is found on, px. */
const SEED_SIDE = 192;
const EDGE_SIDE = 512;
/** Times that the colour models are learned anew from what was found. */
const ROUNDS = 2;
/** Weight of neighbours that are alike, in the units of −log p (as in GrabCut). */
const TOGETHER = 50;
/** Most that colour alone may say for a side, and what nearness to the strokes says. */
const MOST_COLOUR = 24;
const NEARNESS = 10;
/** What a stroke says cannot be outweighed. */
const CERTAIN = 1e6;

/**
 * Finds the edge between what strokes keep and what they drop. Colours of both sides are learned from the strokes, and
 * from what was found with them; the least cut follows them and the picture's own edges.
 * @param pixels the working copy, as the steps before this one left it
 * @returns null when no stroke touches anything that is there
 */
export function cutByStrokes(pixels: Pixels, cut: StrokeCut): Matte | null {
  const ground = groundOf(pixels);
  const seeds = seedsOf(ground.small, cut);
  if (!seeds) return null;
  const found = grown(ground, seeds, cut.fine ? letGoOfGround(ground.small, seeds, cut) : null);
  return edgeOf(
    ground.fine,
    cut.fine ? refined(ground, found, cut) : enlarged(ground, found.labels),
    ground.small,
    cut,
  );
}

function sized(pixels: Pixels, side: number): Pixels {
  const factor = Math.min(1, side / Math.max(pixels.width, pixels.height));
  return reduced(
    pixels,
    Math.max(1, Math.round(pixels.width * factor)),
    Math.max(1, Math.round(pixels.height * factor)),
  );
}

/** Every cell that a stroke touches and that holds something. */
function touched({ width, height, data }: Pixels, { points, size }: SeedStroke, touch: (cell: number) => void): void {
  strokeCells(points, Math.max(size * Math.max(width, height), 1.2), width, height, (cell) => {
    if (data[cell * 4 + 3] > 0) touch(cell);
  });
}

/** 1 where a stroke keeps, 2 where one drops, 0 elsewhere; later strokes win. Null when nothing was touched. */
function seedsOf(pixels: Pixels, { strokes }: StrokeCut): Uint8Array | null {
  const { width, height } = pixels;
  const seeds = new Uint8Array(width * height);
  let any = false;
  for (const stroke of strokes)
    touched(pixels, stroke, (cell) => {
      seeds[cell] = stroke.keep ? 1 : 2;
      any = true;
    });
  if (!any) return null;
  // Where only one side was shown, the picture's rim stands for the ground, and all that was not dropped for the art.
  if (!seeds.includes(2)) {
    for (let x = 0; x < width; x++) for (const cell of [x, (height - 1) * width + x]) if (!seeds[cell]) seeds[cell] = 2;
    for (let y = 0; y < height; y++)
      for (const cell of [y * width, y * width + width - 1]) if (!seeds[cell]) seeds[cell] = 2;
  }
  return seeds;
}

/** Share of what is dropped whose colours count as the ground's; the rest may be strokes gone astray. */
const USUAL_GROUND = 0.95;
/** How much less likely a colour may be and still look like the ground, in the units of −log p: mixed at an edge. */
const MIXED = 6;
/** Most of a stroke that may look like the ground before it says that art has the ground's colour there. */
const MOST_LIKE_GROUND = 0.8;
/** How much nearness to what is kept says of what looks like the ground. */
const NEAR_LIKE_GROUND = 0.2;

/** Colours of a ground that are farther apart say too little, levels: on a photo art has them too. */
const MOST_SPREAD = 32;

/** Root mean square distance of cells' colours from their mean, levels. */
function spreadOf(data: Pixels['data'], cells: Uint8Array): number {
  const [sums, squares] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  let count = 0;
  for (let cell = 0; cell < cells.length; cell++) {
    if (!cells[cell]) continue;
    count++;
    for (let k = 0; k < 3; k++) {
      const value = data[cell * 4 + k];
      sums[k] += value;
      squares[k] += value * value;
    }
  }
  return Math.sqrt(sums.reduce((all, sum, k) => all + squares[k] / count - (sum / count) ** 2, 0) / 3);
}

/** Which cells have the colours of what strokes drop; null when none do, or where those say too little. */
function likeGround({ data }: Pixels, seeds: Uint8Array): Uint8Array | null {
  const dropped = seeds.map((seed) => (seed === 2 ? 1 : 0));
  if (!dropped.includes(1) || spreadOf(data, dropped) > MOST_SPREAD) return null;
  const ground = modelOf(data, dropped, dropped, 1);
  const cost = (cell: number): number => ground(data[cell * 4], data[cell * 4 + 1], data[cell * 4 + 2]);
  const usual = [...dropped.keys()].flatMap((cell) => (dropped[cell] ? cost(cell) : [])).sort((a, b) => a - b);
  const most = usual[Math.floor((usual.length - 1) * USUAL_GROUND)] + MIXED;
  return seeds.map((_, cell) => (cost(cell) <= most ? 1 : 0));
}

/**
 * A hurried stroke over letters touches what lies between them: cells that it keeps and that have the colours of what is
 * dropped are left to be found, unless nearly all of the stroke is so.
 */
function letGoOfGround(pixels: Pixels, seeds: Uint8Array, { strokes }: StrokeCut): Uint8Array | null {
  const alike = likeGround(pixels, seeds);
  if (!alike) return null;
  const free = new Uint8Array(seeds.length);
  for (const stroke of strokes) {
    if (!stroke.keep) continue;
    const cells = new Set<number>();
    touched(pixels, stroke, (cell) => cells.add(cell));
    const like = [...cells].filter((cell) => alike[cell]);
    const isFree = like.length <= cells.size * MOST_LIKE_GROUND;
    for (const cell of cells) free[cell] = isFree && alike[cell] ? 1 : 0;
  }
  for (let cell = 0; cell < seeds.length; cell++) if (free[cell] && seeds[cell] === 1) seeds[cell] = 0;
  return alike;
}

/** What belongs to the art, and the colours of both sides that it was found by. */
interface Found {
  /** 1 for every cell of the small copy that is art. */
  readonly labels: Uint8Array;
  readonly art: ColourModel;
  readonly ground: ColourModel;
}

/** @param alike 1 for cells that look like the ground, of which nearness says little */
function grown({ small, joins, ways }: Ground, seeds: Uint8Array, alike: Uint8Array | null): Found {
  const { width, height, data } = small;
  const count = width * height;
  const near = [1, 2].map((side) => waysFrom(small, ways, seeds, side));
  const onlyDrops = !seeds.includes(1);
  let labels: Uint8Array = seeds.map((seed) => (seed === 1 || (onlyDrops && seed === 0) ? 1 : 0));
  let sure = seeds.map((seed) => seed || (onlyDrops ? 1 : 0));
  let [art, ground]: ColourModel[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    art = modelOf(data, labels, alike ? sure.map((is, cell) => (is && !alike[cell] ? 1 : 0)) : sure, 1);
    ground = modelOf(data, labels, sure, 0);
    const terminal = new Float32Array(count);
    for (let cell = 0, i = 0; cell < count; cell++, i += 4) {
      if (seeds[cell]) terminal[cell] = seeds[cell] === 1 ? CERTAIN : -CERTAIN;
      else if (data[i + 3] === 0) terminal[cell] = -CERTAIN;
      else {
        const says = ground(data[i], data[i + 1], data[i + 2]) - art(data[i], data[i + 1], data[i + 2]);
        const [toArt, toGround] = [near[0][cell], near[1][cell]];
        const nearer = toArt + toGround > 0 ? (toGround - toArt) / (toArt + toGround) : 0;
        terminal[cell] =
          Math.max(-MOST_COLOUR, Math.min(MOST_COLOUR, says)) +
          (onlyDrops ? 0 : NEARNESS * nearer * (alike?.[cell] ? NEAR_LIKE_GROUND : 1));
      }
    }
    labels = leastCut(width, height, terminal, joins.slice());
    sure = labels.map((_, cell) => (data[cell * 4 + 3] > 0 ? 1 : 0));
  }
  return { labels, art, ground };
}

/**
 * Art on the fine copy: a second cut in a band around the first, by the colours that the first has learned, so that
 * letters, their counters and corners are found which the small copy has no room for. Lombaert, Sun, Grady and Xu, "A
 * multilevel banded graph cuts method for fast image segmentation", ICCV 2005.
 */
function refined(ground: Ground, { labels, art, ground: rest }: Found, cut: StrokeCut): Uint8Array {
  const { fine, small } = ground;
  const { width, height, data } = fine;
  const isArt = enlarged(ground, labels);
  if (fine === small) return isArt;
  const near = enlarged(ground, besideEdge(small, labels, cut.anew ?? LITTLE_ANEW));
  const seeds = seedsOf(fine, cut)!;
  letGoOfGround(fine, seeds, cut);
  const terminal = new Float32Array(width * height);
  for (let cell = 0, i = 0; cell < terminal.length; cell++, i += 4) {
    if (data[i + 3] === 0) terminal[cell] = -CERTAIN;
    else if (seeds[cell]) terminal[cell] = seeds[cell] === 1 ? CERTAIN : -CERTAIN;
    else if (!near[cell]) terminal[cell] = isArt[cell] ? CERTAIN : -CERTAIN;
    else {
      const says = rest(data[i], data[i + 1], data[i + 2]) - art(data[i], data[i + 1], data[i + 2]);
      terminal[cell] = Math.max(-MOST_COLOUR, Math.min(MOST_COLOUR, says));
    }
  }
  ground.fineJoins ??= nearness(fine).joins;
  return leastCut(width, height, terminal, ground.fineJoins.slice());
}

/** 1 for cells that have a cell of the other side within a reach across and down. */
function besideEdge({ width, height }: Pixels, labels: Uint8Array, reach: number): Uint8Array {
  const beside = new Uint8Array(labels.length);
  for (let y = 0, cell = 0; y < height; y++)
    for (let x = 0; x < width; x++, cell++) {
      const isEdge =
        (x + 1 < width && labels[cell + 1] !== labels[cell]) ||
        (y + 1 < height && labels[cell + width] !== labels[cell]);
      if (!isEdge) continue;
      for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++)
        beside.fill(1, v * width + Math.max(0, x - reach), v * width + Math.min(width - 1, x + reach) + 1);
    }
  return beside;
}

/** Values of the small copy's cells at those of the fine one. */
function enlarged({ fine, small }: Ground, values: Uint8Array): Uint8Array {
  const { width, height } = fine;
  const out = new Uint8Array(width * height);
  const columns = Int32Array.from({ length: width }, (_, x) =>
    Math.min(small.width - 1, Math.floor(((x + 0.5) * small.width) / width)),
  );
  for (let y = 0, cell = 0; y < height; y++) {
    const row = Math.min(small.height - 1, Math.floor(((y + 0.5) * small.height) / height)) * small.width;
    for (let x = 0; x < width; x++, cell++) out[cell] = values[row + columns[x]];
  }
  return out;
}

/** Colours of a side's cells; of at most a few thousand, evenly taken. */
function modelOf(data: Pixels['data'], labels: Uint8Array, sure: Uint8Array, side: number): ColourModel {
  const cells: number[] = [];
  for (let cell = 0; cell < labels.length; cell++) if (sure[cell] && labels[cell] === side) cells.push(cell);
  if (!cells.length) return () => 8;
  const step = Math.max(1, Math.floor(cells.length / 3000));
  const colours = new Float32Array(Math.ceil(cells.length / step) * 3);
  for (let n = 0, at = 0; n < cells.length; n += step, at += 3) {
    const i = cells[n] * 4;
    colours[at] = data[i];
    colours[at + 1] = data[i + 1];
    colours[at + 2] = data[i + 2];
  }
  return learnColours(colours);
}

/** What is the same for every stroke on a picture: its smaller copies, and how alike neighbours are. */
interface Ground {
  readonly small: Pixels;
  readonly fine: Pixels;
  /** Capacity between neighbours of the small copy: high where they are alike, in the measure of its own contrast. */
  readonly joins: Float32Array;
  /** Length of the way to each neighbour of the small copy: long over an edge. */
  readonly ways: Float32Array;
  /** The same as `joins` on the fine copy, once it is asked for. */
  fineJoins?: Float32Array;
}

const grounds = new WeakMap<Pixels, Ground>();

function groundOf(pixels: Pixels): Ground {
  let ground = grounds.get(pixels);
  if (!ground) {
    const fine = sized(pixels, EDGE_SIDE);
    const small = sized(fine, SEED_SIDE);
    grounds.set(pixels, (ground = { small, fine, ...nearness(small) }));
  }
  return ground;
}

function nearness({ width, height, data }: Pixels): { joins: Float32Array; ways: Float32Array } {
  const squares = new Float32Array(width * height * 8).fill(-1);
  const ways = new Float32Array(width * height * 8).fill(1e9);
  let [sum, count] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const cell = y * width + x;
      for (let n = 0; n < 8; n++) {
        const nx = x + STEP_X[n];
        const ny = y + STEP_Y[n];
        if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
        const to = (ny * width + nx) * 4;
        const r = data[cell * 4] - data[to];
        const g = data[cell * 4 + 1] - data[to + 1];
        const b = data[cell * 4 + 2] - data[to + 2];
        squares[cell * 8 + n] = r * r + g * g + b * b;
        ways[cell * 8 + n] = (n < 4 ? 1 : Math.SQRT2) * (1 + (Math.abs(r) + Math.abs(g) + Math.abs(b)) * 0.25);
        sum += squares[cell * 8 + n];
        count++;
      }
    }
  const sharpness = count && sum > 0 ? count / (2 * sum) : 0;
  const joins = squares.map((square, n) =>
    square < 0 ? 0 : (TOGETHER * Math.exp(-sharpness * square)) / ((n & 7) < 4 ? 1 : Math.SQRT2) + 0.5,
  );
  return { joins, ways };
}

/** Shortest way to each cell from one side's strokes, where crossing an edge of the picture is long. */
function waysFrom({ width, height }: Pixels, lengths: Float32Array, seeds: Uint8Array, side: number): Float32Array {
  const count = width * height;
  const ways = new Float32Array(count);
  for (let cell = 0; cell < count; cell++) ways[cell] = seeds[cell] === side ? 0 : 1e9;
  // Sweeps there and back come close to the shortest ways (Toivanen, "New geodesic distance transforms", 1996).
  const [up, upLeft, upRight, left] = [3, 5, 6, 1];
  const [down, downRight, downLeft, right] = [2, 4, 7, 0];
  for (let sweep = 0; sweep < 2; sweep++) {
    for (let cell = 1; cell < count; cell++) {
      let way = Math.min(ways[cell], ways[cell - 1] + lengths[cell * 8 + left]);
      if (cell >= width) {
        way = Math.min(way, ways[cell - width] + lengths[cell * 8 + up]);
        if (cell > width) way = Math.min(way, ways[cell - width - 1] + lengths[cell * 8 + upLeft]);
        way = Math.min(way, ways[cell - width + 1] + lengths[cell * 8 + upRight]);
      }
      ways[cell] = way;
    }
    for (let cell = count - 2; cell >= 0; cell--) {
      let way = Math.min(ways[cell], ways[cell + 1] + lengths[cell * 8 + right]);
      if (cell + width < count) {
        way = Math.min(way, ways[cell + width] + lengths[cell * 8 + down]);
        if (cell + width + 1 < count) way = Math.min(way, ways[cell + width + 1] + lengths[cell * 8 + downRight]);
        way = Math.min(way, ways[cell + width - 1] + lengths[cell * 8 + downLeft]);
      }
      ways[cell] = way;
    }
  }
  return ways;
}

/** The soft edge around what was found: known inside and outside, unmixed between. */
function edgeOf(fine: Pixels, isArt: Uint8Array, small: Pixels, { hair, fine: fineCut, clean }: StrokeCut): Matte {
  const { width, height } = fine;
  const matte = emptyMatte(width, height, 0, clean ?? SOME_HAZE);
  const { kind } = matte;
  for (let cell = 0; cell < kind.length; cell++) kind[cell] = isArt[cell] && fine.data[cell * 4 + 3] > 0 ? IN : OUT;
  const reach = Math.max(width > small.width ? 3 : 2, Math.round(hair * Math.max(width, height)));
  // What was found finely needs little room on its own side: thin letters would be all edge.
  widenBand(matte, reach, fineCut ? Math.max(1, reach - 2) : reach);
  sampledMatte(fine, matte, reach);
  return matte;
}

/** Cells within a reach of the edge become band. @param inside the reach on the art's own side */
function widenBand({ width, height, kind }: Matte, reach: number, inside: number): void {
  const distance = new Uint16Array(width * height).fill(65535);
  let front: number[] = [];
  const mark = (cell: number): void => {
    if (distance[cell] === 0) return;
    distance[cell] = 0;
    front.push(cell);
  };
  for (let y = 0, cell = 0; y < height; y++)
    for (let x = 0; x < width; x++, cell++) {
      if (x < width - 1 && kind[cell + 1] !== kind[cell]) {
        mark(cell);
        mark(cell + 1);
      }
      if (y < height - 1 && kind[cell + width] !== kind[cell]) {
        mark(cell);
        mark(cell + width);
      }
    }
  const band = front.slice();
  for (let step = 1; step < reach; step++) {
    const next: number[] = [];
    for (const cell of front) {
      const x = cell % width;
      for (let n = 0; n < 8; n++) {
        const to = cell + STEP_Y[n] * width + STEP_X[n];
        if (x + STEP_X[n] < 0 || x + STEP_X[n] >= width || to < 0 || to >= distance.length) continue;
        if (distance[to] !== 65535) continue;
        distance[to] = step;
        next.push(to);
        band.push(to);
      }
    }
    front = next;
  }
  for (const cell of band) if (kind[cell] !== IN || distance[cell] < inside) kind[cell] = BAND;
}
