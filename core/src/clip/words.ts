import type { Box } from '../geometry/affine.js';
import { CLIP_FPS, type ClipLogo, type ClipShape, type ClipWords } from '../model/clip.js';
import { eased } from './movement.js';

/** How long words stand at the start or the end, and come and go, frames. */
const STAND = Math.round(2.6 * CLIP_FPS);
const COME = Math.round(0.5 * CLIP_FPS);

/**
 * What a phone's own buttons and lines leave free, in shares of the picture. Tall posts are covered at the top by a name
 * and at the bottom by a caption; others keep an even margin.
 */
export function clearOfEdges(shape: ClipShape): Box {
  return shape === '9:16'
    ? { x: 0.08, y: 0.14, width: 0.78, height: 0.62 }
    : { x: 0.07, y: 0.07, width: 0.86, height: 0.86 };
}

/** How words are seen on a frame: how much, and how far below their place they still are, as a share of their height. */
export function wordsAt(
  words: Pick<ClipWords, 'when'>,
  frame: number,
  frames: number,
): { readonly opacity: number; readonly below: number } {
  const stand = Math.min(frames, STAND);
  const [from, to] =
    words.when === 'all' ? [0, frames] : words.when === 'start' ? [0, stand] : [frames - stand, frames];
  if (frame < from || frame >= to) return { opacity: 0, below: 0 };
  const come = eased((frame - from + 1) / COME);
  // At the end of the clip they stay: a post is looped or stops there.
  const go = to === frames ? 1 : eased((to - frame) / COME);
  return { opacity: Math.min(come, go), below: (1 - come) * 0.4 };
}

/**
 * Where a logo stands, px of the clip: in its corner of what a phone leaves free.
 * @param aspect width to height of its picture
 */
export function logoBox(
  { corner, size }: Pick<ClipLogo, 'corner' | 'size'>,
  shape: ClipShape,
  aspect: number,
  clip: { readonly width: number; readonly height: number },
): Box {
  const clear = clearOfEdges(shape);
  const longer = size * Math.min(clip.width, clip.height);
  const [width, height] = aspect >= 1 ? [longer, longer / aspect] : [longer * aspect, longer];
  return {
    x: corner.endsWith('left') ? clear.x * clip.width : (clear.x + clear.width) * clip.width - width,
    y: corner.startsWith('top') ? clear.y * clip.height : (clear.y + clear.height) * clip.height - height,
    width,
    height,
  };
}
