// The scene compositor's hot loops. All light is linear, 0 to 1, in f32x4 lanes r, g, b, a.
// Memory is a bump allocation made by the host; one instance holds one blank at one size.

const ENCODE_STEPS: i32 = 16383;
/** Light on cloth that is neither in a fold nor on a crest: what stays as it is when folds become stronger. */
const EVEN_LIGHT: f64 = 0.6;
const MAX_LEVELS: usize = 12;
/** Prints that one picture may show at once. */
const MAX_PRINTS: usize = 20;

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
/** The same in 16 bits, as textures keep it. */
const shortOfCode = allocate(256 * 2);
const lightOfCode = allocate(256 * 4);
/** Light that falls on the product, with its folds as strong as they are wanted. */
const fallOfCode = allocate(256 * 4);
const photoOfCode = allocate(256 * 4);
const codeOfLinear = allocate(ENCODE_STEPS + 1);
const behind = allocate(256 * 16);
/** The same, encoded. */
const behindPixel = allocate(256 * 4);
/** A level of a texture: its last column and row, and where its texels are (u32 each, one to spare). */
const LEVEL: usize = 16;
/**
 * A print: texels for a whole step across and down its area (u64, 1/2^32), whether it adds (u32), how many levels its
 * texture has (u32), 1/16 of what a pixel spans (i32) and one to spare; mm of cloth for a step of its area and where it
 * begins, both ways, and its whole size in mm or 0 (f32 each); its levels; and for each detail which level, how much of
 * the next, and how much of the knit is seen (i32, f32, f32 and one to spare).
 */
const CLOTH: usize = 32;
const LEVELS: usize = 64;
const DETAILS: usize = LEVELS + LEVEL * MAX_LEVELS;
const PRINT: usize = DETAILS + 256 * 16;
const printAt = allocate(MAX_PRINTS * PRINT);

for (let code = 0; code < 256; code++) {
  const encoded = <f64>code / 255.0;
  const linear = encoded <= 0.04045 ? encoded / 12.92 : Math.pow((encoded + 0.055) / 1.055, 2.4);
  store<f32>(linearOfCode + code * 4, <f32>linear);
  store<u16>(shortOfCode + code * 2, <u16>(linear * 65535.0 + 0.5));
}
expose(1, 1);
for (let step = 0; step <= ENCODE_STEPS; step++) {
  const linear = <f64>step / <f64>ENCODE_STEPS;
  const encoded = linear <= 0.0031308 ? linear * 12.92 : 1.055 * Math.pow(linear, 1.0 / 2.4) - 0.055;
  store<u8>(codeOfLinear + step, <u8>(encoded * 255.0 + 0.5));
}

/**
 * Sets how bright the product is shot: light on it and the photo itself are multiplied.
 * @param folds contrast of the light that falls on it: 1 as it was, 0 none
 */
export function expose(gain: f32, folds: f32): void {
  for (let code = 0; code < 256; code++) {
    const encoded = <f32>code / 255;
    const falls: f32 = <f32>2 * encoded * encoded * gain;
    store<f32>(lightOfCode + code * 4, falls);
    store<f32>(fallOfCode + code * 4, folds == 1 || code == 0 ? falls : <f32>(EVEN_LIGHT * Math.pow(<f64>falls / EVEN_LIGHT, folds)));
    store<f32>(photoOfCode + code * 4, load<f32>(linearOfCode + code * 4) * gain);
  }
}

@inline function photographed(code: u32): f32 { return load<f32>(photoOfCode + (code << 2)); }
@inline function linear(code: u32): f32 { return load<f32>(linearOfCode + (code << 2)); }
@inline function short(code: u32): u16 { return load<u16>(shortOfCode + (code << 1)); }
@inline function light(code: u32): f32 { return load<f32>(lightOfCode + (code << 2)); }
@inline function falling(code: u32): f32 { return load<f32>(fallOfCode + (code << 2)); }
@inline function lanes(r: f32, g: f32, b: f32): v128 {
  return f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(0), 0, r), 1, g), 2, b);
}

