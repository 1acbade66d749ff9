import { encodedOf, hexOf, LINEAR_OF_CODE, rgbOf, type Rgb } from './srgb.js';

/** Hue 0 to 360, saturation and lightness 0 to 100 (CSS Color 4, 7). */
export interface Hsl {
  readonly h: number;
  readonly s: number;
  readonly l: number;
}

export function hslOf({ r, g, b }: Rgb): Hsl {
  const [x, y, z] = [r / 255, g / 255, b / 255];
  const [least, most] = [Math.min(x, y, z), Math.max(x, y, z)];
  const [l, d] = [(least + most) / 2, most - least];
  if (d === 0) return { h: 0, s: 0, l: l * 100 };
  const h = most === x ? (y - z) / d + (y < z ? 6 : 0) : most === y ? (z - x) / d + 2 : (x - y) / d + 4;
  return { h: h * 60, s: (d / (1 - Math.abs(2 * l - 1))) * 100, l: l * 100 };
}

export function rgbOfHsl({ h, s, l }: Hsl): Rgb {
  const a = (s / 100) * Math.min(l / 100, 1 - l / 100);
  const channel = (n: number) => {
    const k = (n + h / 30) % 12;
    return Math.round((l / 100 - a * Math.max(-1, Math.min(k - 3, 9 - k, 1))) * 255);
  };
  return { r: channel(0), g: channel(8), b: channel(4) };
}

/**
 * OKLCH of a colour: lightness 0 to 1, chroma, hue in degrees (B. Ottosson, A perceptual color space for image
 * processing).
 */
export function oklchOf({ r, g, b }: Rgb): { l: number; c: number; h: number } {
  const [x, y, z] = [LINEAR_OF_CODE[r], LINEAR_OF_CODE[g], LINEAR_OF_CODE[b]];
  const [p, q, s] = [
    0.4122214708 * x + 0.5363325363 * y + 0.0514459929 * z,
    0.2119034982 * x + 0.6806995451 * y + 0.1073969566 * z,
    0.0883024619 * x + 0.2817188376 * y + 0.6299787005 * z,
  ].map(Math.cbrt);
  const [l, a, bb] = [
    0.2104542553 * p + 0.793617785 * q - 0.0040720468 * s,
    1.9779984951 * p - 2.428592205 * q + 0.4505937099 * s,
    0.0259040371 * p + 0.7827717662 * q - 0.808675766 * s,
  ];
  return { l, c: Math.hypot(a, bb), h: ((Math.atan2(bb, a) * 180) / Math.PI + 360) % 360 };
}

/** The nearest sRGB colour of the same lightness and hue: chroma gives way until it fits. */
export function rgbOfOklch(l: number, c: number, h: number): Rgb {
  for (let chroma = c; ; chroma -= 0.004) {
    const [a, b] = [chroma * Math.cos((h * Math.PI) / 180), chroma * Math.sin((h * Math.PI) / 180)];
    const [p, q, s] = [
      l + 0.3963377774 * a + 0.2158037573 * b,
      l - 0.1055613458 * a - 0.0638541728 * b,
      l - 0.0894841775 * a - 1.291485548 * b,
    ].map((value) => value ** 3);
    const linear = [
      4.0767416621 * p - 3.3077115913 * q + 0.2309699292 * s,
      -1.2684380046 * p + 2.6097574011 * q - 0.3413193965 * s,
      -0.0041960863 * p - 0.7034186147 * q + 1.707614701 * s,
    ];
    if (chroma <= 0 || linear.every((value) => value >= -1e-4 && value <= 1.0001)) {
      const [r, g, bb] = linear.map((value) => Math.round(encodedOf(Math.min(1, Math.max(0, value))) * 255));
      return { r, g, b: bb };
    }
  }
}

/** Colours that go with one, by what they have to do with it. */
export interface Harmony {
  readonly name: string;
  readonly colours: readonly string[];
}

export function harmoniesOf(hex: string): Harmony[] {
  const { l, c, h } = oklchOf(rgbOf(hex));
  const turned = (...by: number[]) => by.map((degrees) => hexOf(rgbOfOklch(l, c, (h + degrees + 360) % 360)));
  const shades = [0.25, 0.42, 0.58, 0.74, 0.9].map((light) => hexOf(rgbOfOklch(light, c, h)));
  return [
    { name: 'Opposite', colours: turned(180) },
    { name: 'Beside', colours: turned(-30, 30) },
    { name: 'Either side of opposite', colours: turned(150, 210) },
    { name: 'Thirds', colours: turned(120, 240) },
    { name: 'Shades', colours: shades },
  ];
}
