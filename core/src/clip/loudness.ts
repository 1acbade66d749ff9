/** Length of a block and how far each begins after the one before, seconds (ITU-R BS.1770-4). */
const [BLOCK, STEP] = [0.4, 0.1];
/** Blocks that are quieter than this do not count, nor those this much quieter than the rest, LUFS. */
const [ABSOLUTE_GATE, RELATIVE_GATE] = [-70, -10];

/**
 * Integrated loudness, LUFS, after ITU-R BS.1770-4: K-weighted, gated twice. -Infinity for silence.
 * @param channels samples, -1 to 1: one channel or left and right
 * @param rate samples a second
 */
export function loudnessOf(channels: readonly Float32Array[], rate: number): number {
  const length = channels[0]?.length ?? 0;
  const step = Math.round(STEP * rate);
  // The mean square of each tenth of a second; four of them make a block.
  const steps = Math.max(1, Math.floor(length / step));
  const energy = new Float64Array(steps);
  for (const channel of channels) {
    const weighted = kWeighted(channel, rate);
    for (let i = 0; i < steps; i++) {
      let sum = 0;
      for (let k = i * step; k < Math.min(length, (i + 1) * step); k++) sum += weighted[k] * weighted[k];
      energy[i] += sum / step;
    }
  }
  const perBlock = Math.min(steps, Math.round(BLOCK / STEP));
  const blocks = Array.from({ length: steps - perBlock + 1 }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < perBlock; k++) sum += energy[i + k];
    return sum / perBlock;
  });
  const heard = blocks.filter((one) => levelOf(one) > ABSOLUTE_GATE);
  const gate = levelOf(mean(heard)) + RELATIVE_GATE;
  return levelOf(mean(heard.filter((one) => levelOf(one) > gate)));
}

const levelOf = (energy: number): number => -0.691 + 10 * Math.log10(energy);
const mean = (values: readonly number[]): number =>
  values.length ? values.reduce((sum, one) => sum + one, 0) / values.length : 0;

/** The two filters of K-weighting, computed for any rate: a shelf for the head, a high pass for low sounds (BS.1770-4, annex 1). */
function kWeighted(samples: Float32Array, rate: number): Float64Array {
  const shelf = (() => {
    const k = Math.tan((Math.PI * 1681.974450955533) / rate);
    const [high, q] = [10 ** (3.999843853973347 / 20), 0.7071752369554196];
    const middle = high ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b: [(high + (middle * k) / q + k * k) / a0, (2 * (k * k - high)) / a0, (high - (middle * k) / q + k * k) / a0],
      a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0],
    };
  })();
  const pass = (() => {
    const k = Math.tan((Math.PI * 38.13547087602444) / rate);
    const q = 0.5003270373238773;
    const a0 = 1 + k / q + k * k;
    return { b: [1, -2, 1], a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] };
  })();
  return filtered(filtered(samples, shelf), pass);
}

function filtered(
  samples: Float32Array | Float64Array,
  { b, a }: { readonly b: readonly number[]; readonly a: readonly number[] },
): Float64Array {
  const out = new Float64Array(samples.length);
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  for (let k = 0; k < samples.length; k++) {
    const x = samples[k];
    const y = b[0] * x + b[1] * x1 + b[2] * x2 - a[0] * y1 - a[1] * y2;
    [x2, x1, y2, y1] = [x1, x, y1, y];
    out[k] = y;
  }
  return out;
}
