import type { Box } from '../geometry/affine.js';
import type { Blank } from '../model/blank.js';
import { PICTURE_SHAPES, type PictureCrop } from '../model/scene.js';

/** Room around a print, as a share of its longer side. */
const AROUND = 0.14;
/** A detail is this share of the print's longer side. */
const DETAIL = 0.38;
/** Steps in which a crop follows a print, a share of the picture. */
const STEP = 0.01;
/** Smallest crop, as a share of the picture's width or height: closer than that there is nothing more to be seen. */
export const LEAST_CROP = 0.08;

/** A part of a blank's picture at a size in pixels. */
export interface BlankView {
  /** In the blank's own pixels, all even: some of its maps have half as many. */
  readonly crop: Box;
  readonly width: number;
  readonly height: number;
}

/** Where things are on a blank's picture, in shares of its width and height. */
export interface OnPicture {
  /** The print area as far as it is seen. */
  readonly area: Box;
  /** The print itself; the area when absent. */
  readonly print: Box | null;
}

/**
 * The pixels that a crop takes of a blank, or null for all of them.
 * @param on where print area and print are seen
 */
export function cropOn(
  { width, height }: Pick<Blank, 'width' | 'height'>,
  crop: PictureCrop | undefined,
  on: OnPicture,
): Box | null {
  if (!crop) return null;
  const px = ({ x, y, width: w, height: h }: Box): Box => ({
    x: x * width,
    y: y * height,
    width: w * width,
    height: h * height,
  });
  const least = LEAST_CROP * Math.min(width, height);
  if (crop.of === 'box') {
    const box = px(crop.box);
    return evenIn(
      { ...box, width: Math.max(least, box.width), height: Math.max(least, box.height) },
      { width, height },
    );
  }
  const shape = PICTURE_SHAPES[crop.shape];
  const print = px(on.print ?? on.area);
  const middle = (box: Box) => ({ x: box.x + box.width / 2, y: box.y + box.height / 2 });
  if (crop.of === 'whole') {
    const w = Math.min(width, height * shape);
    return evenIn(about(middle(px(on.area)), { width: w, height: w / shape }), { width, height });
  }
  const longer = Math.max(print.width, print.height, least);
  const room = crop.of === 'print' ? AROUND * longer : 0;
  const wanted =
    crop.of === 'print'
      ? { width: print.width + 2 * room, height: print.height + 2 * room }
      : { width: DETAIL * longer, height: DETAIL * longer };
  // The shape is grown about what is wanted, and made no larger than the picture.
  const w = Math.min(Math.max(wanted.width, wanted.height * shape, least), width, height * shape);
  // A print that is moved by a hair is seen as before: the same maps serve.
  const step = STEP * Math.min(width, height);
  const coarse = (value: number): number => Math.round(value / step) * step;
  const at = middle(print);
  const wide = Math.min(Math.ceil(w / step) * step, width, height * shape);
  return evenIn(about({ x: coarse(at.x), y: coarse(at.y) }, { width: wide, height: wide / shape }), { width, height });
}

const about = (at: { x: number; y: number }, { width, height }: { width: number; height: number }): Box => ({
  x: at.x - width / 2,
  y: at.y - height / 2,
  width,
  height,
});

/** A box on even pixels, moved into a picture. */
function evenIn(box: Box, { width, height }: { width: number; height: number }): Box | null {
  const even = (value: number): number => Math.round(value / 2) * 2;
  const w = Math.min(even(box.width), even(width));
  const h = Math.min(even(box.height), even(height));
  if (w >= width && h >= height) return null;
  return {
    x: Math.max(0, Math.min(even(box.x), even(width - w))),
    y: Math.max(0, Math.min(even(box.y), even(height - h))),
    width: w,
    height: h,
  };
}

/** How a blank is seen at a size: its longest side is `size` px. */
export function viewOf({ width, height }: Pick<Blank, 'width' | 'height'>, crop: Box | null, size: number): BlankView {
  const seen = crop ?? { x: 0, y: 0, width, height };
  // A whole picture has kept its width since the first version, whatever its proportions.
  const scale = crop ? size / Math.max(seen.width, seen.height) : size / width;
  return { crop: seen, width: Math.round(seen.width * scale), height: Math.round(seen.height * scale) };
}

/** True for a view of all of a blank. */
export const isWhole = ({ width, height }: Pick<Blank, 'width' | 'height'>, { crop }: BlankView): boolean =>
  crop.width >= width && crop.height >= height;
