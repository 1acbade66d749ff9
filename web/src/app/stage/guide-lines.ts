import Konva from '#libraries/konva';
import { toMmAt, type Viewport } from '@kettle/core/geometry';
import { guidesOnCanvas, type ShownGuide } from '@kettle/core/document';
import type { Hand } from './hand';
import type { SnapMarks } from './snap-marks';
import type { StageContent } from './stage-content';

const GUIDE = '#1C8F86';
/** Distance at which a guide jumps to an edge or the middle of the canvas, screen px. */
const SNAP_PX = 6;

/** The guides on the stage: pulled out of the rulers, dragged, and taken off by dragging them out. */
export class GuideLines {
  readonly group = new Konva.Group();
  private content: StageContent | null = null;
  private view: Viewport = { scale: 1, left: 0, top: 0 };
  private size = { width: 0, height: 0 };

  constructor(
    private readonly hand: Hand,
    private readonly marks: SnapMarks,
    private readonly cursor: (cursor: string) => void,
    private readonly moved: (guide: ShownGuide, at: number | null) => void,
  ) {}

  show(content: StageContent, view: Viewport, size: { width: number; height: number }): void {
    [this.content, this.view, this.size] = [content, view, size];
    this.group.destroyChildren();
    for (const guide of guidesOnCanvas(content.design, content.current.target, content.current.layout))
      this.group.add(this.line(guide));
  }

  /** A guide pulled out of a ruler, held until it is let go. */
  pull(axis: 'x' | 'y', owner: ShownGuide['owner']): void {
    const guide: ShownGuide = { owner, index: -1, axis, at: -1000 };
    const line = this.line(guide);
    this.group.add(line);
    this.drag(guide, line);
  }

  private line(guide: ShownGuide): Konva.Line {
    const line = new Konva.Line({
      ...this.pointsOf(guide.axis, guide.at),
      stroke: GUIDE,
      strokeWidth: 1,
      dash: guide.owner === null ? [] : [7, 4],
      hitStrokeWidth: 9,
      name: 'guide',
    });
    line.on('pointerenter', () => this.cursor(guide.axis === 'x' ? 'ew-resize' : 'ns-resize'));
    line.on('pointerleave', () => this.cursor('default'));
    line.on('pointerdown', (event) => {
      event.cancelBubble = true;
      this.drag(guide, line);
    });
    return line;
  }

  private pointsOf(axis: 'x' | 'y', at: number): { points: number[] } {
    const { scale, left, top } = this.view;
    const px = (axis === 'x' ? left : top) + at * scale;
    return { points: axis === 'x' ? [px, 0, px, this.size.height] : [0, px, this.size.width, px] };
  }

  private drag(guide: ShownGuide, line: Konva.Line): void {
    const { axis } = guide;
    const {
      current: {
        layout: { canvas },
      },
      lengthOf,
    } = this.content!;
    const spots = [0, 0.5, 1].map((share) => share * (axis === 'x' ? canvas.widthMm : canvas.heightMm));
    const position = (event: PointerEvent): number => {
      const at = toMmAt(this.view, this.hand.at(event))[axis];
      return spots.find((one) => Math.abs(one - at) * this.view.scale < SNAP_PX) ?? Math.round(at * 10) / 10;
    };
    this.hand.follow(
      (event) => {
        const at = position(event);
        line.setAttrs(this.pointsOf(axis, at));
        this.marks.clear();
        const now = this.hand.at(event);
        this.marks.label(`${lengthOf(at)} from the ${axis === 'x' ? 'left' : 'top'}`, { x: now.x + 14, y: now.y - 12 });
        line.getLayer()?.batchDraw();
      },
      (event) => {
        this.marks.clear();
        const now = this.hand.at(event);
        const out = now[axis] < 0 || now[axis] > (axis === 'x' ? this.size.width : this.size.height);
        this.moved(guide, out ? null : position(event));
        if (out && guide.index < 0) line.destroy();
        this.group.getLayer()?.batchDraw();
      },
    );
  }
}
