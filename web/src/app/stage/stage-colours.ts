/** Colours drawn on any garment, so of no theme: selection and handles. */
export const PLUM = '#6A3B5B';
export const PINK = '#E9A3D0';
