import Konva from '#libraries/konva';
import type { Point, SnapMark, Viewport } from '@kettle/core/geometry';
import { PINK, PLUM } from './stage-colours';

/** Lines that were jumped to, and gaps with their lengths. */
export class SnapMarks {
  readonly group = new Konva.Group({ listening: false });

  clear(): void {
    this.group.destroyChildren();
  }

  show(marks: readonly SnapMark[], { scale, left, top }: Viewport, lengthOf: (mm: number) => string): void {
    this.clear();
    const px = (axis: 'x' | 'y', mm: number): number => (axis === 'x' ? left : top) + mm * scale;
    for (const mark of marks) {
      const other = mark.axis === 'x' ? 'y' : 'x';
      if (mark.kind === 'line') {
        const [at, from, to] = [px(mark.axis, mark.at), px(other, mark.from), px(other, mark.to)];
        // Light on dark, so that it is seen on any garment.
        const points = mark.axis === 'x' ? [at, from - 12, at, to + 12] : [from - 12, at, to + 12, at];
        this.group.add(
          new Konva.Line({ points, stroke: PLUM, strokeWidth: 3 }),
          new Konva.Line({ points, stroke: PINK, strokeWidth: 1.2 }),
        );
        continue;
      }
      const [across, from, to] = [px(other, mark.across), px(mark.axis, mark.from), px(mark.axis, mark.to)];
      this.group.add(
        new Konva.Arrow({
          points: mark.axis === 'x' ? [from, across, to, across] : [across, from, across, to],
          stroke: PINK,
          fill: PINK,
          strokeWidth: 1.5,
          pointerLength: 5,
          pointerWidth: 5,
          pointerAtBeginning: true,
        }),
      );
      this.label(
        lengthOf(mark.to - mark.from),
        mark.axis === 'x' ? { x: (from + to) / 2 - 20, y: across + 6 } : { x: across + 6, y: (from + to) / 2 - 9 },
      );
    }
  }

  label(text: string, at: Point): void {
    const label = new Konva.Label({ ...at });
    label.add(
      new Konva.Tag({ fill: PLUM, cornerRadius: 4 }),
      new Konva.Text({ text, fontFamily: 'Public Sans Variable, sans-serif', fontSize: 11, padding: 4, fill: '#fff' }),
    );
    this.group.add(label);
  }
}
