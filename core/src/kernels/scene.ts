// The scene compositor's hot loops. All light is linear, 0 to 1, in f32x4 lanes r, g, b, a.
// Memory is a bump allocation made by the host; one instance holds one blank at one size.

const ENCODE_STEPS: i32 = 16383;
const MAX_LEVELS: i32 = 12;
/** Prints that one picture may show at once. */
const MAX_PRINTS: i32 = 20;

let top: usize = (__heap_base + 15) & ~15;

/** Bytes of memory, 16-byte aligned. Never freed: a host drops the whole instance instead. */
export function allocate(bytes: usize): usize {
  const at = top;
  top = (top + bytes + 15) & ~15;
  const missing = <i32>((top + 0xffff) >>> 16) - memory.size();
  if (missing > 0 && memory.grow(missing) < 0) unreachable();
  return at;
}

const linearOfCode = allocate(256 * 4);
const lightOfCode = allocate(256 * 4);
const photoOfCode = allocate(256 * 4);
const codeOfLinear = allocate(ENCODE_STEPS + 1);
const behind = allocate(256 * 16);
// Of each print: where the levels of its texture are, how many there are, and how it lies on its area.
const levelAt = allocate(MAX_PRINTS * MAX_LEVELS * 4);
const levelWidth = allocate(MAX_PRINTS * MAX_LEVELS * 4);
const levelHeight = allocate(MAX_PRINTS * MAX_LEVELS * 4);
const levelsOf = allocate(MAX_PRINTS * 4);
const scaleOf = allocate(MAX_PRINTS * 16);

for (let code = 0; code < 256; code++) {
  const encoded = <f64>code / 255.0;
  const linear = encoded <= 0.04045 ? encoded / 12.92 : Math.pow((encoded + 0.055) / 1.055, 2.4);
  store<f32>(linearOfCode + code * 4, <f32>linear);
}
expose(1);
for (let step = 0; step <= ENCODE_STEPS; step++) {
  const linear = <f64>step / <f64>ENCODE_STEPS;
  const encoded = linear <= 0.0031308 ? linear * 12.92 : 1.055 * Math.pow(linear, 1.0 / 2.4) - 0.055;
  store<u8>(codeOfLinear + step, <u8>(encoded * 255.0 + 0.5));
}

/** Sets how bright the product is shot: light on it and the photo itself are multiplied. */
export function expose(gain: f32): void {
  for (let code = 0; code < 256; code++) {
    const encoded = <f32>code / 255;
    store<f32>(lightOfCode + code * 4, 2 * encoded * encoded * gain);
    store<f32>(photoOfCode + code * 4, load<f32>(linearOfCode + code * 4) * gain);
  }
}

@inline function photographed(code: u32): f32 { return load<f32>(photoOfCode + (code << 2)); }
@inline function linear(code: u32): f32 { return load<f32>(linearOfCode + (code << 2)); }
@inline function light(code: u32): f32 { return load<f32>(lightOfCode + (code << 2)); }
@inline function lanes(r: f32, g: f32, b: f32): v128 {
  return f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(0), 0, r), 1, g), 2, b);
}

/** Encodes linear light as an opaque 8-bit sRGB pixel. */
@inline function storePixel(at: usize, value: v128): void {
  // Saturating conversion takes negative light as none.
  const steps = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.min(f32x4.mul(value, f32x4.splat(<f32>ENCODE_STEPS)), f32x4.splat(<f32>ENCODE_STEPS)), f32x4.splat(0.5)));
  const r = <u32>load<u8>(codeOfLinear + i32x4.extract_lane(steps, 0));
  const g = <u32>load<u8>(codeOfLinear + i32x4.extract_lane(steps, 1));
  const b = <u32>load<u8>(codeOfLinear + i32x4.extract_lane(steps, 2));
  store<u32>(at, r | (g << 8) | (b << 16) | 0xff000000);
}

/** Light above this keeps rising ever more slowly towards 1, as film does: nothing that is lit goes flat. */
const SHOULDER: f32 = 0.8;

@inline function rolledOff(lit: v128): v128 {
  const over = f32x4.max(f32x4.sub(lit, f32x4.splat(SHOULDER)), f32x4.splat(0));
  if (!v128.any_true(over)) return lit;
  const room = f32x4.splat(1 - SHOULDER);
  return f32x4.add(f32x4.min(lit, f32x4.splat(SHOULDER)), f32x4.div(f32x4.mul(over, room), f32x4.add(over, room)));
}

