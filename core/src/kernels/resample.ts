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

// Pictures of things are filtered in light, what is printed in its own values (see the host).
const ENCODE_STEPS: i32 = 16383;
const STEPS_PER_LEVEL: f32 = 16383.0 / 255.0;
const lightOfCode = allocate(256 * 4);
const codeOfLight = allocate(ENCODE_STEPS + 1);
let inLight: bool = false;

/** From here on this instance filters rows in linear light (sRGB, IEC 61966-2-1). */
export function useLight(): void {
  inLight = true;
  for (let code = 0; code < 256; code++) {
    const encoded = <f64>code / 255.0;
    const linear = encoded <= 0.04045 ? encoded / 12.92 : Math.pow((encoded + 0.055) / 1.055, 2.4);
    store<f32>(lightOfCode + (code << 2), <f32>(linear * 255));
  }
  for (let step = 0; step <= ENCODE_STEPS; step++) {
    const linear = <f64>step / <f64>ENCODE_STEPS;
    const encoded = linear <= 0.0031308 ? linear * 12.92 : 1.055 * Math.pow(linear, 1.0 / 2.4) - 0.055;
    store<u8>(codeOfLight + step, <u8>(encoded * 255.0 + 0.5));
  }
}

/** A straight 8-bit pixel as premultiplied linear light, each lane 0 to 255. */
@inline function premultipliedLight(at: usize): v128 {
  const alpha = <f32>load<u8>(at, 3);
  const share = alpha * (1.0 / 255.0);
  const r = load<f32>(lightOfCode + (<usize>load<u8>(at) << 2)) * share;
  const g = load<f32>(lightOfCode + (<usize>load<u8>(at, 1) << 2)) * share;
  const b = load<f32>(lightOfCode + (<usize>load<u8>(at, 2) << 2)) * share;
  return f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(alpha), 0, r), 1, g), 2, b);
}

@inline function codeOf(value: f32): u32 {
  return <u32>load<u8>(codeOfLight + <usize>(max(<f32>0, min(<f32>255, value)) * STEPS_PER_LEVEL + <f32>0.5));
}

/** Stores premultiplied light as a straight 8-bit pixel. */
@inline function storeLight(at: usize, value: v128): void {
  const alpha = f32x4.extract_lane(value, 3);
  if (alpha < 0.5) { store<u32>(at, 0); return; }
  const factor: f32 = <f32>255 / alpha;
  const r = codeOf(f32x4.extract_lane(value, 0) * factor);
  const g = codeOf(f32x4.extract_lane(value, 1) * factor);
  const b = codeOf(f32x4.extract_lane(value, 2) * factor);
  store<u32>(at, r | (g << 8) | (b << 16) | (<u32>(min(alpha, <f32>255) + 0.5) << 24));
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

/** Four neighbours stored at once, each exactly as {@link storeStraight} does it: narrowing cuts at 0 and 255. */
@inline function storeFour(at: usize, s0: v128, s1: v128, s2: v128, s3: v128): void {
  const alphas = v128.shuffle<f32>(v128.shuffle<f32>(s0, s1, 3, 7, 3, 7), v128.shuffle<f32>(s2, s3, 3, 7, 3, 7), 0, 1, 4, 5);
  const seen = f32x4.ge(alphas, f32x4.splat(0.5));
  if (!v128.any_true(seen)) { v128.store(at, i32x4.splat(0)); return; }
  const full = f32x4.eq(alphas, f32x4.splat(255));
  const factors = v128.and(v128.bitselect(f32x4.splat(1), f32x4.div(f32x4.splat(255), alphas), full), seen);
  const held = v128.and(f32x4.pmin(alphas, f32x4.splat(255)), seen);
  const w0 = whole(f32x4.replace_lane(f32x4.mul(s0, f32x4.splat(f32x4.extract_lane(factors, 0))), 3, f32x4.extract_lane(held, 0)));
  const w1 = whole(f32x4.replace_lane(f32x4.mul(s1, f32x4.splat(f32x4.extract_lane(factors, 1))), 3, f32x4.extract_lane(held, 1)));
  const w2 = whole(f32x4.replace_lane(f32x4.mul(s2, f32x4.splat(f32x4.extract_lane(factors, 2))), 3, f32x4.extract_lane(held, 2)));
  const w3 = whole(f32x4.replace_lane(f32x4.mul(s3, f32x4.splat(f32x4.extract_lane(factors, 3))), 3, f32x4.extract_lane(held, 3)));
  v128.store(at, i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(w0, w1), i16x8.narrow_i32x4_s(w2, w3)));
}

@inline function whole(value: v128): v128 { return i32x4.trunc_sat_f32x4_s(f32x4.add(value, f32x4.splat(0.5))); }

/**
 * Filters one row across.
 * @param row source pixels, straight 8-bit RGBA
 * @param scratch room for the row in lanes, 16 bytes a pixel
 * @param starts first source pixel of each target pixel, u32
 * @param weights `taps` f32 for each target pixel
 * @param out lanes, 16 bytes a target pixel
 */
