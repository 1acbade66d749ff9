/** Pixels that hang together, by eye: touching at edges or corners. */
export interface Component {
  readonly area: number;
  readonly left: number;
  readonly top: number;
  /** One beyond the last pixel. */
  readonly right: number;
  readonly bottom: number;
  /** Largest weight among its pixels; 0 where none were given. */
  readonly most: number;
  /** Mean and standard deviation of the weights that are not 0; 0 where there are none. */
  readonly mean: number;
  readonly spread: number;
}

/**
 * Pixels of a value that hang together, found from runs of rows.
 * @param mask one byte a pixel
 * @param weights one for each pixel, of which each component keeps the largest
 */
export function components(
  mask: Uint8Array,
  width: number,
  height: number,
  value: number,
  weights?: Uint16Array,
): Component[] {
  const parent: number[] = [];
  const [area, left, top, right, bottom, most]: number[][] = [[], [], [], [], [], []];
  const [weighed, sum, squares]: number[][] = [[], [], []];
  const root = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  const join = (a: number, b: number): void => {
    const [one, other] = [root(a), root(b)];
    if (one !== other) parent[Math.max(one, other)] = Math.min(one, other);
  };
  // Runs of the row before: first pixel, one beyond the last, and the component.
  let before: number[] = [];
  for (let y = 0; y < height; y++) {
    const row: number[] = [];
    const from = y * width;
    let k = 0;
    for (let x = 0; x < width; x++) {
      if (mask[from + x] !== value) continue;
      const begin = x;
      let [weight, count, total, square] = [0, 0, 0, 0];
      while (x < width && mask[from + x] === value) {
        const own = weights ? weights[from + x] : 0;
        if (own) {
          if (own > weight) weight = own;
          count++;
          total += own;
          square += own * own;
        }
        x++;
      }
      const id = parent.length;
      parent.push(id);
      area.push(x - begin);
      left.push(begin);
      right.push(x);
      top.push(y);
      bottom.push(y + 1);
      most.push(weight);
      weighed.push(count);
      sum.push(total);
      squares.push(square);
      while (k < before.length && before[k + 1] < begin) k += 3;
      for (let j = k; j < before.length && before[j] <= x; j += 3) join(id, before[j + 2]);
      row.push(begin, x, id);
    }
    before = row;
  }
  for (let i = 0; i < parent.length; i++) {
    const r = root(i);
    if (r === i) continue;
    area[r] += area[i];
    left[r] = Math.min(left[r], left[i]);
    right[r] = Math.max(right[r], right[i]);
    top[r] = Math.min(top[r], top[i]);
    bottom[r] = Math.max(bottom[r], bottom[i]);
    most[r] = Math.max(most[r], most[i]);
    weighed[r] += weighed[i];
    sum[r] += sum[i];
    squares[r] += squares[i];
  }
  return parent.flatMap((up, i): Component[] => {
    if (up !== i) return [];
    const count = Math.max(1, weighed[i]);
    const mean = sum[i] / count;
    const spread = Math.sqrt(Math.max(0, squares[i] / count - mean * mean));
    const box = { left: left[i], top: top[i], right: right[i], bottom: bottom[i] };
    return [{ ...box, area: area[i], most: most[i], mean, spread }];
  });
}

/**
 * Squared distance of each set pixel from the middle of the nearest pixel that is not, exact up to a reach and capped
 * at one more. Beyond the edges nothing is known, and nothing counts as clear.
 * @param wanted one byte a pixel: where it is 0 the distance is left at 0
 */
export function distances(
  mask: Uint8Array,
  width: number,
  height: number,
  reach: number,
  wanted: Uint8Array = mask,
): Uint16Array {
  const cap = reach + 1;
  // Along columns, row by row: to the nearest clear pixel above, then above or below.
  const up = new Uint8Array(width * height);
  for (let at = 0; at < up.length; at++) if (mask[at]) up[at] = at < width ? cap : Math.min(cap, up[at - width] + 1);
  for (let at = up.length - width - 1; at >= 0; at--) if (up[at] > up[at + width] + 1) up[at] = up[at + width] + 1;
  const out = new Uint16Array(width * height);
  for (let y = 0; y < height; y++) {
    const from = y * width;
    // The nearest places of the row, before and after, from which anything could be nearer than the cap.
    let [before, after] = [-cap, 0];
    for (let x = 0; x < width; x++) {
      const own = up[from + x];
      if (own < cap) before = x;
      if (!own || !wanted[from + x]) continue;
      if (own === cap) {
        if (after <= x) for (after = x + 1; after < width && up[from + after] === cap;) after++;
        if (x - before > reach && (after >= width || after - x > reach)) {
          out[from + x] = cap * cap;
          continue;
        }
      }
      let best = own * own;
      for (let d = 1; d <= reach && d * d < best; d++) {
        if (x >= d) {
          const one = up[from + x - d];
          if (one * one + d * d < best) best = one * one + d * d;
        }
        if (x + d < width) {
          const one = up[from + x + d];
          if (one * one + d * d < best) best = one * one + d * d;
        }
      }
      out[from + x] = best;
    }
  }
  return out;
}
