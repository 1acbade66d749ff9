import type { BehindSight, GradientBehind } from '../model/scene.js';
import { encodedOf, LINEAR_OF_CODE, rgbOf } from '../colour/srgb.js';
import type { Box } from '../geometry/affine.js';
import type { Pixels } from '../geometry/pixels.js';
import { type BlankView } from './crop.js';
import type { Blank } from '../model/blank.js';

/** The same as a recipe names it: a picture by its content. */
export type RecipeBehind = GradientBehind | ({ readonly kind: 'picture'; readonly sha256: string } & BehindSight);

export const [LEAST_LIGHT, MOST_LIGHT] = [0.3, 1.7];
/** Standard deviation of the strongest blur, as a share of the blank's longer side. */
const MOST_BLUR = 0.03;

/**
 * The part of a picture, in its own pixels, that is seen behind a blank as that is seen: the picture covers all of the
 * blank's frame, its middle on the frame's.
 */
export function seenBehind(
  source: { readonly width: number; readonly height: number },
  blank: Pick<Blank, 'width' | 'height'>,
  { crop }: Pick<BlankView, 'crop'>,
): Box {
  const factor = Math.min(source.width / blank.width, source.height / blank.height);
  return {
    x: (source.width - blank.width * factor) / 2 + crop.x * factor,
    y: (source.height - blank.height * factor) / 2 + crop.y * factor,
    width: crop.width * factor,
    height: crop.height * factor,
  };
}

/**
 * A picture in a frame of other proportions shows wall beside its blank: what stands behind covers that too.
 * @param crop what is seen of the blank, in its pixels
 * @returns the blank's picture with that wall, and the crop and the frame on it, all in the blank's pixels
 */
export function onWall(
  blank: Pick<Blank, 'width' | 'height'>,
  crop: Box,
  frame: { readonly width: number; readonly height: number },
): { readonly wall: { readonly width: number; readonly height: number }; readonly crop: Box; readonly frame: Box } {
  const shape = frame.width / frame.height;
  const [width, height] = [Math.max(crop.width, crop.height * shape), Math.max(crop.height, crop.width / shape)];
  const seen = { x: crop.x - (width - crop.width) / 2, y: crop.y - (height - crop.height) / 2, width, height };
  const [left, top] = [Math.min(0, seen.x), Math.min(0, seen.y)];
  const on = (box: Box): Box => ({ ...box, x: box.x - left, y: box.y - top });
  return {
    wall: {
      width: Math.max(blank.width, seen.x + width) - left,
      height: Math.max(blank.height, seen.y + height) - top,
    },
    crop: on(crop),
    frame: on(seen),
  };
}

/** An opaque picture, as large as the view, put out of focus and lighter or darker in linear light. In place. */
export function asBehind(
  pixels: Pixels,
  { blur, light }: BehindSight,
  blank: Pick<Blank, 'width' | 'height'>,
  { crop, width }: Pick<BlankView, 'crop' | 'width'>,
): Pixels {
  const sigma = (blur * MOST_BLUR * Math.max(blank.width, blank.height) * width) / crop.width;
  const { data } = pixels;
  const linear = new Float32Array(pixels.width * pixels.height * 3);
  for (let i = 0, o = 0; o < linear.length; i += 4)
    for (let k = 0; k < 3; k++) linear[o++] = LINEAR_OF_CODE[data[i + k]] * light;
  if (sigma > 0.3) blurred(linear, pixels.width, pixels.height, sigma);
  for (let i = 0, o = 0; o < linear.length; i += 4) {
    for (let k = 0; k < 3; k++) data[i + k] = Math.round(encodedOf(Math.min(1, linear[o++])) * 255);
    data[i + 3] = 255;
  }
  return pixels;
}

/** Three boxes one after the other, which are close to a Gaussian. Edges repeat. */
function blurred(values: Float32Array, width: number, height: number, sigma: number): void {
  // A box of n has a variance of (n² - 1) / 12; three of them add up.
  const radius = Math.max(1, Math.round((Math.sqrt(4 * sigma * sigma + 1) - 1) / 2));
  const line = new Float32Array(Math.max(width, height));
  const along = (start: number, step: number, length: number): void => {
    for (let k = 0; k < length; k++) line[k] = values[start + k * step];
    let sum = line[0] * (radius + 1);
    for (let k = 0; k < radius; k++) sum += line[Math.min(length - 1, k)];
    for (let k = 0; k < length; k++) {
      sum += line[Math.min(length - 1, k + radius)] - (k === 0 ? line[0] : line[Math.max(0, k - radius - 1)]);
      values[start + k * step] = sum / (2 * radius + 1);
    }
  };
  for (let pass = 0; pass < 3; pass++) {
    for (let y = 0; y < height; y++) for (let k = 0; k < 3; k++) along(y * width * 3 + k, 3, width);
    for (let x = 0; x < width * 3; x++) along(x, width * 3, height);
  }
}

/**
 * A gradient over the whole of a blank's picture, as a part of it is seen. sRGB, opaque. It is mixed in code values, as
 * gradients of drawings are, so that it looks even.
 */
export function gradientBehind(
  from: string,
  { to, turn }: GradientBehind,
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
