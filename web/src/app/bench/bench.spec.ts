import { contrast, rgbOf, type ShapeLayer } from '@kettle/core';
import { badge, mug, openBench } from '../testing/open-bench';
import type { Bench } from './bench';
import type { Maker } from './maker';

describe('the bench', () => {
  let bench: Bench;
  let maker: Maker;
  beforeEach(() => {
    ({ bench, maker } = openBench());
  });
  const shown = () => bench.movedBox()!;

  it('puts a picture in at its own pixels, named after its file, and selects it', () => {
    maker.picture(badge);
    expect(bench.selected()?.name).toBe('Rain gauge badge');
    expect(shown().width).toBeCloseTo(76.2, 6);
    expect(bench.stateOf(bench.current()!)).toBe('not-made');
  });

  it('lays what is new in the middle of the chosen canvas, and none larger than it', () => {
    bench.choose(mug.id);
    const { canvas } = bench.current()!.layout;
    for (const kind of ['rectangle', 'ellipse'] as const) {
      maker.shape(kind);
      const box = shown();
      expect(box.x).toBeGreaterThan(0);
      expect(box.y).toBeGreaterThan(0);
      expect(box.x + box.width).toBeLessThan(canvas.widthMm);
      expect(box.y + box.height).toBeLessThan(canvas.heightMm);
      expect(box.x + box.width / 2).toBeCloseTo(canvas.widthMm / 2, 6);
    }
  });

  it('calls a design without art not begun, and asks nothing of it', () => {
    expect(bench.stateOf(bench.current()!)).toBe('not-begun');
    expect(bench.toMend()).toBe(0);
  });

  it('gives what is new a colour that reads against the cloth and whatever lies under it', () => {
    maker.shape('rectangle');
    const first = bench.layers()[0] as ShapeLayer;
    expect(contrast(rgbOf(first.fill as string), rgbOf(bench.current()!.garment))).toBeGreaterThan(3);
    maker.shape('ellipse');
    const second = bench.layers()[1] as ShapeLayer;
    expect(contrast(rgbOf(second.fill as string), rgbOf(first.fill as string))).toBeGreaterThan(3);
  });

  it('nudges by exactly one pixel of the canvas, a held key as one step', () => {
    maker.picture(badge);
    bench.desk.settle();
    const { x } = shown();
    for (let i = 0; i < 5; i++) bench.nudge(1, 0);
    expect(shown().x - x).toBeCloseTo((5 * 25.4) / 300, 6);
    bench.desk.undo();
    expect(shown().x).toBeCloseTo(x, 6);
  });

  it('moves every target, or one alone', () => {
    maker.picture(badge);
    bench.choose('mug');
    const before = bench.targets().map((one) => one.layout.toCanvas);
    const layers = bench.desk.document()!.layers;
    bench.onlyHere.set(true);
    bench.moveTo({ ...shown(), x: 5 });
    expect(bench.desk.document()!.layers).toBe(layers);
    expect(bench.targets()[0].layout.toCanvas).toEqual(before[0]);
    expect(bench.targets()[1].layout.toCanvas).not.toEqual(before[1]);
    bench.onlyHere.set(false);
    bench.placeUsual('centre');
    expect(bench.desk.document()!.layers).not.toBe(layers);
  });

  it('takes exact numbers in printed millimetres whatever the target’s scale', () => {
    maker.picture(badge);
    bench.choose('mug');
    bench.placeSelected({ width: 40, height: 40 });
    expect(shown().width).toBeCloseTo(40, 6);
  });

  it('finds, counts and mends', () => {
    maker.picture(badge);
    bench.placeSelected({ width: 254, height: 254 });
    expect(bench.selectedFindings().map((finding) => finding.code)).toContain('enlarged');
    expect(bench.stateOf(bench.current()!)).toBe('needs-work');
    bench.mend(
      bench.selectedFindings().find((finding) => finding.code === 'enlarged')!,
      bench.current()!,
    );
    expect(bench.current()!.findings.map((finding) => finding.code)).not.toContain('enlarged');
  });

  it('puts a shape in front', () => {
    maker.picture(badge);
    maker.shape('star');
    const star = bench.selected();
    expect(star).toEqual(jasmine.objectContaining({ kind: 'shape', shape: 'star' }));
    expect(bench.desk.document()!.layers.at(-1)).toBe(star!);
    expect(bench.colours()[0]).toBe('#f2bd4b');
  });
});