/** Added to a number of steps it leaves the nearest whole one in the low bits of the float: 2^23. */
const WHOLE: f32 = 8388608;

/** Encodes linear light as an opaque 8-bit sRGB pixel. */
@inline function storePixel(at: usize, value: v128): void {
  const held = f32x4.pmin(f32x4.splat(<f32>ENCODE_STEPS), f32x4.pmax(f32x4.splat(0), f32x4.mul(value, f32x4.splat(<f32>ENCODE_STEPS))));
  const steps = v128.and(f32x4.add(held, f32x4.splat(WHOLE)), i32x4.splat(0x3fff));
  const r = <u32>load<u8>(codeOfLinear + i32x4.extract_lane(steps, 0));
  const g = <u32>load<u8>(codeOfLinear + i32x4.extract_lane(steps, 1));
  const b = <u32>load<u8>(codeOfLinear + i32x4.extract_lane(steps, 2));
  store<u32>(at, r | (g << 8) | (b << 16) | 0xff000000);
}

/** Light above this keeps rising ever more slowly towards 1, as film does: nothing that is lit goes flat. */
const SHOULDER: f32 = 0.8;

@inline function rolledOff(lit: v128): v128 {
  const over = f32x4.pmax(f32x4.splat(0), f32x4.sub(lit, f32x4.splat(SHOULDER)));
  if (!v128.any_true(over)) return lit;
  const room = f32x4.splat(1 - SHOULDER);
  return f32x4.add(f32x4.pmin(f32x4.splat(SHOULDER), lit), f32x4.div(f32x4.mul(over, room), f32x4.add(over, room)));
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
  const alpha = <i32>load<u8>(shot, 3);
  const covered = <i32>load<u8>(mask + pixel);
  let body = rolledOff(lit);
  if (covered < alpha) {
    const own = lanes(photographed(load<u8>(shot)), photographed(load<u8>(shot, 1)), photographed(load<u8>(shot, 2)));
    body = f32x4.add(own, f32x4.mul(f32x4.sub(body, own), f32x4.splat(<f32>covered / <f32>alpha)));
  }
  if (alpha < 255) {
    const back = behindOf(pixel, shadow);
    body = f32x4.add(back, f32x4.mul(f32x4.sub(body, back), f32x4.splat(<f32>alpha / 255)));
  }
  storePixel(out + (pixel << 2), body);
}

/** The share of gloss that takes the surface's hue. */
@inline function tintOf(surface: v128, glossTint: f32): v128 {
  // The largest of r, g and b in every lane that matters.
  const turned = v128.shuffle<f32>(surface, surface, 1, 2, 0, 3);
  const most = f32x4.pmax(f32x4.pmax(f32x4.splat(1e-5), surface), f32x4.pmax(turned, v128.shuffle<f32>(surface, surface, 2, 0, 1, 3)));
  return f32x4.add(f32x4.splat(1 - glossTint), f32x4.div(f32x4.mul(surface, f32x4.splat(glossTint)), most));
}

/** Draws the unprinted product in a colour on a backdrop. Colours are linear light. */
export function renderProduct(
  pixels: i32, photo: usize, mask: usize, shade: usize, shadow: usize, out: usize,
  r: f32, g: f32, b: f32, backR: f32, backG: f32, backB: f32, albedo: f32, glossTint: f32, strength: f32,
): void {
  const back = lanes(backR, backG, backB);
  shadowOnIt = strength;
  for (let code = 0; code < 256; code++) {
    const shaded = f32x4.mul(back, f32x4.splat(1 - strength * <f32>code / 255));
    v128.store(behind + (code << 4), shaded);
    storePixel(behindPixel + (code << 2), shaded);
  }
  const garment = lanes(r, g, b);
  const bounce = f32x4.div(f32x4.mul(garment, garment), f32x4.splat(albedo));
  const tint = tintOf(garment, glossTint);
  for (let pixel: usize = 0; pixel < <usize>pixels; pixel++) {
    if (load<u8>(photo + (pixel << 2), 3) == 0) {
      if (backdropAt == 0) store<u32>(out + (pixel << 2), load<u32>(behindPixel + (<usize>load<u8>(shadow + pixel) << 2)));
      else storePixel(out + (pixel << 2), behindOf(pixel, shadow));
      continue;
    }
    compose(pixel, photo, mask, shadow, out, bareLight(shade + (pixel << 2), garment, bounce, tint));
  }
}

