// The resampler's hot loops: pixels as f32x4 lanes r, g, b, a, premultiplied, 0 to 255.
// Memory is a bump allocation made by the host; an instance serves one picture and is dropped.

let top: usize = (__heap_base + 15) & ~15;

/** Bytes of memory, 16-byte aligned. */
export function allocate(bytes: usize): usize {
  const at = top;
  top = (top + bytes + 15) & ~15;
  const missing = <i32>((top + 0xffff) >>> 16) - memory.size();
  if (missing > 0 && memory.grow(missing) < 0) unreachable();
  return at;
}

/** A straight 8-bit pixel as premultiplied lanes. */
@inline function premultiplied(at: usize): v128 {
  const value = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(at))));
  const alpha = f32x4.extract_lane(value, 3);
  return alpha == 255 ? value : f32x4.replace_lane(f32x4.mul(value, f32x4.splat(alpha * (1.0 / 255.0))), 3, alpha);
}

/**
 * Stores premultiplied lanes as a straight 8-bit pixel. A filter overshoots in colour and alpha alike, so their ratio is the art's own colour;
 * alpha itself is cut at 0 and 255.
 */
@inline function storeStraight(at: usize, value: v128): void {
  const alpha = f32x4.extract_lane(value, 3);
  if (alpha < 0.5) { store<u32>(at, 0); return; }
  const straight = alpha == 255 ? value : f32x4.replace_lane(f32x4.mul(value, f32x4.splat(255 / alpha)), 3, min(alpha, 255));
  const whole = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.min(f32x4.max(straight, f32x4.splat(0)), f32x4.splat(255)), f32x4.splat(0.5)));
  const half = i16x8.narrow_i32x4_u(whole, whole);
  store<u32>(at, i32x4.extract_lane(i8x16.narrow_i16x8_u(half, half), 0));
}

/**
 * Filters one row across.
 * @param row source pixels, straight 8-bit RGBA
 * @param scratch room for the row in lanes, 16 bytes a pixel
 * @param starts first source pixel of each target pixel, u32
 * @param weights `taps` f32 for each target pixel
 * @param out lanes, 16 bytes a target pixel
 */
export function filterRow(row: usize, sourceWidth: i32, scratch: usize, starts: usize, weights: usize, taps: i32, width: i32, out: usize): void {
  for (let x: usize = 0; x < <usize>sourceWidth; x++) v128.store(scratch + (x << 4), premultiplied(row + (x << 2)));
  if (taps == 4) {
    for (let x: usize = 0; x < <usize>width; x++) {
      const from = scratch + (<usize>load<u32>(starts + (x << 2)) << 4);
      const weight = weights + (x << 4);
      v128.store(out + (x << 4), f32x4.add(f32x4.add(f32x4.add(
        f32x4.mul(v128.load(from), v128.load32_splat(weight)), f32x4.mul(v128.load(from, 16), v128.load32_splat(weight, 4))),
        f32x4.mul(v128.load(from, 32), v128.load32_splat(weight, 8))), f32x4.mul(v128.load(from, 48), v128.load32_splat(weight, 12))));
    }
    return;
  }
  for (let x: usize = 0; x < <usize>width; x++) {
    let from = scratch + (<usize>load<u32>(starts + (x << 2)) << 4);
    let weight = weights + ((x * taps) << 2);
    let sum = f32x4.mul(v128.load(from), v128.load32_splat(weight));
    for (let k = 1; k < taps; k++) {
      from += 16;
      weight += 4;
      sum = f32x4.add(sum, f32x4.mul(v128.load(from), v128.load32_splat(weight)));
    }
    v128.store(out + (x << 4), sum);
  }
}

/**
 * Filters rows down into one finished row of straight 8-bit pixels.
 * @param rows addresses of `taps` filtered rows, u32
 * @param weights `taps` f32
 */
export function filterDown(rows: usize, weights: usize, taps: i32, width: i32, out: usize): void {
  if (taps == 4) { filterDown4(rows, weights, width, out); return; }
  for (let x: usize = 0; x < <usize>width; x++) {
    let sum = f32x4.mul(v128.load(<usize>load<u32>(rows) + (x << 4)), v128.load32_splat(weights));
    for (let k: usize = 1; k < <usize>taps; k++) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(<usize>load<u32>(rows + (k << 2)) + (x << 4)), v128.load32_splat(weights + (k << 2))));
    }
    storeStraight(out + (x << 2), sum);
  }
}

