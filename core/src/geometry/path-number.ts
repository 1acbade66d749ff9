/** A number as path data and SVG attributes have it: three decimals, never a negative zero. */
export const pathNumber = (value: number): string => String(Math.round(value * 1000) / 1000 + 0);
