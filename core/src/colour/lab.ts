import { LINEAR_OF_CODE, type Rgb } from './srgb.js';

/** CIELAB with D65 white. L 0 to 100. */
export interface Lab {
  readonly L: number;
  readonly a: number;
  readonly b: number;
}

const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);

/** CIELAB of an 8-bit sRGB colour (CIE 15:2018 with the sRGB primaries of IEC 61966-2-1). */
export function labOf({ r, g, b }: Rgb): Lab {
  const [R, G, B] = [LINEAR_OF_CODE[r], LINEAR_OF_CODE[g], LINEAR_OF_CODE[b]];
  const x = f((0.4124564 * R + 0.3575761 * G + 0.1804375 * B) / 0.95047);
  const y = f(0.2126729 * R + 0.7151522 * G + 0.072175 * B);
  const z = f((0.0193339 * R + 0.119192 * G + 0.9503041 * B) / 1.08883);
  return { L: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}

const degrees = (radians: number) => (radians * 180) / Math.PI;
const radians = (angle: number) => (angle * Math.PI) / 180;
const hue = (b: number, a: number): number => (a === 0 && b === 0 ? 0 : (degrees(Math.atan2(b, a)) + 360) % 360);

/**
 * Colour difference CIEDE2000 with kL = kC = kH = 1. About 1 is just noticeable side by side.
 * Source: Sharma, Wu, Dalal, "The CIEDE2000 color-difference formula", Color Research and Application 30 (2005).
 */
export function deltaE2000(one: Lab, two: Lab): number {
  const meanC = (Math.hypot(one.a, one.b) + Math.hypot(two.a, two.b)) / 2;
  const g = 0.5 * (1 - Math.sqrt(meanC ** 7 / (meanC ** 7 + 25 ** 7)));
  const [a1, a2] = [one.a * (1 + g), two.a * (1 + g)];
  const [c1, c2] = [Math.hypot(a1, one.b), Math.hypot(a2, two.b)];
  const [h1, h2] = [hue(one.b, a1), hue(two.b, a2)];
  const dL = two.L - one.L;
  const dC = c2 - c1;
  let dh = h2 - h1;
  if (c1 * c2 === 0) dh = 0;
  else if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin(radians(dh / 2));
  const L = (one.L + two.L) / 2;
  const C = (c1 + c2) / 2;
  let H = h1 + h2;
  if (c1 * c2 !== 0) {
    if (Math.abs(h1 - h2) <= 180) H /= 2;
    else H = H < 360 ? (H + 360) / 2 : (H - 360) / 2;
  }
  const t =
    1 -
    0.17 * Math.cos(radians(H - 30)) +
    0.24 * Math.cos(radians(2 * H)) +
    0.32 * Math.cos(radians(3 * H + 6)) -
    0.2 * Math.cos(radians(4 * H - 63));
  const sL = 1 + (0.015 * (L - 50) ** 2) / Math.sqrt(20 + (L - 50) ** 2);
  const sC = 1 + 0.045 * C;
  const sH = 1 + 0.015 * C * t;
  const turn = -2 * Math.sqrt(C ** 7 / (C ** 7 + 25 ** 7)) * Math.sin(radians(60 * Math.exp(-(((H - 275) / 25) ** 2))));
  return Math.sqrt((dL / sL) ** 2 + (dC / sC) ** 2 + (dH / sH) ** 2 + turn * (dC / sC) * (dH / sH));
}
