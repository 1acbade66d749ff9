import { rgbOf } from '../colour/srgb.js';
import type { Pixels } from '../raster/pixels.js';
import { type BlankView } from './crop.js';
import type { Blank } from './blank.js';

/**
 * What stands behind a product instead of one colour: from the backdrop's colour to another; `turn` in degrees clockwise,
 * 0 from the top down.
 */
export interface Behind {
  readonly kind: 'gradient';
  readonly to: string;
  readonly turn: number;
}

/**
 * A gradient over the whole of a blank's picture, as a part of it is seen. sRGB, opaque. It is mixed in code values, as
 * gradients of drawings are, so that it looks even.
 */
export function gradientBehind(
  from: string,
  { to, turn }: Behind,
  blank: Pick<Blank, 'width' | 'height'>,
  { crop, width, height }: BlankView,
): Pixels {
  const [a, b] = [rgbOf(from), rgbOf(to)];
  const angle = (turn * Math.PI) / 180;
  const [dx, dy] = [-Math.sin(angle), Math.cos(angle)];
  // Both ends lie on the corners of the whole picture.
  const reach = Math.abs(dx) * blank.width + Math.abs(dy) * blank.height;
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const px = crop.x + ((x + 0.5) * crop.width) / width - blank.width / 2;
      const py = crop.y + ((y + 0.5) * crop.height) / height - blank.height / 2;
      const t = Math.min(1, Math.max(0, (px * dx + py * dy) / reach + 0.5));
      // A trace of noise, the same at each place, hides the steps of eight bits.
      const noise = dither(x, y);
      const o = (y * width + x) * 4;
      data[o] = a.r + (b.r - a.r) * t + noise;
      data[o + 1] = a.g + (b.g - a.g) * t + noise;
      data[o + 2] = a.b + (b.b - a.b) * t + noise;
      data[o + 3] = 255;
    }
  return { width, height, data };
}

/** 0 to 1, evenly spread, without a pattern that is seen. Jimenez 2014, interleaved gradient noise. */
const dither = (x: number, y: number): number => (52.9829189 * ((0.06711056 * x + 0.00583715 * y) % 1)) % 1;
