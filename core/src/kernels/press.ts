// What turns straight RGBA into the bytes of a print: colours through a table, the differences of neighbours, and LZW.
// Memory is a bump allocation made by the host.

let top: usize = (__heap_base + 15) & ~15;

/** Bytes of memory, 16-byte aligned. */
export function allocate(bytes: usize): usize {
  const at = top;
  top = (top + bytes + 15) & ~15;
  const missing = <i32>((top + 0xffff) >>> 16) - memory.size();
  if (missing > 0 && memory.grow(missing) < 0) unreachable();
  return at;
}

/** Points of a table along each axis. */
const GRID: i32 = 33;
const RED: usize = <usize>(GRID * GRID * 8);
const GREEN: usize = <usize>(GRID * 8);
const BLUE: usize = 8;

@inline function point(at: usize): v128 {
  return i32x4.extend_low_i16x8_u(v128.load64_zero(at));
}

/**
 * Sends colours through a table by tetrahedral interpolation (Kasson, Plouffe and Nin, 1993): of the cube a colour lies
 * in, the four corners on the way from the darkest to the lightest that its channels, largest first, lead along.
 * @param source straight RGBA, 8 bits
 * @param table GRID³ points of four 16-bit values each, red slowest
 * @param target four bytes a pixel, or five with the source's alpha after them
 * @param extra 1 for alpha behind the four values
 */
export function convert(source: usize, count: usize, table: usize, target: usize, extra: i32): void {
  let last: u32 = 0;
  let made: u32 = 0;
  let begun = false;
  const step: usize = 4 + extra;
  const scale = f32x4.splat(1.0 / 65535.0);
  for (let i: usize = 0; i < count; i++, source += 4, target += step) {
    const colour = load<u32>(source);
    const alpha = colour >>> 24;
    if (extra && alpha == 0) {
      store<u32>(target, 0);
      store<u8>(target, 0, 4);
      continue;
    }
    const rgb = colour & 0xffffff;
    if (!begun || rgb != last) {
      const r: i32 = <i32>(rgb & 255) * (GRID - 1);
      const g: i32 = <i32>((rgb >>> 8) & 255) * (GRID - 1);
      const b: i32 = <i32>(rgb >>> 16) * (GRID - 1);
      const x = r == 255 * (GRID - 1) ? GRID - 2 : r / 255;
      const y = g == 255 * (GRID - 1) ? GRID - 2 : g / 255;
      const z = b == 255 * (GRID - 1) ? GRID - 2 : b / 255;
      const fx = r - x * 255;
      const fy = g - y * 255;
      const fz = b - z * 255;
      const from = table + <usize>((x * GRID + y) * GRID + z) * 8;
      let one: usize = 0;
      let two: usize = 0;
      let most = 0;
      let mid = 0;
      let least = 0;
      if (fx >= fy) {
        if (fy >= fz) { one = RED; two = RED + GREEN; most = fx; mid = fy; least = fz; }
        else if (fx >= fz) { one = RED; two = RED + BLUE; most = fx; mid = fz; least = fy; }
        else { one = BLUE; two = RED + BLUE; most = fz; mid = fx; least = fy; }
      } else if (fx >= fz) { one = GREEN; two = RED + GREEN; most = fy; mid = fx; least = fz; }
      else if (fy >= fz) { one = GREEN; two = GREEN + BLUE; most = fy; mid = fz; least = fx; }
      else { one = BLUE; two = GREEN + BLUE; most = fz; mid = fy; least = fx; }
      const sum = i32x4.add(
        i32x4.add(i32x4.mul(point(from), i32x4.splat(255 - most)), i32x4.mul(point(from + one), i32x4.splat(most - mid))),
        i32x4.add(i32x4.mul(point(from + two), i32x4.splat(mid - least)), i32x4.mul(point(from + RED + GREEN + BLUE), i32x4.splat(least))));
      // 255 parts of 16 bits: 65535 × 255 is 255 of 8 bits.
      const whole = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.mul(f32x4.convert_i32x4_u(sum), scale), f32x4.splat(0.5)));
      const half = i16x8.narrow_i32x4_u(whole, whole);
      made = i32x4.extract_lane(i8x16.narrow_i16x8_u(half, half), 0);
      last = rgb;
      begun = true;
    }
    store<u32>(target, made);
    if (extra) store<u8>(target, <u8>alpha, 4);
  }
}

/** Replaces the samples of a row by their differences from the pixel before (TIFF 6.0, section 14). */
export function differ(row: usize, width: i32, samples: i32): void {
  for (let i = width * samples - 1; i >= samples; i--)
    store<u8>(row + i, load<u8>(row + i) - load<u8>(row + i - samples));
}

const CLEAR: u32 = 256;
const END: u32 = 257;
const FIRST: u32 = 258;
const SLOTS: usize = 16384;
/** Strings seen: the code before and the byte after it in the upper 20 bits, the code of both in the lower 12. */
let seen: usize = 0;

/**
 * Packs bytes as TIFF has LZW: most significant bit first, 9 to 12 bits a code, each width begun as soon as its
 * first code is given away (TIFF 6.0, section 13).
 * @param target room for one and a half times the source and 64 bytes
 * @returns bytes written
 */
export function lzw(source: usize, length: usize, target: usize): usize {
  if (!seen) seen = allocate(SLOTS * 4);
  const begin = target;
  let bits: u32 = 0;
  let held = 0;
  let width = 9;
  let next = FIRST;
  memory.fill(seen, 0, SLOTS * 4);
  let before: u32 = 0;
  let i: usize = 0;
  // The clear code that every strip begins with, then the first byte as the string in hand.
  bits = CLEAR;
  held = 9;
  if (length > 0) { before = load<u8>(source); i = 1; }
  while (true) {
    while (held >= 8) { held -= 8; store<u8>(target++, <u8>(bits >>> held)); }
    if (i < length) {
      const byte: u32 = load<u8>(source + i);
      const key = (before << 8) | byte;
      let slot: usize = <usize>((key * <u32>0x9e3779b1) >>> 18) & (SLOTS - 1);
      let found: u32 = load<u32>(seen + (slot << 2));
      while (found != 0 && found >>> 12 != key) {
        slot = (slot + 1) & (SLOTS - 1);
        found = load<u32>(seen + (slot << 2));
      }
      if (found != 0) { before = found & 4095; i++; continue; }
      bits = (bits << width) | before;
      held += width;
      store<u32>(seen + (slot << 2), (key << 12) | next);
      before = byte;
      i++;
      next++;
      if (next == 4094) {
        while (held >= 8) { held -= 8; store<u8>(target++, <u8>(bits >>> held)); }
        bits = (bits << width) | CLEAR;
        held += width;
        width = 9;
        next = FIRST;
        memory.fill(seen, 0, SLOTS * 4);
      } else if (next == <u32>1 << width) width++;
      continue;
    }
    break;
  }
  if (length > 0) {
    bits = (bits << width) | before;
    held += width;
    while (held >= 8) { held -= 8; store<u8>(target++, <u8>(bits >>> held)); }
    next++;
    if (next == 4094) {
      bits = (bits << width) | CLEAR;
      held += width;
      while (held >= 8) { held -= 8; store<u8>(target++, <u8>(bits >>> held)); }
      width = 9;
    } else if (next == <u32>1 << width) width++;
  }
  bits = (bits << width) | END;
  held += width;
  while (held >= 8) { held -= 8; store<u8>(target++, <u8>(bits >>> held)); }
  if (held > 0) store<u8>(target++, <u8>(bits << (8 - held)));
  return target - begin;
}
