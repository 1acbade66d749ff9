import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { contrast, rgbOf } from '@kettle/core/colour';
import type { ShapeLayer } from '@kettle/core/model';
import { removeTarget } from '@kettle/core/document';
import { Notices } from '../data/notices';
import { RequirementShelf } from '../data/requirement-shelf';
import { badge, mug, openEditor, tee } from '../testing/open-editor';
import type { Editor } from './editor';
import type { Maker } from './maker';

describe('the bench', () => {
  let editor: Editor;
  let maker: Maker;
  let http: HttpTestingController;
  beforeEach(() => {
    ({ editor, maker, http } = openEditor());
  });
  const shown = () => editor.movedBox()!;

  it('puts a picture in at its own pixels, named after its file, and selects it', () => {
    maker.picture(badge);
    expect(editor.selected()?.name).toBe('Rain gauge badge');
    expect(shown().width).toBeCloseTo(76.2, 6);
    expect(editor.stateOf(editor.current()!)).toBe('not-made');
  });

  it('lays what is new in the middle of the chosen canvas, and none larger than it', () => {
    editor.choose(mug.id);
    const { canvas } = editor.current()!.layout;
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
    editor.choose(mug.id);
    maker.picture({ ...badge, width: 600, height: 600 });
    // 600 px at 300 DPI are 50.8 mm, on the mug too.
    expect(shown().width).toBeCloseTo(50.8, 4);
    editor.desk.undo();
    editor.choose('tee');
    editor.desk.edit(removeTarget(mug.id));
    maker.picture(badge);
    editor.choose(mug.id);
    // The badge's 76.2 mm have room on 90 less twice 3: nothing is to be said.
    expect(shown().width).toBeCloseTo(76.2, 4);
    expect(said).not.toHaveBeenCalled();
    editor.desk.edit(removeTarget(mug.id));
    editor.placeSelected({ width: 200, height: 200 });
    editor.choose(mug.id);
    expect(said).toHaveBeenCalledOnceWith('200 mm of art became 84 mm to fit Mug wrap.');
  });

  it('lays a logo on the piece of cloth that is looked at, and the art that covers it on all', () => {
    const panel = { areaId: 'a', cut: [], lines: [], insetMm: 10 };
    const [front, back] = ['front', 'back'].map((id) => ({ ...tee, id, name: id, panel }));
    TestBed.inject(RequirementShelf).refresh().subscribe();
    http.expectOne('/api/requirements').flush([tee, front, back]);
    for (const { id } of [front, back]) editor.choose(id);
    editor.desk.edit(removeTarget('tee'));
    maker.picture(badge);
    expect(editor.targets().map(({ design }) => design.layers[0].hidden)).toEqual([false, false]);
    maker.shape('star');
    expect(editor.current()?.requirement.id).toBe('back');
    expect(editor.targets().map(({ design }) => design.layers[1].hidden)).toEqual([true, false]);
  });

  it('calls a design without art not begun, and asks nothing of it', () => {
    expect(editor.stateOf(editor.current()!)).toBe('not-begun');
    expect(editor.toMend()).toBe(0);
  });

  it('gives what is new a colour that reads against the cloth and whatever lies under it', () => {
    maker.shape('rectangle');
    const first = editor.layers()[0] as ShapeLayer;
    expect(contrast(rgbOf(first.fill as string), rgbOf(editor.current()!.garment))).toBeGreaterThan(3);
    maker.shape('ellipse');
    const second = editor.layers()[1] as ShapeLayer;
    expect(contrast(rgbOf(second.fill as string), rgbOf(first.fill as string))).toBeGreaterThan(3);
  });

  it('nudges by exactly one pixel of the canvas, a held key as one step', () => {
    maker.picture(badge);
    editor.desk.settle();
    const { x } = shown();
    for (let i = 0; i < 5; i++) editor.nudge(1, 0);
    expect(shown().x - x).toBeCloseTo((5 * 25.4) / 300, 6);
    editor.desk.undo();
    expect(shown().x).toBeCloseTo(x, 6);
  });

  it('moves every target, or one alone', () => {
    maker.picture(badge);
    editor.choose('mug');
    const before = editor.targets().map((one) => one.layout.toCanvas);
    const layers = editor.desk.document()!.layers;
    editor.onlyHere.set(true);
    editor.moveTo({ ...shown(), x: 5 });
    expect(editor.desk.document()!.layers).toBe(layers);
    expect(editor.targets()[0].layout.toCanvas).toEqual(before[0]);
    expect(editor.targets()[1].layout.toCanvas).not.toEqual(before[1]);
    editor.onlyHere.set(false);
    editor.placeUsual('centre');
    expect(editor.desk.document()!.layers).not.toBe(layers);
  });

  it('takes exact numbers in printed millimetres whatever the target’s scale', () => {
    maker.picture(badge);
    editor.choose('mug');
    editor.placeSelected({ width: 40, height: 40 });
    expect(shown().width).toBeCloseTo(40, 6);
  });

  it('finds, counts and mends', () => {
    maker.picture(badge);
    editor.placeSelected({ width: 254, height: 254 });
    expect(editor.selectedFindings().map((finding) => finding.code)).toContain('enlarged');
    expect(editor.stateOf(editor.current()!)).toBe('needs-work');
    editor.mend(
      editor.selectedFindings().find((finding) => finding.code === 'enlarged')!,
      editor.current()!,
    );
    expect(editor.current()!.findings.map((finding) => finding.code)).not.toContain('enlarged');
  });

  it('puts a shape in front', () => {
    maker.picture(badge);
    maker.shape('star');
    const star = editor.selected();
    expect(star).toEqual(jasmine.objectContaining({ kind: 'shape', shape: 'star' }));
    expect(editor.desk.document()!.layers.at(-1)).toBe(star!);
    expect(editor.colours()[0]).toBe('#f2bd4b');
  });
});
