/** 8-bit RGBA, straight alpha, sRGB, rows from the top without padding. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  /** width × height × 4 bytes. */
  readonly data: Uint8Array | Uint8ClampedArray;
}

/** Largest number of pixels any picture may have. */
export const MAX_PIXELS = 300_000_000;