/** A picture behind the product, RGBA in sRGB, or 0 for the plain colour in `behind`; and how strong its shadow is. */
let backdropAt: usize = 0;
let shadowOnIt: f32 = 0;

/** Sets what stands behind the product: an opaque picture as large as the scene, or 0 for none. */
export function standBefore(backdrop: usize): void {
  backdropAt = backdrop;
}

/** What is seen behind a pixel of the product, with the product's shadow on it. */
@inline function behindOf(pixel: usize, shadow: usize): v128 {
  const code = <usize>load<u8>(shadow + pixel);
  if (backdropAt == 0) return v128.load(behind + (code << 4));
  const at = backdropAt + (pixel << 2);
  const back = lanes(linear(load<u8>(at)), linear(load<u8>(at, 1)), linear(load<u8>(at, 2)));
  return f32x4.mul(back, f32x4.splat(1 - shadowOnIt * <f32>code * (1.0 / 255.0)));
}

/** The product laid over its backdrop: out = mix(behind, mix(photo, lit, mask / alpha), alpha). */
@inline function compose(pixel: usize, photo: usize, mask: usize, shadow: usize, out: usize, lit: v128): void {
  const shot = photo + (pixel << 2);
  const alpha = <f32>load<u8>(shot, 3);
  const covered = <f32>load<u8>(mask + pixel);
  let body = rolledOff(lit);
  if (covered < alpha) {
    const own = lanes(photographed(load<u8>(shot)), photographed(load<u8>(shot, 1)), photographed(load<u8>(shot, 2)));
    body = f32x4.add(own, f32x4.mul(f32x4.sub(body, own), f32x4.splat(covered / alpha)));
  }
  if (alpha < 255) {
    const back = behindOf(pixel, shadow);
    body = f32x4.add(back, f32x4.mul(f32x4.sub(body, back), f32x4.splat(alpha / 255)));
  }
  storePixel(out + (pixel << 2), body);
}

/** The share of gloss that takes the surface's hue. */
@inline function tintOf(surface: v128, glossTint: f32): v128 {
  const most = max(max(f32x4.extract_lane(surface, 0), f32x4.extract_lane(surface, 1)), max(f32x4.extract_lane(surface, 2), <f32>1e-5));
  return f32x4.add(f32x4.splat(1 - glossTint), f32x4.mul(surface, f32x4.splat(glossTint / most)));
}

/** Draws the unprinted product in a colour on a backdrop. Colours are linear light. */
export function renderProduct(
  pixels: i32, photo: usize, mask: usize, shade: usize, shadow: usize, out: usize,
  r: f32, g: f32, b: f32, backR: f32, backG: f32, backB: f32, albedo: f32, glossTint: f32, strength: f32,
): void {
  const back = lanes(backR, backG, backB);
  shadowOnIt = strength;
  for (let code = 0; code < 256; code++) {
    v128.store(behind + (code << 4), f32x4.mul(back, f32x4.splat(1 - strength * <f32>code / 255)));
  }
  const garment = lanes(r, g, b);
  const bounce = f32x4.div(f32x4.mul(garment, garment), f32x4.splat(albedo));
  const tint = tintOf(garment, glossTint);
  for (let pixel: usize = 0; pixel < <usize>pixels; pixel++) {
    if (load<u8>(photo + (pixel << 2), 3) == 0) {
      storePixel(out + (pixel << 2), behindOf(pixel, shadow));
      continue;
    }
    const s = shade + (pixel << 2);
    let lit = f32x4.mul(garment, f32x4.splat(light(load<u8>(s))));
    lit = f32x4.add(lit, f32x4.mul(bounce, f32x4.splat(light(load<u8>(s, 1)))));
    lit = f32x4.add(lit, f32x4.mul(tint, f32x4.splat(light(load<u8>(s, 2)))));
    compose(pixel, photo, mask, shadow, out, lit);
  }
}

/**
 * Turns 8-bit straight sRGB into 16-bit premultiplied linear light with mip levels down to a few pixels.
 * `room` must hold 8 bytes × (4/3) of the pixels.
 * @param print number of the print that it is for, below 20
 */
