import Konva from '#libraries/konva';
import type { Viewport } from '@kettle/core/geometry';
import type { EditorTarget } from '../editor/editor';
import type { Panel } from '@kettle/core/model';
import { PINK } from './stage-colours';

/** Print edge, safe line, centre line and findings. What lies off the canvas is veiled. */
export function showCanvasLines(
  layer: Konva.Layer,
  { layout, findings, requirement }: EditorTarget,
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
      // A panel's own line stands for it.
      visible: !requirement.panel,
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
  if (requirement.panel) showPanel(layer, requirement.panel, { scale, left, top }, { width, height });
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

/** How each line of a panel is drawn. */
const LINE_DASH: Readonly<Record<Panel['lines'][number]['name'], readonly number[]>> = {
  collar: [2, 3],
  shoulder: [7, 3],
  armhole: [7, 3],
  side: [7, 3],
  hem: [10, 3, 2, 3],
};

/** The cut line of a piece of cloth, what is thrown away beyond it, and the lines where the sewn piece ends. */
function showPanel(
  layer: Konva.Layer,
  { cut, lines }: Panel,
  { scale, left, top }: Pick<Viewport, 'scale' | 'left' | 'top'>,
  { width, height }: { width: number; height: number },
): void {
  const at = (points: readonly (readonly [number, number])[]): number[] =>
    points.flatMap(([x, y]) => [left + x * scale, top + y * scale]);
  const outline = at(cut);
  layer.add(
    new Konva.Shape({
      name: 'thrown-away',
      listening: false,
      fill: 'rgba(150,60,30,.34)',
      sceneFunc: (context, shape) => {
        context.beginPath();
        context.rect(left, top, width, height);
        for (let i = 0; i < outline.length; i += 2)
          if (i === 0) context.moveTo(outline[0], outline[1]);
          else context.lineTo(outline[i], outline[i + 1]);
        context.closePath();
        context.setAttr('fillStyle', shape.fill());
        (context as unknown as { _context: CanvasRenderingContext2D })._context.fill('evenodd');
      },
    }),
    new Konva.Line({ name: 'cut', points: outline, closed: true, stroke: '#C2552B', strokeWidth: 1.6 }),
  );
  for (const { name, points } of lines)
    layer.add(
      new Konva.Line({
        name: `seam ${name}`,
        points: at(points),
        stroke: 'rgba(40,46,43,.85)',
        strokeWidth: 1.2,
        dash: [...LINE_DASH[name]],
      }),
      // Seen on dark art too.
      new Konva.Line({ points: at(points), stroke: 'rgba(255,255,255,.5)', strokeWidth: 0.6 }),
    );
}
