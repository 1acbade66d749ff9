import type { Pixels } from '@kettle/core/geometry';
import { deltaE2000, labOf } from '@kettle/core/colour';

/** How a cut compares with the truth. */
export interface CutError {
  /** Mean absolute error of alpha over the whole picture, 0 to 1. */
  readonly alpha: number;
  /** Mean CIEDE2000 in the edge band after laying both on black, white and red. */
  readonly edge: number;
}

const GROUNDS = [
  [0, 0, 0],
  [255, 255, 255],
  [208, 32, 32],
] as const;

/** Cells from a partly covered pixel that belong to the edge band. */
const BAND = 2;

export function errorOf(truth: Pixels, found: Pixels): CutError {
  const { width, height } = truth;
  let alpha = 0;
  const band = new Uint8Array(width * height);
  for (let n = 0; n < width * height; n++) {
    const own = truth.data[n * 4 + 3];
    alpha += Math.abs(own - found.data[n * 4 + 3]) / 255;
    if (own <= 5 || own >= 250) continue;
    const [x, y] = [n % width, Math.floor(n / width)];
    for (let dy = -BAND; dy <= BAND; dy++)
      for (let dx = -BAND; dx <= BAND; dx++)
        if (x + dx >= 0 && x + dx < width && y + dy >= 0 && y + dy < height) band[(y + dy) * width + x + dx] = 1;
  }
  let [sum, count] = [0, 0];
  for (let n = 0; n < band.length; n++) {
    if (!band[n]) continue;
    for (const ground of GROUNDS) {
      sum += deltaE2000(labOf(laid(truth, n, ground)), labOf(laid(found, n, ground)));
      count++;
    }
  }
  return { alpha: alpha / (width * height), edge: count ? sum / count : 0 };
}

function laid({ data }: Pixels, n: number, ground: readonly [number, number, number]) {
  const share = data[n * 4 + 3] / 255;
  const [r, g, b] = ground.map((value, k) => Math.round(data[n * 4 + k] * share + value * (1 - share)));
  return { r, g, b };
}

/** A plain flood fill with tolerance from the border: what is within it is clear, all else stays as it is. */
export function plainFlood({ width, height, data }: Pixels, ground: readonly number[], tolerance: number): Pixels {
  const out = Uint8ClampedArray.from(data);
  const seen = new Uint8Array(width * height);
  const stack: number[] = [];
  const reach = (n: number): void => {
    if (seen[n]) return;
    if (ground.some((value, k) => Math.abs(data[n * 4 + k] - value) > tolerance)) return;
    seen[n] = 1;
    out[n * 4 + 3] = 0;
    stack.push(n);
  };
  for (let x = 0; x < width; x++) {
    reach(x);
    reach((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    reach(y * width);
    reach(y * width + width - 1);
  }
  while (stack.length) {
    const n = stack.pop()!;
    const x = n % width;
    if (x > 0) reach(n - 1);
    if (x < width - 1) reach(n + 1);
    if (n >= width) reach(n - width);
    if (n < width * (height - 1)) reach(n + width);
  }
  return { width, height, data: out };
}