export function filterRow(row: usize, sourceWidth: i32, scratch: usize, starts: usize, weights: usize, taps: i32, width: i32, out: usize): void {
  if (inLight) for (let x: usize = 0; x < <usize>sourceWidth; x++) v128.store(scratch + (x << 4), premultipliedLight(row + (x << 2)));
  else for (let x: usize = 0; x < <usize>sourceWidth; x++) v128.store(scratch + (x << 4), premultiplied(row + (x << 2)));
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
  if (inLight) {
    for (let x: usize = 0; x < <usize>width; x++) {
      let sum = f32x4.mul(v128.load(<usize>load<u32>(rows) + (x << 4)), v128.load32_splat(weights));
      for (let k: usize = 1; k < <usize>taps; k++) {
        sum = f32x4.add(sum, f32x4.mul(v128.load(<usize>load<u32>(rows + (k << 2)) + (x << 4)), v128.load32_splat(weights + (k << 2))));
      }
      storeLight(out + (x << 2), sum);
    }
    return;
  }
  if (taps == 4) { filterDown4(rows, weights, width, out); return; }
  let x: usize = 0;
  for (; x + 3 < <usize>width; x += 4) {
    let row = <usize>load<u32>(rows) + (x << 4);
    let weight = v128.load32_splat(weights);
    let s0 = f32x4.mul(v128.load(row), weight);
    let s1 = f32x4.mul(v128.load(row, 16), weight);
    let s2 = f32x4.mul(v128.load(row, 32), weight);
    let s3 = f32x4.mul(v128.load(row, 48), weight);
    for (let k: usize = 1; k < <usize>taps; k++) {
      row = <usize>load<u32>(rows + (k << 2)) + (x << 4);
      weight = v128.load32_splat(weights + (k << 2));
      s0 = f32x4.add(s0, f32x4.mul(v128.load(row), weight));
      s1 = f32x4.add(s1, f32x4.mul(v128.load(row, 16), weight));
      s2 = f32x4.add(s2, f32x4.mul(v128.load(row, 32), weight));
      s3 = f32x4.add(s3, f32x4.mul(v128.load(row, 48), weight));
    }
    storeFour(out + (x << 2), s0, s1, s2, s3);
  }
  for (; x < <usize>width; x++) {
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
  const last = <usize>width << 4;
  let x: usize = 0;
  for (; x + 48 < last; x += 64) {
    storeFour(out + (x >> 2), four(r0 + x, r1 + x, r2 + x, r3 + x, w0, w1, w2, w3),
      four(r0 + x + 16, r1 + x + 16, r2 + x + 16, r3 + x + 16, w0, w1, w2, w3),
      four(r0 + x + 32, r1 + x + 32, r2 + x + 32, r3 + x + 32, w0, w1, w2, w3),
      four(r0 + x + 48, r1 + x + 48, r2 + x + 48, r3 + x + 48, w0, w1, w2, w3));
  }
  for (; x < last; x += 16) storeStraight(out + (x >> 2), four(r0 + x, r1 + x, r2 + x, r3 + x, w0, w1, w2, w3));
}

@inline function four(r0: usize, r1: usize, r2: usize, r3: usize, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.add(f32x4.mul(v128.load(r0), w0), f32x4.mul(v128.load(r1), w1)), f32x4.mul(v128.load(r2), w2)), f32x4.mul(v128.load(r3), w3));
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

/**
 * Adds a row to the cells it runs through.
 * @param row source pixels, straight 8-bit RGBA
 * @param cells sums as premultiplied lanes, 16 bytes a cell
 * @param step source pixels a cell is wide
 * @param share how much of the row's height lies in these cells, 0 to 1
 */
export function gatherRow(row: usize, width: i32, cells: usize, count: i32, step: f64, share: f32): void {
  const weight = f32x4.splat(share);
  for (let i = 0; i < count; i++) {
    const from = <f64>i * step;
    const to = min(from + step, <f64>width);
    let x = min(<i32>from, width - 1);
    let sum = f32x4.mul(premultiplied(row + (<usize>x << 2)), f32x4.splat(<f32>(min(<f64>(x + 1), to) - from)));
    const whole = <i32>to;
    let opaque = i32x4.splat(0);
    for (x++; x + 3 < whole; x += 4) {
      const four = v128.load(row + (<usize>x << 2));
      if (!v128.any_true(four)) continue;
      if (i32x4.all_true(i32x4.eq(v128.or(four, i32x4.splat(0x00ffffff)), i32x4.splat(-1)))) {
        const two = i16x8.add(i16x8.extend_low_i8x16_u(four), i16x8.extend_high_i8x16_u(four));
        opaque = i32x4.add(opaque, i32x4.add(i32x4.extend_low_i16x8_u(two), i32x4.extend_high_i16x8_u(two)));
        continue;
      }
      for (let k = x; k < x + 4; k++) sum = f32x4.add(sum, premultiplied(row + (<usize>k << 2)));
    }
    sum = f32x4.add(sum, f32x4.convert_i32x4_u(opaque));
    for (; x < whole; x++) sum = f32x4.add(sum, premultiplied(row + (<usize>x << 2)));
    if (x < width && to > <f64>x) sum = f32x4.add(sum, f32x4.mul(premultiplied(row + (<usize>x << 2)), f32x4.splat(<f32>(to - <f64>x))));
    const at = cells + (<usize>i << 4);
    v128.store(at, f32x4.add(v128.load(at), f32x4.mul(sum, weight)));
  }
}

/** Stores the means of gathered cells as straight 8-bit pixels. @param part one over the pixels of a cell */
export function settleRow(cells: usize, count: i32, part: f32, out: usize): void {
  for (let i: usize = 0; i < <usize>count; i++) storeStraight(out + (i << 2), f32x4.mul(v128.load(cells + (i << 4)), f32x4.splat(part)));
}

/** How many pixels of a row are wholly clear. */
export function clearInRow(row: usize, width: i32): i32 {
  let clear = 0;
  let x = 0;
  for (; x + 3 < width; x += 4) {
    const alphas = i32x4.shr_u(v128.load(row + (<usize>x << 2)), 24);
    clear += popcnt<i32>(i32x4.bitmask(i32x4.eq(alphas, i32x4.splat(0))));
  }
  for (; x < width; x++) if (load<u8>(row + (<usize>x << 2) + 3) == 0) clear++;
  return clear;
}
