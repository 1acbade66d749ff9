/** Mean over a square of a plane, its rim taking what there is. Two running sums, whatever the radius. */
export function boxMean(plane: Float32Array, width: number, height: number, radius: number): Float32Array {
  const rows = new Float32Array(plane.length);
  for (let y = 0; y < height; y++) {
    let sum = 0;
    const row = y * width;
    for (let x = 0; x < Math.min(radius, width); x++) sum += plane[row + x];
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum += plane[row + x + radius];
      if (x - radius - 1 >= 0) sum -= plane[row + x - radius - 1];
      rows[row + x] = sum / (Math.min(width - 1, x + radius) - Math.max(0, x - radius) + 1);
    }
  }
  const out = new Float32Array(plane.length);
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(radius, height); y++) for (let x = 0; x < width; x++) sums[x] += rows[y * width + x];
  for (let y = 0; y < height; y++) {
    const count = Math.min(height - 1, y + radius) - Math.max(0, y - radius) + 1;
    for (let x = 0; x < width; x++) {
      if (y + radius < height) sums[x] += rows[(y + radius) * width + x];
      if (y - radius - 1 >= 0) sums[x] -= rows[(y - radius - 1) * width + x];
      out[y * width + x] = sums[x] / count;
    }
  }
  return out;
}

/** Mean over a square, each place weighted. Where nothing has weight it is 0. */
export function weightedMean(
  plane: Float32Array,
  weight: Float32Array,
  width: number,
  height: number,
  radius: number,
): Float32Array {
  const sums = boxMean(
    plane.map((value, i) => value * weight[i]),
    width,
    height,
    radius,
  );
  const weights = boxMean(weight, width, height, radius);
  return sums.map((sum, i) => (weights[i] > 1e-6 ? sum / weights[i] : 0));
}

/**
 * Smooths what varies less than `noise` and keeps what varies more: a guided filter, guided by the plane itself.
 * He, Sun, Tang 2010.
 */
export function guided(
  plane: Float32Array,
  weight: Float32Array,
  width: number,
  height: number,
  radius: number,
  noise: number,
): Float32Array {
  const mean = weightedMean(plane, weight, width, height, radius);
  const square = weightedMean(
    plane.map((value) => value * value),
    weight,
    width,
    height,
    radius,
  );
  const slope = square.map((value, i) => {
    const variance = Math.max(0, value - mean[i] * mean[i]);
    return variance / (variance + noise * noise);
  });
  const offset = mean.map((value, i) => value * (1 - slope[i]));
  const [slopes, offsets] = [slope, offset].map((one) => weightedMean(one, weight, width, height, radius));
  return plane.map((value, i) => (weight[i] > 0 ? slopes[i] * value + offsets[i] : value));
}
