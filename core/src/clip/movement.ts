import type { Box } from '../geometry/affine.js';
import { OWN_FRAMING, type Framing, type Movement } from '../model/clip.js';

/**
 * Eases a course from 0 to 1: it begins and ends without speed and without a jolt (the polynomial of degree five whose first
 * and second derivatives are 0 at both ends; Perlin 2002).
 */
export function eased(t: number): number {
  const x = Math.min(1, Math.max(0, t));
  return x * x * x * (x * (6 * x - 15) + 10);
}

/** How near a push comes, as a share of what is seen before. */
const PUSH = 0.82;
/** Share of the picture that a drift shows. */
const DRIFT = 0.88;
/** The print with this much around it is what a reveal begins with. */
const AROUND = 1.25;
/** Closest view, a share of the picture's width: closer, its pixels would be seen. */
const CLOSEST = 0.36;

const clamp = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value));

/**
 * The largest view of a shape that lies on a picture, as near to having a place in its middle as the picture allows.
 * Boxes are shares of the picture.
 * @param aspect width to height of the view, over that of the picture
 */
function largest(aspect: number, focus: Box, zoom: number): Box {
  const [width, height] = aspect >= 1 ? [1, 1 / aspect] : [aspect, 1];
  return around(focus, width / zoom, height / zoom);
}

function around(focus: Box, width: number, height: number): Box {
  return {
    x: clamp(focus.x + focus.width / 2 - width / 2, 0, 1 - width),
    y: clamp(focus.y + focus.height / 2 - height / 2, 0, 1 - height),
    width,
    height,
  };
}

/** A view between two of one shape. Enlargement grows in equal steps, which look even: equal steps of size would rush. */
function between(a: Box, b: Box, share: number): Box {
  const width = a.width * Math.pow(b.width / a.width, share);
  const along = Math.abs(b.width - a.width) < 1e-9 ? share : (width - a.width) / (b.width - a.width);
  const mix = (from: number, to: number): number => from + (to - from) * along;
  return { x: mix(a.x, b.x), y: mix(a.y, b.y), width, height: mix(a.height, b.height) };
}

/**
 * What is seen of a scene's picture, in shares of it; exact, never rounded to pixels.
 * @param t 0 at the scene's first frame, 1 at its last
 * @param print where it is on the picture
 * @param aspect width to height of the clip
 * @param picture width to height of the picture
 * @param framing how the seller corrected it
 */
export function viewAt(
  movement: Movement,
  t: number,
  print: Box,
  aspect: number,
  picture: number,
  framing: Framing = OWN_FRAMING,
): Box {
  const focus = { ...print, x: print.x + framing.x, y: print.y + framing.y };
  const whole = largest(aspect / picture, focus, framing.zoom);
  const go = eased(t);
  switch (movement) {
    case 'still':
    case 'turn':
    case 'colours':
    case 'layers':
      return whole;
    case 'push':
      return between(whole, around(focus, whole.width * PUSH, whole.height * PUSH), go);
    case 'pull':
      return between(around(focus, whole.width * PUSH, whole.height * PUSH), whole, go);
    case 'drift': {
      const [width, height] = [whole.width * DRIFT, whole.height * DRIFT];
      const y = clamp(focus.y + focus.height / 2 - height / 2, whole.y, whole.y + whole.height - height);
      return { x: whole.x + (whole.width - width) * go, y, width, height };
    }
    case 'reveal': {
      const share = clamp(
        Math.max((focus.width * AROUND) / whole.width, (focus.height * AROUND) / whole.height),
        CLOSEST / Math.max(whole.width, CLOSEST),
        1,
      );
      return between(around(focus, whole.width * share, whole.height * share), whole, go);
    }
  }
}