/** Light from the bare product: what falls on it, its own bounce, its gloss. */
@inline function bareLight(s: usize, garment: v128, bounce: v128, tint: v128): v128 {
  const lit = f32x4.add(f32x4.mul(garment, f32x4.splat(falling(load<u8>(s)))), f32x4.mul(bounce, f32x4.splat(light(load<u8>(s, 1)))));
  return f32x4.add(lit, f32x4.mul(tint, f32x4.splat(light(load<u8>(s, 2)))));
}

/** Stitches of a jersey: a tile of one stitch, its height from -1 to 1, in the mean 0. */
const TILE: i32 = 64;
const stitch = allocate(TILE * TILE * 4);
for (let y = 0; y < TILE; y++) {
  for (let x = 0; x < TILE; x++) {
    // Two legs run down to the middle of the column, grooves lie between them and between columns.
    const aside = Math.abs((<f64>x + 0.5) / <f64>TILE - 0.5);
    const down = (<f64>y + 0.5) / <f64>TILE + 0.8 * aside;
    store<f32>(stitch + (y * TILE + x) * 4, <f32>(0.6 * Math.cos(2 * Math.PI * down) - 0.4 * Math.cos(4 * Math.PI * aside)));
  }
}

/** How far the height of a stitch changes the light; 0 for cloth without one. */
let knit: f32 = 0;
/** A stitch across and down, per mm. */
let stitchesAcross: f32 = 0;
let stitchesDown: f32 = 0;
/** The knit is not known beyond a print area: within this many mm of its rim it fades. */
const RIM: f32 = 15;

/**
 * Sets the knit of the cloth.
 * @param strength 0 for none; how far the light changes, as a share
 * @param across stitches per mm, as down
 */
export function knitted(strength: f32, across: f32, down: f32): void {
  knit = strength;
  stitchesAcross = across;
  stitchesDown = down;
}

/** How much lighter or darker a thread makes the cloth at a place of the present print's area, as a share. */
@inline function threadAt(u: u32, v: u32, detail: u32): f32 {
  const seen = load<f32>(ownDetails + (<usize>detail << 4), 8);
  if (seen == 0) return 0;
  const x = <f32><i32>u * load<f32>(ownCloth) + load<f32>(ownCloth, 4);
  const y = <f32><i32>v * load<f32>(ownCloth, 8) + load<f32>(ownCloth, 12);
  const column = <i32>(x * stitchesAcross * <f32>TILE) & (TILE - 1);
  const line = <i32>(y * stitchesDown * <f32>TILE) & (TILE - 1);
  const height = load<f32>(stitch + ((line * TILE + column) << 2)) * seen * knit;
  const width = load<f32>(ownCloth, 16);
  if (width == 0) return height;
  const rim = min(min(x, width - x), min(y, load<f32>(ownCloth, 20) - y));
  return rim >= RIM ? height : height * max<f32>(rim, 0) / RIM;
}

/** Lays the knit on the bare product wherever it is known. Arguments as in renderPrints. */
export function knitProduct(
  count: i32, index: usize, u: usize, v: usize, detail: usize, print: usize,
  photo: usize, mask: usize, shade: usize, shadow: usize, out: usize,
  r: f32, g: f32, b: f32, albedo: f32, glossTint: f32,
): void {
  const garment = lanes(r, g, b);
  const bounce = f32x4.div(f32x4.mul(garment, garment), f32x4.splat(albedo));
  const tint = tintOf(garment, glossTint);
  own = -1;
  let before = -1;
  for (let i: usize = 0; i < <usize>count; i++) {
    const pixel = load<u32>(index + (i << 2));
    if (<i32>pixel == before) continue;
    before = <i32>pixel;
    const number = <i32>load<u8>(print + i);
    if (number != own) turnTo(number);
    const thread = threadAt(load<u16>(u + (i << 1)), load<u16>(v + (i << 1)), load<u8>(detail + i));
    if (thread == 0) continue;
    const lit = bareLight(shade + (<usize>pixel << 2), garment, bounce, tint);
    compose(pixel, photo, mask, shadow, out, f32x4.mul(lit, f32x4.splat(1 + thread)));
  }
}