export function buildTexture(print: i32, source: usize, width: i32, height: i32, room: usize): void {
  const pixels = <usize>(width * height);
  for (let i: usize = 0; i < pixels; i++) {
    const s = source + (i << 2);
    const alpha = <f32>load<u8>(s, 3) * (65535.0 / 255.0);
    const t = room + (i << 3);
    if (alpha == 0) { store<u64>(t, 0); continue; }
    store<u16>(t, <u16>(linear(load<u8>(s)) * alpha + 0.5));
    store<u16>(t, <u16>(linear(load<u8>(s, 1)) * alpha + 0.5), 2);
    store<u16>(t, <u16>(linear(load<u8>(s, 2)) * alpha + 0.5), 4);
    store<u16>(t, <u16>alpha, 6);
  }
  let at = room;
  let w = width;
  let h = height;
  let levels: i32 = 0;
  const first = print * MAX_LEVELS;
  while (true) {
    store<u32>(levelAt + ((first + levels) << 2), <u32>at);
    store<i32>(levelWidth + ((first + levels) << 2), w);
    store<i32>(levelHeight + ((first + levels) << 2), h);
    levels++;
    if (levels == MAX_LEVELS || w < 4 || h < 4) break;
    const next = at + (<usize>(w * h) << 3);
    halve(at, w, h, next);
    at = next;
    w >>= 1;
    h >>= 1;
  }
  store<i32>(levelsOf + (print << 2), levels);
  store<f32>(scaleOf + (print << 4), <f32>width);
  store<f32>(scaleOf + (print << 4), <f32>height, 4);
}

/**
 * @param coarser levels by which a print's texture is coarser than its area's maps are made for; below 0 it is finer
 * @param adds 1 for a panel, whose ink lies beside that of other panels where a seam runs through a pixel; 0 for a
 * print that lies on what is printed before it
 */
export function layPrint(print: i32, coarser: f32, adds: f32): void {
  store<f32>(scaleOf + (print << 4), coarser, 8);
  store<f32>(scaleOf + (print << 4), adds, 12);
}

@inline function texel(at: usize): v128 { return f32x4.convert_i32x4_u(v128.load_ext<u16>(at)); }

function halve(from: usize, w: i32, h: i32, to: usize): void {
  const halfW = w >> 1;
  const halfH = h >> 1;
  const row = <usize>w << 3;
  for (let y = 0; y < halfH; y++) {
    for (let x = 0; x < halfW; x++) {
      const s = from + <usize>(y * 2) * row + (<usize>(x * 2) << 3);
      const sum = i32x4.add(i32x4.add(v128.load_ext<u16>(s), v128.load_ext<u16>(s, 8)), i32x4.add(v128.load_ext<u16>(s + row), v128.load_ext<u16>(s + row, 8)));
      const mean = i32x4.shr_u(i32x4.add(sum, i32x4.splat(2)), 2);
      v128.store64_lane(to + (<usize>(y * halfW + x) << 3), i16x8.narrow_i32x4_u(mean, mean), 0);
    }
  }
}

/** Bilinear sample of one level; x and y in texels of that level, at least 0, edges repeat. */
@inline function sample(level: i32, x: f32, y: f32): v128 {
  const base = <usize>load<u32>(levelAt + (level << 2));
  const lastX = load<i32>(levelWidth + (level << 2)) - 1;
  const lastY = load<i32>(levelHeight + (level << 2)) - 1;
  const row = <usize>(lastX + 1) << 3;
  const cx = max(x - 0.5, <f32>0);
  const cy = max(y - 0.5, <f32>0);
  const x0 = min(<i32>cx, lastX);
  const y0 = min(<i32>cy, lastY);
  const fx = f32x4.splat(cx - <f32>x0);
  const fy = f32x4.splat(cy - <f32>y0);
  const at = base + <usize>y0 * row + (<usize>x0 << 3);
  const right: usize = x0 < lastX ? 8 : 0;
  const below = at + (y0 < lastY ? row : 0);
  const a = texel(at);
  const c = texel(below);
  const upper = f32x4.add(a, f32x4.mul(f32x4.sub(texel(at + right), a), fx));
  const lower = f32x4.add(c, f32x4.mul(f32x4.sub(texel(below + right), c), fx));
  return f32x4.mul(f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy)), f32x4.splat(1.0 / 65535.0));
}

