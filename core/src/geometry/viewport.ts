import type { Box, Point } from './affine.js';

/** How a canvas lies in a window: px to the mm, and where the canvas's corner is, in px. */
export interface Viewport {
  readonly scale: number;
  readonly left: number;
  readonly top: number;
}

/** The room a canvas is looked at in, px. `foot` is kept free below. */
export interface Room {
  readonly width: number;
  readonly height: number;
  readonly margin: number;
  readonly foot: number;
}

/** CSS px to the mm: at this scale a print is on screen as large as on the garment (CSS Values 4, 6.2). */
export const PRINT_SIZE_SCALE = 96 / 25.4;

export const LEAST_SCALE = 0.05;
export const MOST_SCALE = 200;

const clamped = (scale: number): number => Math.min(MOST_SCALE, Math.max(LEAST_SCALE, scale));

/** Shows a box (mm) as large as the room allows, in its middle. */
export function viewOfBox(box: Box, { width, height, margin, foot }: Room): Viewport {
  const scale = clamped(
    Math.min((width - 2 * margin) / Math.max(box.width, 0.1), (height - 2 * margin - foot) / Math.max(box.height, 0.1)),
  );
  return {
    scale,
    left: Math.round((width - box.width * scale) / 2 - box.x * scale),
    top: Math.round((height - foot - box.height * scale) / 2 - box.y * scale),
  };
}

/** Another scale with the point under `at` (px) kept where it is. */
export function zoomedAt(view: Viewport, at: Point, scale: number): Viewport {
  const next = clamped(scale);
  const factor = next / view.scale;
  return { scale: next, left: at.x - (at.x - view.left) * factor, top: at.y - (at.y - view.top) * factor };
}

/** A window moved over the canvas, as far as a corner of it stays in sight. */
export function panned(
  view: Viewport,
  by: Point,
  canvas: { widthMm: number; heightMm: number },
  { width, height }: Pick<Room, 'width' | 'height'>,
): Viewport {
  const edge = 40;
  const within = (value: number, length: number, room: number) => Math.min(room - edge, Math.max(edge - length, value));
  return {
    ...view,
    left: within(view.left + by.x, canvas.widthMm * view.scale, width),
    top: within(view.top + by.y, canvas.heightMm * view.scale, height),
  };
}

/** Px in the window to mm on the canvas. */
export const toMmAt = ({ scale, left, top }: Viewport, { x, y }: Point): Point => ({
  x: (x - left) / scale,
  y: (y - top) / scale,
});