/** How ink lies on the cloth; see the host's InkOnCloth. */
let sheen: f32 = 1;
let film: f32 = 0;
let dye: f32 = 0;
let relief: f32 = 1;
let seep: f32 = 0;
let edge: f32 = 0;
/** Half the width of an edge that stands out, mm: about the thickness of a film and of what it bends. */
const EDGE_MM: f32 = 0.2;

/** Sets how ink lies on the cloth. */
export function inkAs(ownSheen: f32, ownFilm: f32, ownDye: f32, ownRelief: f32, ownSeep: f32, ownEdge: f32): void {
  edge = ownEdge;
  sheen = ownSheen;
  film = ownFilm;
  dye = ownDye;
  relief = ownRelief;
  seep = ownSeep;
}

/**
 * Turns 8-bit straight sRGB into 16-bit premultiplied linear light with mip levels down to a few pixels.
 * `room` must hold 8 bytes × (4/3) of the pixels.
 * @param print number of the print that it is for, below 20
 */
export function buildTexture(print: i32, source: usize, width: i32, height: i32, room: usize): void {
  const pixels = <usize>(width * height);
  for (let i: usize = 0; i < pixels; i++) {
    const code = load<u32>(source + (i << 2));
    const t = room + (i << 3);
    const opacity = code >>> 24;
    if (opacity == 0) { store<u64>(t, 0); continue; }
    const r = code & 255;
    const g = (code >>> 8) & 255;
    const b = (code >>> 16) & 255;
    if (opacity == 255) {
      store<u64>(t, <u64>short(r) | (<u64>short(g) << 16) | (<u64>short(b) << 32) | 0xffff000000000000);
      continue;
    }
    const alpha = <f32>(opacity * 257);
    store<u16>(t, <u16>(linear(r) * alpha + 0.5));
    store<u16>(t, <u16>(linear(g) * alpha + 0.5), 2);
    store<u16>(t, <u16>(linear(b) * alpha + 0.5), 4);
    store<u16>(t, <u16>alpha, 6);
  }
  const own = printAt + <usize>print * PRINT;
  let at = room;
  let w = width;
  let h = height;
  let levels: usize = 0;
  while (true) {
    const level = own + LEVELS + levels * LEVEL;
    store<i32>(level, w - 1);
    store<i32>(level, h - 1, 4);
    store<u32>(level, <u32>at, 8);
    levels++;
    if (levels == MAX_LEVELS || w < 4 || h < 4) break;
    const next = at + (<usize>(w * h) << 3);
    halve(at, w, h, next);
    at = next;
    w >>= 1;
    h >>= 1;
  }
  store<u64>(own, (<u64>width << 32) / 65535);
  store<u64>(own, (<u64>height << 32) / 65535, 8);
  store<u32>(own, <u32>levels, 20);
}

/**
 * @param coarser levels by which a print's texture is coarser than its area's maps are made for; below 0 it is finer
 * @param adds 1 for a panel, whose ink lies beside that of other panels where a seam runs through a pixel; 0 for a
 * print that lies on what is printed before it
 * @param span texels of what a pixel sees where the print is seen best
 */
export function layPrint(print: i32, coarser: f32, adds: f32, span: f32): void {
  const own = printAt + <usize>print * PRINT;
  store<i32>(own, <i32>(span * 4096), 24);
  store<u32>(own, adds != 0 ? 1 : 0, 16);
  const last = load<i32>(own, 20) - 1;
  for (let detail = 0; detail < 256; detail++) {
    const blur = max<f32>(<f32>detail / 32 - coarser, 0);
    let level = min(<i32>blur, last);
    // Two levels are mixed only halfway between them; nearer to one, it alone is as good and half the work.
    let between = (blur - <f32>level - 0.375) * 4;
    if (between >= 1 && level < last) level++;
    if (between >= 1 || between < 0 || level == last) between = 0;
    const how = own + DETAILS + (<usize>detail << 4);
    store<i32>(how, level);
    store<f32>(how, between, 4);
    store<f32>(how, 0, 8);
  }
}

