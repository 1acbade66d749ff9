/** Alpha of a picture by itself: one value 0 to 255 a pixel. */
export interface AlphaPlane {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray;
}

export const alphaOf = ({
  width,
  height,
  data,
}: {
  width: number;
  height: number;
  data: Uint8Array | Uint8ClampedArray;
}): AlphaPlane => {
  const out = new Uint8ClampedArray(width * height);
  for (let n = 0, i = 3; n < out.length; n++, i += 4) out[n] = data[i];
  return { width, height, data: out };
};

/**
 * Mean over a box of any half width, also between pixels; beyond the picture its border goes on.
 * @param reach half of the box's side, px; up to 0.5 changes nothing
 */
export function boxBlur(plane: AlphaPlane, reach: number): AlphaPlane {
  if (reach <= 0.5) return plane;
  const { width, height, data } = plane;
  const whole = Math.floor(reach - 0.5);
  const rest = reach - 0.5 - whole;
  const share = 1 / (2 * reach);
  const across = new Uint8ClampedArray(width * height);
  for (let y = 0; y < height; y++) {
    const start = y * width;
    const last = start + width - 1;
    let sum = 0;
    for (let n = -whole; n <= whole; n++) sum += data[Math.min(last, Math.max(start, start + n))];
    for (let x = 0; x < width; x++) {
      const at = start + x;
      const before = at - whole - 1 < start ? start : at - whole - 1;
      const after = at + whole + 1 > last ? last : at + whole + 1;
      across[at] = (sum + rest * (data[before] + data[after])) * share;
      sum += data[after] - data[at - whole < start ? start : at - whole];
    }
  }
  // Down all columns at once, row by row, as memory lies.
  const down = new Uint8ClampedArray(width * height);
  const sums = new Float64Array(width);
  const row = (y: number): number => Math.min(height - 1, Math.max(0, y)) * width;
  for (let n = -whole; n <= whole; n++) for (let x = 0, i = row(n); x < width; x++, i++) sums[x] += across[i];
  for (let y = 0; y < height; y++) {
    const before = row(y - whole - 1);
    const after = row(y + whole + 1);
    const leaving = row(y - whole);
    for (let x = 0, o = y * width; x < width; x++, o++) {
      down[o] = (sums[x] + rest * (across[before + x] + across[after + x])) * share;
      sums[x] += across[after + x] - across[leaving + x];
    }
  }
  return { width, height, data: down };
}

/**
 * The edge moved outwards, or inwards when negative. A box over a straight edge falls evenly from one side to the other:
 * its level at a distance tells where the moved edge runs, also between pixels.
 * @param by px
 */
export function shifted(plane: AlphaPlane, by: number): AlphaPlane {
  const reach = Math.max(1.5, 1.6 * Math.abs(by));
  const blurred = boxBlur(plane, reach).data;
  const level = 255 * (0.5 - by / (2 * reach));
  const steep = 2 * reach;
  const { width, height, data } = plane;
  const out = new Uint8ClampedArray(data.length);
  for (let n = 0; n < data.length; n++) {
    const moved = (blurred[n] - level) * steep + 127.5;
    out[n] = by > 0 ? (moved > data[n] ? moved : data[n]) : moved < data[n] ? moved : data[n];
  }
  return { width, height, data: out };
}

/** The edge without teeth and corners smaller than a reach, as steep as before. */
export function smoothed(plane: AlphaPlane, reach: number): AlphaPlane {
  const { width, height } = plane;
  const { data } = boxBlur(boxBlur(plane, reach), reach);
  const steep = Math.max(1, 2 * reach);
  const out = new Uint8ClampedArray(data.length);
  for (let n = 0; n < data.length; n++) out[n] = (data[n] - 127.5) * steep + 127.5;
  return { width, height, data: out };
}
