import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { contrast, rgbOf } from '@kettle/core/colour';
import type { ShapeLayer } from '@kettle/core/model';
import { removeTarget } from '@kettle/core/document';
import { Notices } from '../data/notices';
import { RequirementShelf } from '../data/requirement-shelf';
import { badge, mug, openBench, tee } from '../testing/open-bench';
import type { Bench } from './bench';
import type { Maker } from './maker';

describe('the bench', () => {
  let bench: Bench;
  let maker: Maker;
  let http: HttpTestingController;
  beforeEach(() => {
    ({ bench, maker, http } = openBench());
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

  it('lays a picture on a small canvas at its own size, and says how large art became that had to be fitted', () => {
    const said = spyOn(TestBed.inject(Notices), 'say');
    bench.choose(mug.id);
    maker.picture({ ...badge, width: 600, height: 600 });
    // 600 px at 300 DPI are 50.8 mm, on the mug too.
    expect(shown().width).toBeCloseTo(50.8, 4);
    bench.desk.undo();
    bench.choose('tee');
    bench.desk.edit(removeTarget(mug.id));
    maker.picture(badge);
    bench.choose(mug.id);
    // The badge's 76.2 mm have room on 90 less twice 3: nothing is to be said.
    expect(shown().width).toBeCloseTo(76.2, 4);
    expect(said).not.toHaveBeenCalled();
    bench.desk.edit(removeTarget(mug.id));
    bench.placeSelected({ width: 200, height: 200 });
    bench.choose(mug.id);
    expect(said).toHaveBeenCalledOnceWith('200 mm of art became 84 mm to fit Mug wrap.');
  });

  it('lays a logo on the piece of cloth that is looked at, and the art that covers it on all', () => {
    const panel = { areaId: 'a', cut: [], lines: [], insetMm: 10 };
    const [front, back] = ['front', 'back'].map((id) => ({ ...tee, id, name: id, panel }));
    TestBed.inject(RequirementShelf).refresh().subscribe();
    http.expectOne('/api/requirements').flush([tee, front, back]);
    for (const { id } of [front, back]) bench.choose(id);
    bench.desk.edit(removeTarget('tee'));
    maker.picture(badge);
    expect(bench.targets().map(({ design }) => design.layers[0].hidden)).toEqual([false, false]);
    maker.shape('star');
    expect(bench.current()?.requirement.id).toBe('back');
    expect(bench.targets().map(({ design }) => design.layers[1].hidden)).toEqual([true, false]);
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