/**
 * Where a print's area lies on its cloth, in mm, for the knit.
 * @param across mm for a step of its maps' 65535, as down
 * @param left where its maps begin on the area, as top
 * @param width of the whole area, beyond which its cloth is not known, as height; 0 for a panel, which is all of its cloth
 * @param pixels of the picture for a mm where the print is seen best
 */
export function layCloth(print: i32, across: f32, left: f32, down: f32, top: f32, width: f32, height: f32, pixels: f32): void {
  const own = printAt + <usize>print * PRINT;
  store<f32>(own + CLOTH, across);
  store<f32>(own + CLOTH, left, 4);
  store<f32>(own + CLOTH, down, 8);
  store<f32>(own + CLOTH, top, 12);
  store<f32>(own + CLOTH, width, 16);
  store<f32>(own + CLOTH, height, 20);
  const most = max(stitchesAcross, stitchesDown);
  for (let detail = 0; detail < 256; detail++) {
    // A stitch is seen from two and a half pixels on, and wholly from five on; finer, it would only glitter.
    const size = most == 0 ? <f32>0 : pixels / most / <f32>Math.pow(2, <f64>detail / 32);
    const seen = min(max((size - 2.5) / 2.5, <f32>0), <f32>1);
    store<f32>(own + DETAILS + (<usize>detail << 4), seen, 8);
  }
}

@inline function texel(at: usize): v128 { return f32x4.convert_i32x4_s(v128.load_ext<u16>(at)); }

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

/**
 * Bilinear sample of one level; x and y in 1/65536 texels of that level, at least 0, edges repeat. Channels run to 65535.
 */
@inline function sample(level: usize, x: u32, y: u32): v128 {
  const last = load<u64>(level);
  const lastX = <u32>last;
  const lastY = <u32>(last >>> 32);
  const cx = x > 0x8000 ? x - 0x8000 : 0;
  const cy = y > 0x8000 ? y - 0x8000 : 0;
  const x0 = min(cx >>> 16, lastX);
  const y0 = min(cy >>> 16, lastY);
  const row = <usize>(lastX + 1) << 3;
  const at = <usize>load<u32>(level, 8) + <usize>y0 * row + (<usize>x0 << 3);
  const right: usize = x0 < lastX ? 8 : 0;
  const below = at + (y0 < lastY ? row : 0);
  const one = load<u64>(at);
  const two = load<u64>(at + right);
  const three = load<u64>(below);
  const four = load<u64>(below + right);
  if ((one | two | three | four) == 0) return f32x4.splat(0);
  if (one == two && two == three && three == four) return texel(at);
  const fx = f32x4.splat(<f32><i32>(cx & 0xffff) * <f32>(1.0 / 65536.0));
  const fy = f32x4.splat(<f32><i32>(cy & 0xffff) * <f32>(1.0 / 65536.0));
  const a = texel(at);
  const c = texel(below);
  const upper = f32x4.add(a, f32x4.mul(f32x4.sub(texel(at + right), a), fx));
  const lower = f32x4.add(c, f32x4.mul(f32x4.sub(texel(below + right), c), fx));
  return f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy));
}

/** The print that is sampled: looked up when another one begins, as most pixels have the same one as the pixel before. */
let own: i32 = -1;
let ownLevels: usize = 0;
let ownDetails: usize = 0;
let ownCloth: usize = 0;
let ownScaleX: u64 = 0;
let ownScaleY: u64 = 0;
let ownAdds: bool = false;
/** 1/16 of what a pixel spans where the print is seen best, in 1/65536 texels. */
let ownSpan: i32 = 0;

