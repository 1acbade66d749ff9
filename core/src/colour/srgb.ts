/** 8-bit sRGB, each 0 to 255. */
export interface Rgb {
  readonly r: number;
  readonly g: number;
  readonly b: number;
}

/** Linear light of an sRGB value, both 0 to 1 (IEC 61966-2-1). */
export function linearOf(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}

/** The inverse of {@link linearOf}. */
export function encodedOf(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

/** Linear light of each 8-bit sRGB code, 0 to 1. */
export const LINEAR_OF_CODE = Float32Array.from({ length: 256 }, (_, code) => linearOf(code / 255));

const HEX = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i;

export const isHex = (text: string): boolean => HEX.test(text);

/** Parses `#rrggbb`. Throws a RangeError for anything else. */
export function rgbOf(hex: string): Rgb {
  const match = HEX.exec(hex);
  if (!match) throw new RangeError(`“${hex}” is not a colour of the form #rrggbb.`);
  return { r: parseInt(match[1], 16), g: parseInt(match[2], 16), b: parseInt(match[3], 16) };
}

export function hexOf({ r, g, b }: Rgb): string {
  return `#${[r, g, b]
    .map((value) =>
      Math.round(Math.min(255, Math.max(0, value)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

/** Relative luminance, 0 to 1 (WCAG 2.2, from linear sRGB). */
export function luminance({ r, g, b }: Rgb): number {
  return 0.2126 * LINEAR_OF_CODE[r] + 0.7152 * LINEAR_OF_CODE[g] + 0.0722 * LINEAR_OF_CODE[b];
}

/** Contrast ratio 1 to 21 (WCAG 2.2). */
export function contrast(a: Rgb, b: Rgb): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (light + 0.05) / (dark + 0.05);
}
