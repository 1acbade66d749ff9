import type { Pixels } from '../geometry/pixels.js';

/** Blend modes of W3C Compositing and Blending Level 1, by their CSS names. */
export const BLEND_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const;

export type BlendMode = (typeof BLEND_MODES)[number];

/** B(cb, cs) of one channel, 0 to 1 (10.1). */
type Channel = (backdrop: number, source: number) => number;

const hardLight: Channel = (cb, cs) => (cs <= 0.5 ? cb * 2 * cs : cb + (2 * cs - 1) - cb * (2 * cs - 1));

const CHANNELS: Partial<Record<BlendMode, Channel>> = {
  multiply: (cb, cs) => cb * cs,
  screen: (cb, cs) => cb + cs - cb * cs,
  overlay: (cb, cs) => hardLight(cs, cb),
  darken: Math.min,
  lighten: Math.max,
  'color-dodge': (cb, cs) => (cb === 0 ? 0 : cs >= 1 ? 1 : Math.min(1, cb / (1 - cs))),
  'color-burn': (cb, cs) => (cb >= 1 ? 1 : cs <= 0 ? 0 : 1 - Math.min(1, (1 - cb) / cs)),
  'hard-light': hardLight,
  'soft-light': (cb, cs) => {
    if (cs <= 0.5) return cb - (1 - 2 * cs) * cb * (1 - cb);
    const d = cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.sqrt(cb);
    return cb + (2 * cs - 1) * (d - cb);
  },
  difference: (cb, cs) => Math.abs(cb - cs),
  exclusion: (cb, cs) => cb + cs - 2 * cb * cs,
};

type Triple = [number, number, number];

const lum = (c: Triple): number => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
const sat = (c: Triple): number => Math.max(...c) - Math.min(...c);

/** Brings a colour of a given luminosity back into range (10.2, ClipColor). */
function withLum(colour: Triple, luminosity: number): Triple {
  const shift = luminosity - lum(colour);
  const c: Triple = [colour[0] + shift, colour[1] + shift, colour[2] + shift];
  const [least, most] = [Math.min(...c), Math.max(...c)];
  if (least < 0)
    for (let i = 0; i < 3; i++) c[i] = luminosity + ((c[i] - luminosity) * luminosity) / (luminosity - least);
  if (most > 1)
    for (let i = 0; i < 3; i++) c[i] = luminosity + ((c[i] - luminosity) * (1 - luminosity)) / (most - luminosity);
  return c;
}

/** The colour stretched to a saturation (10.2, SetSat). */
function withSat(c: Triple, saturation: number): Triple {
  const [least, most] = [Math.min(...c), Math.max(...c)];
  return most > least ? (c.map((value) => ((value - least) * saturation) / (most - least)) as Triple) : [0, 0, 0];
}

const COLOURS: Partial<Record<BlendMode, (backdrop: Triple, source: Triple) => Triple>> = {
  hue: (cb, cs) => withLum(withSat(cs, sat(cb)), lum(cb)),
  saturation: (cb, cs) => withLum(withSat(cb, sat(cs)), lum(cb)),
  color: (cb, cs) => withLum(cs, lum(cb)),
  luminosity: (cb, cs) => withLum(cb, lum(cs)),
};

/** A separable mode's results for all pairs of 8-bit codes, 0 to 1. Built once. */
const tables = new Map<BlendMode, Float32Array>();

function tableOf(mode: BlendMode): Float32Array | null {
  const channel = CHANNELS[mode];
  if (!channel) return null;
  let table = tables.get(mode);
  if (!table) {
    table = new Float32Array(65536);
    for (let cb = 0; cb < 256; cb++)
      for (let cs = 0; cs < 256; cs++) table[cb * 256 + cs] = Math.min(1, Math.max(0, channel(cb / 255, cs / 255)));
    tables.set(mode, table);
  }
  return table;
}

/**
 * Draws `source` over `target` with a blend mode, its top left corner at (left, top), clipped to the target, in
 * place. Both 8-bit RGBA, straight alpha.
 * cs' = (1 − αb)·cs + αb·B(cb, cs), then source-over (W3C Compositing and Blending Level 1, 10).
 * @param opacity 0 to 1, multiplies the source's alpha
 */
export function blendOver(
  target: Pixels,
  source: Pixels,
  left: number,
  top: number,
  opacity: number,
  mode: BlendMode,
): void {
  const x0 = Math.max(0, left);
  const x1 = Math.min(target.width, left + source.width);
  const y0 = Math.max(0, top);
  const y1 = Math.min(target.height, top + source.height);
  const [out, src] = [target.data, source.data];
  const table = tableOf(mode);
  const whole = COLOURS[mode];
  const mixed: Triple = [0, 0, 0];
  for (let y = y0; y < y1; y++) {
    let o = (y * target.width + x0) * 4;
    let s = ((y - top) * source.width + (x0 - left)) * 4;
    for (let x = x0; x < x1; x++, o += 4, s += 4) {
      const as = (src[s + 3] / 255) * opacity;
      if (as === 0) continue;
      const ab = out[o + 3] / 255;
      const ao = as + ab * (1 - as);
      if (whole) {
        const blended = whole(
          [out[o] / 255, out[o + 1] / 255, out[o + 2] / 255],
          [src[s] / 255, src[s + 1] / 255, src[s + 2] / 255],
        );
        mixed[0] = blended[0];
        mixed[1] = blended[1];
        mixed[2] = blended[2];
      }
      for (let i = 0; i < 3; i++) {
        const blended = whole ? mixed[i] : table ? table[out[o + i] * 256 + src[s + i]] : src[s + i] / 255;
        const cs = (1 - ab) * (src[s + i] / 255) + ab * blended;
        out[o + i] = ((as * cs + (1 - as) * ab * (out[o + i] / 255)) / ao) * 255 + 0.5;
      }
      out[o + 3] = ao * 255 + 0.5;
    }
  }
}

/** Takes the alpha of `source` out of a part of `target`, in place (destination-out, 9.1.9). */
export function takeOut(target: Pixels, source: Pixels): void {
  const [out, src] = [target.data, source.data];
  for (let i = 3; i < out.length; i += 4) {
    if (src[i] === 0) continue;
    out[i] = (out[i] * (255 - src[i])) / 255 + 0.5;
    if (out[i] === 0) out[i - 1] = out[i - 2] = out[i - 3] = 0;
  }
}