function turnTo(print: i32): void {
  own = print;
  const at = printAt + <usize>print * PRINT;
  ownLevels = at + LEVELS;
  ownDetails = at + DETAILS;
  ownCloth = at + CLOTH;
  ownScaleX = load<u64>(at);
  ownScaleY = load<u64>(at, 8);
  ownAdds = load<u32>(at, 16) != 0;
  ownSpan = load<i32>(at, 24);
}

/**
 * Ink of the present print, filtered as finely as it is seen there. Channels run to 65535.
 * @param x in 1/65536 texels of the finest level, as y
 */
@inline function inkOf(x: u32, y: u32, detail: u32): v128 {
  const how = ownDetails + (<usize>detail << 4);
  const level = load<i32>(how);
  const between = load<f32>(how, 4);
  const at = ownLevels + <usize>level * LEVEL;
  const ink = sample(at, x >>> level, y >>> level);
  if (between == 0) return ink;
  const coarse = sample(at + LEVEL, x >>> (level + 1), y >>> (level + 1));
  return f32x4.add(ink, f32x4.mul(f32x4.sub(coarse, ink), f32x4.splat(between)));
}

/**
 * Ink of a pixel that sees much more of the print one way than the other.
 * @param dx the longer way in 1/16 of what a pixel spans where the print is seen best, as dy; odd for four samples
 */
function inkAlong(x: i32, y: i32, detail: u32, dx: i32, dy: i32): v128 {
  const isSteep = dx & 1;
  const stepX = (dx * ownSpan) >> (1 + isSteep);
  const stepY = (dy * ownSpan) >> (1 + isSteep);
  const taps = 2 + 2 * isSteep;
  let atX = x - ((stepX * (taps - 1)) >> 1);
  let atY = y - ((stepY * (taps - 1)) >> 1);
  let sum = f32x4.splat(0);
  for (let tap = 0; tap < taps; tap++) {
    sum = f32x4.add(sum, inkOf(<u32>max(atX, 0), <u32>max(atY, 0), detail));
    atX += stepX;
    atY += stepY;
  }
  return f32x4.mul(sum, f32x4.splat(isSteep ? 0.25 : 0.5));
}

/**
 * How far ink at a place of the present print rises towards the light, which comes from the upper left as in the packs: 1 at an
 * edge that faces it, -1 at one that turns away, 0 where it is even.
 */
