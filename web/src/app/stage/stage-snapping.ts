import {
  boundsOfPlace,
  linesOfBox,
  linesOfCanvas,
  mapBox,
  snapScale,
  type Box,
  type SnapLine,
  type Viewport,
} from '@kettle/core/geometry';
import { guidesOnCanvas, linesOfGuides } from '@kettle/core/document';
import { SNAP_PX, type StageContent } from './stage-content';

export const CORNERS = ['top-left', 'top-right', 'bottom-left', 'bottom-right'];
export const SIDES = ['top-center', 'middle-left', 'middle-right', 'bottom-center'];

/** A box as the handles have it, in window px. */
export interface HandleBox {
  x: number;
  y: number;
  width: number;
  height: number;
  rotation: number;
}

/** Lines of the canvas and its guides that what is moved may jump to. */
export function snapLines({ design, current }: StageContent): SnapLine[] {
  const { canvas, safe } = current.layout;
  return [
    ...linesOfCanvas(canvas.widthMm, canvas.heightMm, safe),
    ...linesOfGuides(guidesOnCanvas(design, current.target, current.layout)),
  ];
}

/** Boxes of the layers that stay where they are, on the canvas. */
export function boxesBeside({ design, current }: StageContent, ids: readonly string[]): Box[] {
  return design.layers
    .filter((layer) => !layer.hidden && !ids.includes(layer.id))
    .map((layer) => mapBox(current.layout.toCanvas, boundsOfPlace(layer.place)));
}

/** Lets the free edges of what is scaled jump to lines. Answers the box, and the line it jumped to. */
export function snapHandleBox(
  content: StageContent,
  { scale, left, top }: Viewport,
  anchor: string,
  ids: readonly string[],
  after: HandleBox,
): { box: HandleBox; line: SnapLine | null } {
  const box = {
    x: (after.x - left) / scale,
    y: (after.y - top) / scale,
    width: after.width / scale,
    height: after.height / scale,
  };
  const lines = [...snapLines(content), ...boxesBeside(content, ids).flatMap((one) => linesOfBox(one, 'layer'))];
  const fixed = { x: anchor.includes('left') ? 1 : 0, y: anchor.includes('top') ? 1 : 0 };
  const across = anchor.includes('left') || anchor.includes('right');
  const down = anchor.includes('top') || anchor.includes('bottom');
  const { factor, line } = snapScale(
    box,
    fixed,
    lines.filter((one) => (one.axis === 'x' ? across : down)),
    SNAP_PX / scale,
  );
  if (!line) return { box: after, line: null };
  const both = CORNERS.includes(anchor);
  const [width, height] = [after.width * (both || across ? factor : 1), after.height * (both || down ? factor : 1)];
  return {
    box: {
      ...after,
      x: after.x + fixed.x * (after.width - width),
      y: after.y + fixed.y * (after.height - height),
      width,
      height,
    },
    line,
  };
}
