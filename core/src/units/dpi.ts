import { MM_PER_INCH } from './length.js';

/** Metres in one inch. */
const METRES_PER_INCH = MM_PER_INCH / 1000;

/**
 * What a PNG stores for a DPI: whole pixels per metre (PNG specification, third edition, 11.3.4.3 pHYs).
 * 300 DPI becomes 11811, which read back naively is 299.9994.
 */
export function pixelsPerMetre(dpi: number): number {
  return Math.round(dpi / METRES_PER_INCH);
}

/** DPI that a whole number of pixels per metre stands for, unrounded. */
export function dpiOfPixelsPerMetre(ppm: number): number {
  return ppm * METRES_PER_INCH;
}

/** True when the stored pixels per metre are what that DPI is stored as. Compare these whole numbers, never DPI. */
export function storesDpi(ppm: number, dpi: number): boolean {
  return Math.round(ppm) === pixelsPerMetre(dpi);
}

/**
 * The DPI a person means by a stored density: the whole number when it is stored as exactly this value, otherwise one
 * decimal.
 */
export function nominalDpi(ppm: number): number {
  const exact = dpiOfPixelsPerMetre(ppm);
  const whole = Math.round(exact);
  return whole > 0 && storesDpi(ppm, whole) ? whole : Math.round(exact * 10) / 10;
}

/** Why 11,811 pixels per metre is 300 DPI, as a sentence for the seller. */
export function densityReason(ppm: number): string {
  const exact = dpiOfPixelsPerMetre(ppm).toFixed(3);
  return (
    `The file stores ${Math.round(ppm).toLocaleString('en-GB')} whole pixels per metre, which is ${exact} dots per inch: ` +
    `the nearest value a PNG can hold to ${nominalDpi(ppm)} DPI, and what every printer reads as ${nominalDpi(ppm)} DPI.`
  );
}