function riseAt(x: u32, y: u32, detail: u32): f32 {
  const dx = <i32>(EDGE_MM / load<f32>(ownCloth) * <f32>(<i64>ownScaleX) * <f32>(1.0 / 65536.0));
  const dy = <i32>(EDGE_MM / load<f32>(ownCloth, 8) * <f32>(<i64>ownScaleY) * <f32>(1.0 / 65536.0));
  const below = inkOf(<u32>max(<i32>x + dx, 0), <u32>max(<i32>y + dy, 0), detail);
  const above = inkOf(<u32>max(<i32>x - dx, 0), <u32>max(<i32>y - dy, 0), detail);
  return (f32x4.extract_lane(below, 3) - f32x4.extract_lane(above, 3)) * <f32>(1.0 / 65535.0);
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
  count: i32, index: usize, u: usize, v: usize, coverage: usize, detail: usize, along: usize, print: usize,
  photo: usize, mask: usize, shade: usize, shadow: usize, bare: usize, out: usize,
  inkOpacity: f32, r: f32, g: f32, b: f32, albedo: f32, glossTint: f32,
): void {
  const garment = lanes(r, g, b);
  const opacity = inkOpacity * <f32>(1.0 / 255.0 / 65535.0);
  // A texture may have come since the last time.
  own = -1;
  const isPlain = knit == 0 && sheen == 1 && film == 0 && dye == 0 && edge == 0;
  const end = <usize>count;
  let i: usize = 0;
  while (i < end) {
    const pixel = <usize>load<u32>(index + (i << 2));
    let ink = f32x4.splat(0);
    let alone = true;
    const first = i;
    let thread: f32 = 0;
    let rise: f32 = 0;
    do {
      const number = <i32>load<u8>(print + i);
      if (number != own) turnTo(number);
      if (knit != 0 && i == first) thread = threadAt(load<u16>(u + (i << 1)), load<u16>(v + (i << 1)), load<u8>(detail + i));
      const x = <u32>((<u64>load<u16>(u + (i << 1)) * ownScaleX) >>> 16);
      const y = <u32>((<u64>load<u16>(v + (i << 1)) * ownScaleY) >>> 16);
      const slant = load<u16>(along + (i << 1));
      const one = slant == 0 ? inkOf(x, y, load<u8>(detail + i)) : inkAlong(<i32>x, <i32>y, load<u8>(detail + i), <i32><i8>slant, <i32><i8>(slant >>> 8));
      if (edge != 0) rise = riseAt(x, y, load<u8>(detail + i));
      const laid = f32x4.mul(one, f32x4.splat(<f32><i32>load<u8>(coverage + i) * opacity));
      i++;
      const shared = i < end && <usize>load<u32>(index + (i << 2)) == pixel;
      if (alone && !shared) { ink = laid; break; }
      alone = false;
      const below = ownAdds ? <f32>1 : 1 - f32x4.extract_lane(laid, 3);
      ink = f32x4.add(f32x4.mul(ink, f32x4.splat(below)), laid);
      if (!shared) break;
    } while (true);
    let covered = f32x4.extract_lane(ink, 3);
    if (covered == 0) {
      store<u32>(out + (pixel << 2), load<u32>(bare + (pixel << 2)));
      continue;
    }
    if (isPlain) {
      const surface = f32x4.add(f32x4.mul(garment, f32x4.splat(max<f32>(1 - covered, 0))), ink);
      const s = shade + (pixel << 2);
      const fall = f32x4.add(f32x4.splat(falling(load<u8>(s))), f32x4.mul(surface, f32x4.splat(light(load<u8>(s, 1)) / albedo)));
      let lit = f32x4.mul(surface, fall);
      const gloss = load<u8>(s, 2);
      if (gloss != 0) lit = f32x4.add(lit, f32x4.mul(tintOf(surface, glossTint), f32x4.splat(light(gloss))));
      compose(pixel, photo, mask, shadow, out, lit);
      continue;
    }
    // Ink that is thin runs down between the threads and leaves their tops bare, or lies on the tops alone.
    if (thread < 0 && seep > 0) {
      const left: f32 = <f32>1 + thread * seep;
      ink = f32x4.mul(ink, f32x4.splat(left));
      covered *= left;
    }
    const dyed = f32x4.add(f32x4.splat(1 - dye), f32x4.mul(garment, f32x4.splat(dye)));
    const surface = f32x4.add(f32x4.mul(garment, f32x4.splat(max<f32>(1 - covered, 0))), f32x4.mul(ink, dyed));
    const s = shade + (pixel << 2);
    const fall = f32x4.add(f32x4.splat(falling(load<u8>(s))), f32x4.mul(surface, f32x4.splat(light(load<u8>(s, 1)) / albedo)));
    const tint = tintOf(surface, glossTint * (1 - film * covered));
    const gloss = light(load<u8>(s, 2)) * (1 + covered * (sheen - 1));
    const lit = f32x4.add(f32x4.mul(surface, fall), f32x4.mul(tint, f32x4.splat(gloss)));
    compose(pixel, photo, mask, shadow, out, f32x4.mul(lit, f32x4.splat((1 + thread * (1 - covered * (1 - relief))) * (1 + edge * rise))));
  }
}

/** Grain of a camera: the same at the same place of a picture, four lanes of 1/8 level for each of its steps. */
const GRAINS: i32 = 4096;
const grainAt = allocate((GRAINS + 1) * 8);
let grainIs: f32 = -1;

