import type { Box } from '@kettle/core/geometry';

/** Colours of strokes that keep and that drop. */
export const KEEP = 'rgba(17, 122, 101, .55)';
export const DROP = 'rgba(196, 70, 30, .55)';

/** A stroke as wide as its brush. */
export function line(
  context: CanvasRenderingContext2D,
  points: readonly number[],
  width: number,
  height: number,
  size: number,
  colour: string,
): void {
  context.strokeStyle = colour;
  context.lineWidth = Math.max(2, size);
  context.lineCap = context.lineJoin = 'round';
  context.beginPath();
  context.moveTo(points[0] * width, points[1] * height);
  for (let n = 0; n < points.length; n += 2) context.lineTo(points[n] * width + 0.01, points[n + 1] * height);
  context.stroke();
}

/** A crop: what goes is dimmed, and its corners can be held. */
export function frame(context: CanvasRenderingContext2D, { x, y, width, height }: Box, w: number, h: number): void {
  context.fillStyle = 'rgba(31, 38, 35, .45)';
  context.beginPath();
  context.rect(0, 0, w, h);
  context.rect(x * w, y * h, width * w, height * h);
  context.fill('evenodd');
  context.strokeStyle = '#fff';
  context.lineWidth = 1.5;
  context.strokeRect(x * w, y * h, width * w, height * h);
  context.fillStyle = '#6a3b5b';
  for (const [px, py] of [
    [x, y],
    [x + width, y],
    [x, y + height],
    [x + width, y + height],
  ])
    context.fillRect(px * w - 5, py * h - 5, 10, 10);
}

/** The hand of the keyboard. */
export function cross(context: CanvasRenderingContext2D, x: number, y: number): void {
  for (const [colour, width] of [
    ['#fff', 4],
    ['#6a3b5b', 1.5],
  ] as const) {
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.beginPath();
    context.moveTo(x - 12, y);
    context.lineTo(x + 12, y);
    context.moveTo(x, y - 12);
    context.lineTo(x, y + 12);
    context.stroke();
  }
}

/** What shows through where nothing is. */
export function checker(context: CanvasRenderingContext2D): CanvasPattern {
  const tile = document.createElement('canvas');
  tile.width = tile.height = 20;
  const own = tile.getContext('2d')!;
  own.fillStyle = '#fdfcf9';
  own.fillRect(0, 0, 20, 20);
  own.fillStyle = '#d9d5ca';
  own.fillRect(0, 0, 10, 10);
  own.fillRect(10, 10, 10, 10);
  return context.createPattern(tile, 'repeat')!;
}

/** Alpha as light on dark. */
export function maskOf(pixels: Uint8ClampedArray): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(pixels.length);
  for (let i = 0; i < out.length; i += 4) {
    out[i] = out[i + 1] = out[i + 2] = pixels[i + 3];
    out[i + 3] = 255;
  }
  return out;
}
