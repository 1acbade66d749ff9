/** Kinds of colour that one model tells apart. */
const PARTS = 5;
/** Rounds of sorting samples to the nearest kind. */
const ROUNDS = 6;
/** Variance added to every kind, levels squared: no colour is so even that its neighbour would be impossible. */
const SPREAD = 36;

/** Colours as a mixture of normal distributions; says how unlikely a colour is. */
export type ColourModel = (r: number, g: number, b: number) => number;

/**
 * Learns a mixture of {@link PARTS} normal distributions from colours: sorted into kinds by nearest means, each with its
 * own covariance (as in Rother, Kolmogorov and Blake, "GrabCut", ACM Transactions on Graphics 23, 2004).
 * @param colours RGB of each sample, 0 to 255
 * @returns the negative logarithm of a colour's density
 */
export function learnColours(colours: Float32Array): ColourModel {
  const count = colours.length / 3;
  const parts = Math.min(PARTS, count);
  const means = firstMeans(colours, parts);
  const kind = new Uint8Array(count);
  for (let round = 0; round < ROUNDS; round++) {
    sort(colours, means, kind);
    meansOf(colours, kind, means);
  }
  const normals = Array.from({ length: parts }, (_, part) => normalOf(colours, kind, means, part, count)).filter(
    (one) => one !== null,
  );
  const known = new Float32Array(32 * 32 * 32).fill(NaN);
  return (red, green, blue) => {
    // Colours in the same 32nd of each channel are as likely: each is worked out once.
    const key = ((red >> 3) << 10) | ((green >> 3) << 5) | (blue >> 3);
    if (known[key] === known[key]) return known[key];
    const [r, g, b] = [(red & 0xf8) + 3.5, (green & 0xf8) + 3.5, (blue & 0xf8) + 3.5];
    let density = 1e-30;
    for (const { mr, mg, mb, inverse: v, factor } of normals) {
      const [x, y, z] = [r - mr, g - mg, b - mb];
      const square = v[0] * x * x + v[3] * y * y + v[5] * z * z + 2 * (v[1] * x * y + v[2] * x * z + v[4] * y * z);
      density += factor * Math.exp(-0.5 * square);
    }
    return (known[key] = -Math.log(density));
  };
}

/** Samples far from each other to begin with: each the farthest from those before it. */
function firstMeans(colours: Float32Array, parts: number): Float32Array {
  const means = new Float32Array(parts * 3);
  const count = colours.length / 3;
  means.set(colours.subarray(0, 3));
  const nearest = new Float32Array(count).fill(Infinity);
  for (let part = 1; part < parts; part++) {
    let [best, far] = [0, -1];
    for (let n = 0; n < count; n++) {
      nearest[n] = Math.min(nearest[n], squareTo(colours, n, means, part - 1));
      if (nearest[n] > far) [best, far] = [n, nearest[n]];
    }
    means.set(colours.subarray(best * 3, best * 3 + 3), part * 3);
  }
  return means;
}

const squareTo = (colours: Float32Array, n: number, means: Float32Array, part: number): number => {
  const [r, g, b] = [
    colours[n * 3] - means[part * 3],
    colours[n * 3 + 1] - means[part * 3 + 1],
    colours[n * 3 + 2] - means[part * 3 + 2],
  ];
  return r * r + g * g + b * b;
};

function sort(colours: Float32Array, means: Float32Array, kind: Uint8Array): void {
  for (let n = 0; n < kind.length; n++) {
    let [best, least] = [0, Infinity];
    for (let part = 0; part * 3 < means.length; part++) {
      const square = squareTo(colours, n, means, part);
      if (square < least) [best, least] = [part, square];
    }
    kind[n] = best;
  }
}

function meansOf(colours: Float32Array, kind: Uint8Array, means: Float32Array): void {
  const sums = new Float64Array(means.length);
  const counts = new Float64Array(means.length / 3);
  for (let n = 0; n < kind.length; n++) {
    counts[kind[n]]++;
    for (let k = 0; k < 3; k++) sums[kind[n] * 3 + k] += colours[n * 3 + k];
  }
  for (let part = 0; part < counts.length; part++)
    if (counts[part]) for (let k = 0; k < 3; k++) means[part * 3 + k] = sums[part * 3 + k] / counts[part];
}

function normalOf(colours: Float32Array, kind: Uint8Array, means: Float32Array, part: number, all: number) {
  const [mr, mg, mb] = means.subarray(part * 3, part * 3 + 3);
  let [count, rr, rg, rb, gg, gb, bb] = [0, 0, 0, 0, 0, 0, 0];
  for (let n = 0; n < kind.length; n++) {
    if (kind[n] !== part) continue;
    const [r, g, b] = [colours[n * 3] - mr, colours[n * 3 + 1] - mg, colours[n * 3 + 2] - mb];
    count++;
    rr += r * r;
    rg += r * g;
    rb += r * b;
    gg += g * g;
    gb += g * b;
    bb += b * b;
  }
  if (!count) return null;
  [rr, gg, bb] = [rr / count + SPREAD, gg / count + SPREAD, bb / count + SPREAD];
  [rg, rb, gb] = [rg / count, rb / count, gb / count];
  // Inverse of the symmetric matrix by its cofactors.
  const c0 = gg * bb - gb * gb;
  const c1 = rb * gb - rg * bb;
  const c2 = rg * gb - rb * gg;
  const determinant = rr * c0 + rg * c1 + rb * c2;
  if (!(determinant > 0)) return null;
  return {
    mr,
    mg,
    mb,
    inverse: [c0, c1, c2, rr * bb - rb * rb, rg * rb - rr * gb, rr * gg - rg * rg].map((one) => one / determinant),
    factor: count / all / Math.sqrt(determinant),
  };
}
