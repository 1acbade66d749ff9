import Konva from 'konva';
import type { Viewport } from '@kettle/core';
import type { BenchTarget } from '../bench/bench';
import { PINK } from './stage-colours';

/** Print edge, safe line, centre line and findings. What lies off the canvas is veiled. */
export function showCanvasLines(
  layer: Konva.Layer,
  { layout, findings }: BenchTarget,
  { scale, left, top }: Viewport,
  { width: w, height: h }: { width: number; height: number },
): void {
  const { canvas, safe } = layout;
  const [width, height] = [canvas.widthMm * scale, canvas.heightMm * scale];
  layer.destroyChildren();
  const veil = {
    fill: document.documentElement.dataset['theme'] === 'dark' ? 'rgba(18,21,19,.78)' : 'rgba(239,236,228,.78)',
  };
  const [x0, y0, x1, y1] = [Math.max(0, left), Math.max(0, top), Math.min(w, left + width), Math.min(h, top + height)];
  layer.add(
    new Konva.Rect({ ...veil, x: 0, y: 0, width: w, height: y0 }),
    new Konva.Rect({ ...veil, x: 0, y: y1, width: w, height: Math.max(0, h - y1) }),
    new Konva.Rect({ ...veil, x: 0, y: y0, width: x0, height: Math.max(0, y1 - y0) }),
    new Konva.Rect({ ...veil, x: x1, y: y0, width: Math.max(0, w - x1), height: Math.max(0, y1 - y0) }),
    new Konva.Rect({ x: left, y: top, width, height, stroke: 'rgba(31,38,35,.35)', strokeWidth: 1 }),
    new Konva.Rect({
      x: left + safe.x * scale,
      y: top + safe.y * scale,
      width: safe.width * scale,
      height: safe.height * scale,
      stroke: 'rgba(128,128,128,.9)',
      strokeWidth: 1,
      dash: [5, 4],
      cornerRadius: 3,
    }),
    new Konva.Line({
      points: [left + width / 2, top, left + width / 2, top + height],
      stroke: PINK,
      strokeWidth: 1,
      opacity: 0.75,
    }),
  );
  for (const { where, severity } of findings) {
    if (!where || severity === 'tells') continue;
    layer.add(
      new Konva.Rect({
        x: left + where.x * scale,
        y: top + where.y * scale,
        width: where.width * scale,
        height: where.height * scale,
        stroke: '#C2552B',
        strokeWidth: 1.5,
        dash: [2, 3],
      }),
    );
  }
}
