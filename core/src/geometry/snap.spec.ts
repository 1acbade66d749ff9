import type { Box } from './affine.js';
import { linesOfBox, linesOfCanvas, snapMove, snapScale } from './snap.js';

const box = (x: number, y: number, width = 10, height = 10): Box => ({ x, y, width, height });

describe('snapping', () => {
  const lines = linesOfCanvas(200, 100, box(10, 10, 180, 80));

  it('jumps to the nearest line within reach, each axis by itself', () => {
    const snap = snapMove(box(96.5, 11.5), lines, [], 3);
    expect([snap.dx, snap.dy]).toEqual([-1.5, -1.5]);
    expect(snap.marks).toEqual([
      jasmine.objectContaining({ kind: 'line', axis: 'x', at: 100, source: 'centre' }),
      jasmine.objectContaining({ kind: 'line', axis: 'y', at: 10, source: 'safe' }),
    ]);
    expect(snapMove(box(60, 30), lines, [], 3)).toEqual({ dx: 0, dy: 0, marks: [] });
  });

  it('jumps to edges and middles of other layers, and tells how far they are', () => {
    const snap = snapMove(box(41, 60), [], [box(40, 20, 30, 10)], 2);
    expect(snap.dx).toBe(-1);
    expect(snap.marks).toContain(jasmine.objectContaining({ kind: 'gap', axis: 'y', from: 30, to: 60 }));
    expect(linesOfBox(box(40, 20, 30, 10), 'layer').map((line) => line.at)).toEqual([40, 55, 70, 20, 25, 30]);
  });

  it('jumps to equal gaps: between two others, and beyond them', () => {
    const others = [box(0, 0), box(40, 0)];
    const between = snapMove(box(19.2, 3), [], others, 1);
    expect(between.dx).toBeCloseTo(0.8, 9);
    expect(
      between.marks.filter((mark) => mark.kind === 'gap').map((mark) => mark.kind === 'gap' && mark.to - mark.from),
    ).toEqual([10, 10]);
    expect(snapMove(box(79.5, 3), [], others, 1).dx).toBeCloseTo(0.5, 9);
    expect(snapMove(box(-40.6, 3), [], others, 1).dx).toBeCloseTo(0.6, 9);
    // Beside a row, not in it: no gap counts.
    expect(snapMove(box(19.2, 50), [], others, 0.9).dx).toBe(0);
  });

  it('scales on until the free edge meets a line, the fixed corner staying', () => {
    const { factor, line } = snapScale(box(50, 50, 48.5, 20), { x: 0, y: 0 }, lines, 3);
    expect(line).toEqual(jasmine.objectContaining({ axis: 'x', at: 100 }));
    expect(50 + 48.5 * factor).toBeCloseTo(100, 9);
    const back = snapScale(box(12, 30, 38, 20), { x: 1, y: 1 }, lines, 3);
    expect(50 - 38 * back.factor).toBeCloseTo(10, 9);
    expect(snapScale(box(50, 50, 20, 20), { x: 0, y: 0 }, lines, 3)).toEqual({ factor: 1, line: null });
  });
});