function grow(grain: f32): void {
  if (grain == grainIs) return;
  grainIs = grain;
  let seed: u32 = 20251;
  for (let i = 0; i < GRAINS; i++) {
    // The sum of four even ones is close to normal; their deviation is 1/sqrt(3) of what one reaches.
    let sum: f32 = 0;
    for (let k = 0; k < 4; k++) {
      seed = seed * 1664525 + 1013904223;
      sum += <f32>(seed >>> 8) * <f32>(1.0 / 16777216.0) - 0.5;
    }
    // A strength of 1 has a deviation of four levels.
    const value = <u64><u16><i16>(sum * grain * <f32>(8.0 * 4.0 * 1.7320508));
    store<u64>(grainAt + (<usize>i << 3), value | (value << 16) | (value << 32));
  }
  // Two are read at once: after the last comes the first.
  store<u64>(grainAt + (<usize>GRAINS << 3), load<u64>(grainAt));
}

@inline function both(one: usize, two: usize): v128 { return i16x8.add(v128.load_ext<u8>(one), v128.load_ext<u8>(two)); }

/** Two pixels of the finished picture: those above, beside and below are given by their first byte. */
@inline function twoFinished(
  above: usize, at: usize, below: usize, centre: v128, side: v128, corner: v128, grain: v128,
): u64 {
  const straight = i16x8.add(both(at - 4, at + 4), both(above, below));
  const slanted = i16x8.add(both(above - 4, above + 4), both(below - 4, below + 4));
  const own = v128.load_ext<u8>(at);
  const soft = i16x8.add(i16x8.mul(own, centre), i16x8.add(i16x8.mul(straight, side), i16x8.mul(slanted, corner)));
  // What is blown out to white stays white: a white backdrop is asked for by many a market.
  const room = i16x8.min_s(i16x8.sub(i16x8.splat(255), own), i16x8.splat(32));
  const halved = i16x8.add(i16x8.shr_u(soft, 1), i16x8.shr_s(i16x8.mul(grain, room), 1));
  const whole = i16x8.shr_s(i16x8.add(halved, i16x8.splat(64)), 7);
  return i64x2.extract_lane(i8x16.narrow_i16x8_u(whole, whole), 0) | 0xff000000ff000000;
}

/**
 * What a lens and a sensor leave on a picture: a trace of softness, and grain that has no colour.
 * @param from an opaque picture, RGBA; it is read one row beyond what is finished
 * @param left first column and row that are finished, and the ones after the last
 * @param softness 0 to 1: at 1 a pixel takes a ninth from each of its neighbours across and down
 * @param grain 0 to 1: at 1 it deviates by four levels
 */
export function finish(
  from: usize, to: usize, width: i32, height: i32, left: i32, top: i32, right: i32, bottom: i32, softness: f32, grain: f32,
): void {
  grow(grain);
  const aside = <i32>(softness * 28 + 0.5);
  const middle = 256 - 2 * aside;
  const slanted = (aside * aside) >> 8;
  const straight = (aside * middle) >> 8;
  const centre = i16x8.splat(<i16>(256 - 4 * slanted - 4 * straight));
  const side = i16x8.splat(<i16>straight);
  const corner = i16x8.splat(<i16>slanted);
  const row = <usize>width << 2;
  for (let y = top; y < bottom; y++) {
    const at = from + <usize>y * row;
    const above = y > 0 ? at - row : at;
    const below = y + 1 < height ? at + row : at;
    const out = to + <usize>y * row;
    // Rows begin at places of the grain that have nothing to do with each other.
    const start = <u32>(y * 2654435 + ((y * y) >>> 3) * 7919);
    // What a lens takes from beyond the frame is not known: its first and last column stay as they are.
    if (left == 0) store<u32>(out, load<u32>(at));
    if (right == width) store<u32>(out + row - 4, load<u32>(at + row - 4));
    const end = min(right, width - 1);
    let x = max(left, 1);
    for (; x < end; x += 2) {
      // The last of an odd row is finished with the one before it.
      if (x + 2 > end && x > 1) x = end - 2 > 0 ? end - 2 : 1;
      const off = <usize>x << 2;
      const noise = v128.load(grainAt + (<usize>((start + <u32>x) & (GRAINS - 1)) << 3));
      store<u64>(out + off, twoFinished(above + off, at + off, below + off, centre, side, corner, noise));
    }
  }
}
