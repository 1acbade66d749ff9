/** Millimetres in one inch, exact by definition (international inch, 1959). */
export const MM_PER_INCH = 25.4;

/** A unit a seller may choose. `px` has a length only together with a DPI. */
export type LengthUnit = 'mm' | 'cm' | 'in' | 'px';

export const LENGTH_UNITS: readonly LengthUnit[] = ['mm', 'cm', 'in', 'px'];

/**
 * Length in millimetres.
 * @param value length in `unit`
 * @param dpi dots per inch, used for `px` only
 */
export function toMm(value: number, unit: LengthUnit, dpi: number): number {
  switch (unit) {
    case 'mm':
      return value;
    case 'cm':
      return value * 10;
    case 'in':
      return value * MM_PER_INCH;
    case 'px':
      return (value / dpi) * MM_PER_INCH;
  }
}

/** The inverse of {@link toMm}. */
export function fromMm(mm: number, unit: LengthUnit, dpi: number): number {
  switch (unit) {
    case 'mm':
      return mm;
    case 'cm':
      return mm / 10;
    case 'in':
      return mm / MM_PER_INCH;
    case 'px':
      return (mm / MM_PER_INCH) * dpi;
  }
}

/**
 * The same length in another unit, as a number to go on with: whole pixels, otherwise so fine that no canvas of 2400 DPI
 * becomes a pixel larger or smaller.
 */
export function inUnit(value: number, from: LengthUnit, to: LengthUnit, dpi: number): number {
  if (from === to) return value;
  const factor = 10 ** { mm: 3, cm: 4, in: 5, px: 0 }[to];
  return Math.round(fromMm(toMm(value, from, dpi), to, dpi) * factor) / factor;
}

/** Decimals that are worth showing in a unit: a tenth of a millimetre is finer than any garment printer. */
export const DECIMALS: Readonly<Record<LengthUnit, number>> = { mm: 1, cm: 2, in: 2, px: 0 };

/** Number in the seller's unit without the unit, rounded to {@link DECIMALS}, e.g. `231.4`. */
export function lengthNumber(mm: number, unit: LengthUnit, dpi: number): number {
  const factor = 10 ** DECIMALS[unit];
  const rounded = Math.round(fromMm(mm, unit, dpi) * factor) / factor;
  return rounded === 0 ? 0 : rounded;
}

/** Length as text with its unit, e.g. `231.4 mm`. */
export function formatLength(mm: number, unit: LengthUnit, dpi: number): string {
  return `${lengthNumber(mm, unit, dpi)} ${unit}`;
}

/** Width and height as text with one unit, e.g. `231 × 118 mm`; whole numbers when both are at least 100. */
export function formatSize(widthMm: number, heightMm: number, unit: LengthUnit, dpi: number): string {
  const width = lengthNumber(widthMm, unit, dpi);
  const height = lengthNumber(heightMm, unit, dpi);
  const shown = Math.min(width, height) >= 100 ? [Math.round(width), Math.round(height)] : [width, height];
  return `${shown[0]} × ${shown[1]} ${unit}`;
}