/** The print that is sampled: looked up when another one begins, as most pixels have the same one as the pixel before. */
let own: i32 = -1;
let ownLevels: i32 = 0;
let ownFirst: i32 = 0;
let ownScaleX: f32 = 0;
let ownScaleY: f32 = 0;
let ownCoarser: f32 = 0;
let ownAdds: bool = false;

function turnTo(print: i32): void {
  const at = scaleOf + (print << 4);
  own = print;
  ownLevels = load<i32>(levelsOf + (print << 2));
  ownFirst = print * MAX_LEVELS;
  ownScaleX = load<f32>(at) * <f32>(1.0 / 65535.0);
  ownScaleY = load<f32>(at, 4) * <f32>(1.0 / 65535.0);
  ownCoarser = load<f32>(at, 8);
  ownAdds = load<f32>(at, 12) != 0;
}

/** Ink of the present print at a place of its area, filtered as finely as it is seen there. */
@inline function inkOf(u: u32, v: u32, detail: u32): v128 {
  const x = <f32>u * ownScaleX;
  const y = <f32>v * ownScaleY;
  const blur = max(<f32>detail * (1.0 / 32.0) - ownCoarser, <f32>0);
  let level = min(<i32>blur, ownLevels - 1);
  // Two levels are mixed only halfway between them; nearer to one, it alone is as good and half the work.
  const between = (blur - <f32>level - 0.375) * 4;
  if (between >= 1 && level + 1 < ownLevels) level++;
  const size = <f32>1.0 / <f32>(1 << level);
  const ink = sample(ownFirst + level, x * size, y * size);
  if (between <= 0 || between >= 1 || level + 1 >= ownLevels) return ink;
  const coarse = sample(ownFirst + level + 1, x * size * 0.5, y * size * 0.5);
  return f32x4.add(ink, f32x4.mul(f32x4.sub(coarse, ink), f32x4.splat(between)));
}

/**
 * Prints all textures on the product in one pass, over every pixel of their print areas. Where there is no ink, the bare
 * product is copied.
 * @param bare the product as renderProduct drew it
 * @param index pixels in their order; one that several prints share comes once for each of them, one after the other
 * @param detail 1/32 levels per pixel, from the print area's maps
 * @param print number of the print
 */
export function renderPrints(
  count: i32, index: usize, u: usize, v: usize, coverage: usize, detail: usize, print: usize,
  photo: usize, mask: usize, shade: usize, shadow: usize, bare: usize, out: usize,
  inkOpacity: f32, r: f32, g: f32, b: f32, albedo: f32, glossTint: f32,
): void {
  const garment = lanes(r, g, b);
  // A texture may have come since the last time.
  own = -1;
  const end = <usize>count;
  let i: usize = 0;
  while (i < end) {
    const pixel = <usize>load<u32>(index + (i << 2));
    let ink = f32x4.splat(0);
    do {
      const number = <i32>load<u8>(print + i);
      if (number != own) turnTo(number);
      const one = inkOf(load<u16>(u + (i << 1)), load<u16>(v + (i << 1)), load<u8>(detail + i));
      const share = <f32>load<u8>(coverage + i) * (1.0 / 255.0) * inkOpacity;
      const laid = f32x4.mul(one, f32x4.splat(share));
      const below = ownAdds ? <f32>1 : 1 - f32x4.extract_lane(laid, 3);
      ink = f32x4.add(f32x4.mul(ink, f32x4.splat(below)), laid);
      i++;
    } while (i < end && <usize>load<u32>(index + (i << 2)) == pixel);
    const covered = f32x4.extract_lane(ink, 3);
    if (covered == 0) {
      store<u32>(out + (pixel << 2), load<u32>(bare + (pixel << 2)));
      continue;
    }
    const surface = f32x4.add(f32x4.mul(garment, f32x4.splat(max<f32>(1 - covered, 0))), ink);
    const s = shade + (pixel << 2);
    const fall = f32x4.add(f32x4.splat(light(load<u8>(s))), f32x4.mul(surface, f32x4.splat(light(load<u8>(s, 1)) / albedo)));
    const lit = f32x4.add(f32x4.mul(surface, fall), f32x4.mul(tintOf(surface, glossTint), f32x4.splat(light(load<u8>(s, 2)))));
    compose(pixel, photo, mask, shadow, out, lit);
  }
}