/** The same for four rows, as every enlargement has them: nothing is looked up twice. */
function filterDown4(rows: usize, weights: usize, width: i32, out: usize): void {
  const r0 = <usize>load<u32>(rows);
  const r1 = <usize>load<u32>(rows, 4);
  const r2 = <usize>load<u32>(rows, 8);
  const r3 = <usize>load<u32>(rows, 12);
  const w0 = v128.load32_splat(weights);
  const w1 = v128.load32_splat(weights, 4);
  const w2 = v128.load32_splat(weights, 8);
  const w3 = v128.load32_splat(weights, 12);
  for (let x: usize = 0, last = <usize>width << 4; x < last; x += 16) {
    storeStraight(out + (x >> 2), f32x4.add(f32x4.add(f32x4.add(
      f32x4.mul(v128.load(r0 + x), w0), f32x4.mul(v128.load(r1 + x), w1)), f32x4.mul(v128.load(r2 + x), w2)), f32x4.mul(v128.load(r3 + x), w3)));
  }
}

/** Source pixel addresses of four neighbours along an axis; what lies outside repeats the edge. */
@inline function held(index: i32, last: i32): usize { return <usize>max(0, min(last, index)); }

/** Catmull-Rom weights of four neighbours at a fraction past the second (a cubic with a = -1/2; Keys 1981). */
@inline function w0(t: f32): f32 { return ((-0.5 * t + 1) * t - 0.5) * t; }
@inline function w1(t: f32): f32 { return (1.5 * t - 2.5) * t * t + 1; }
@inline function w2(t: f32): f32 { return ((-1.5 * t + 2) * t + 0.5) * t; }
@inline function w3(t: f32): f32 { return (0.5 * t - 0.5) * t * t; }

@inline function rowSum(at: usize, x0: usize, x1: usize, x2: usize, x3: usize, wx0: v128, wx1: v128, wx2: v128, wx3: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(premultiplied(at + x0), wx0), f32x4.mul(premultiplied(at + x1), wx1)),
    f32x4.add(f32x4.mul(premultiplied(at + x2), wx2), f32x4.mul(premultiplied(at + x3), wx3)),
  );
}

/** How much of a pixel lies inside two edges that are `from` and `to` pixels away. */
@inline function inside(from: f32, to: f32): f32 { return max(<f32>0, min(<f32>1, from + 0.5)) * max(<f32>0, min(<f32>1, to + 0.5)); }

/**
 * Samples a turned picture along one row of the target.
 * @param x, y source position of the first target pixel's middle, and its step to the next one
 * @param left, top where the given part of the picture lies in the whole, which is `wholeWidth` × `wholeHeight`
 * @param slopeX, slopeY source pixels for one target pixel across the picture's edges
 */
export function turnRow(
  source: usize, width: i32, height: i32, x: f64, y: f64, stepX: f64, stepY: f64, left: f64, top: f64, wholeWidth: f64, wholeHeight: f64, slopeX: f64, slopeY: f64, count: i32, out: usize,
): void {
  for (let i = 0; i < count; i++) {
    const sx = x + stepX * <f64>i;
    const sy = y + stepY * <f64>i;
    const at = out + (<usize>i << 2);
    const cover = inside(<f32>(sx / slopeX), <f32>((wholeWidth - sx) / slopeX)) * inside(<f32>(sy / slopeY), <f32>((wholeHeight - sy) / slopeY));
    if (cover <= 0) { store<u32>(at, 0); continue; }
    const px = sx - left - 0.5;
    const py = sy - top - 0.5;
    const fx = Math.floor(px);
    const fy = Math.floor(py);
    const tx = <f32>(px - fx);
    const ty = <f32>(py - fy);
    const ix = <i32>fx;
    const iy = <i32>fy;
    const x0 = held(ix - 1, width - 1) << 2;
    const x1 = held(ix, width - 1) << 2;
    const x2 = held(ix + 1, width - 1) << 2;
    const x3 = held(ix + 2, width - 1) << 2;
    const stride = <usize>width << 2;
    const a = f32x4.splat(w0(tx));
    const b = f32x4.splat(w1(tx));
    const c = f32x4.splat(w2(tx));
    const d = f32x4.splat(w3(tx));
    let sum = f32x4.mul(rowSum(source + held(iy - 1, height - 1) * stride, x0, x1, x2, x3, a, b, c, d), f32x4.splat(w0(ty)));
    sum = f32x4.add(sum, f32x4.mul(rowSum(source + held(iy, height - 1) * stride, x0, x1, x2, x3, a, b, c, d), f32x4.splat(w1(ty))));
    sum = f32x4.add(sum, f32x4.mul(rowSum(source + held(iy + 1, height - 1) * stride, x0, x1, x2, x3, a, b, c, d), f32x4.splat(w2(ty))));
    sum = f32x4.add(sum, f32x4.mul(rowSum(source + held(iy + 2, height - 1) * stride, x0, x1, x2, x3, a, b, c, d), f32x4.splat(w3(ty))));
    storeStraight(at, cover < 1 ? f32x4.mul(f32x4.min(sum, f32x4.splat(255)), f32x4.splat(cover)) : sum);
  }
}
