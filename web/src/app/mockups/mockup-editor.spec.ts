import { TestBed } from '@angular/core/testing';
import type { Editor } from '../editor/editor';
import { badge, cup, openEditor, shirt } from '../testing/open-editor';
import { MockupEditor } from './mockup-editor';

describe('the mockup bench', () => {
  let editor: Editor;
  let mockup: MockupEditor;
  beforeEach(() => {
    const opened = openEditor({ targets: [{ requirementId: 'tee', garment: '#1B1B1D' }, { requirementId: 'mug' }] }, [
      MockupEditor,
    ]);
    editor = opened.editor;
    mockup = TestBed.inject(MockupEditor);
    opened.http.expectOne('/api/blanks').flush([shirt, cup]);
    opened.maker.picture(badge);
  });

  it('begins with the product of the chosen target, in the colour it is sold on', () => {
    expect(mockup.blank()?.id).toBe('tee-front');
    expect(mockup.scene()?.garment).toBe('#1B1B1D');
    editor.choose('mug');
    expect(mockup.blank()?.id).toBe('mug-front');
  });

  it('shows the print file that was made for the product', () => {
    expect(mockup.requirement()?.id).toBe('tee');
    mockup.show(cup);
    expect(mockup.requirement()?.id).toBe('mug');
    mockup.change({ requirementId: 'tee' });
    expect(mockup.requirement()?.id).toBe('tee');
  });

  it('has the art in true millimetres on a shirt', () => {
    // 76.2 mm wide, in the middle of a print area of 300.
    expect(mockup.art()!.width).toBeCloseTo(76.2, 6);
    expect(mockup.art()!.x + mockup.art()!.width / 2).toBeCloseTo(150, 6);
    expect(mockup.placement()?.factor).toBe(1);
  });

  it('makes the art as large as the area and the print file hold it, in one step', () => {
    mockup.fitArea();
    // 6 mm inside the area at the sides; 10 mm below the top, where the print file’s safe line lies.
    const art = mockup.art()!;
    expect([art.x, art.y, art.width, art.height].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([6, 10, 288, 288]);
    expect(mockup.placement()?.factor).toBe(1);
    editor.desk.undo();
    expect(mockup.art()!.width).toBeCloseTo(76.2, 6);
    // On a mug in the middle of its wrap: as high as both safe lines leave it, to its left and right as much.
    mockup.show(cup);
    mockup.change({ requirementId: 'mug' });
    mockup.fitArea();
    const wrapped = mockup.art()!;
    expect(wrapped.height).toBeCloseTo(84, 6);
    expect(wrapped.x + wrapped.width / 2).toBeCloseTo(105, 6);
    expect(wrapped.y).toBeCloseTo(3, 6);
  });

  it('moves and resizes the very placement that the canvas has', () => {
    mockup.moveArt({ x: 100, y: 40, width: 120, height: 120 }, 'drag');
    const art = mockup.art()!;
    expect([art.x, art.y, art.width].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([100, 40, 120]);
    const onCanvas = editor.movedBox()!;
    expect(onCanvas.width).toBeCloseTo(120, 6);
    expect(onCanvas.x).toBeCloseTo(100 + (355.6 - 300) / 2, 6);
    mockup.settle();
    editor.desk.undo();
    expect(mockup.art()!.width).toBeCloseTo(76.2, 6);
  });

  it('is shown smaller where the area would cut it off, holds still under a hand, and shows its true size when that is wished', () => {
    mockup.moveArt({ x: 20, y: 300, width: 200, height: 200 }, 'drag');
    mockup.settle();
    const { factor, shrunk } = mockup.placement()!;
    expect(shrunk).toBeTrue();
    // What lies off the canvas is not printed: 400.5 of its 406.4 mm fit.
    expect(factor).toBeCloseTo(400.5 / 406.4, 6);
    mockup.hold();
    mockup.moveArt({ ...mockup.art()!, y: 10 }, 'drag');
    expect(mockup.placement()!.factor).toBe(factor);
    mockup.settle();
    expect(mockup.placement()!.factor).toBe(1);
    mockup.moveArt({ x: 20, y: 350, width: 200, height: 200 }, 'drag');
    mockup.settle();
    mockup.showTrueSize(true);
    expect(mockup.placement()!.factor).toBe(1);
    mockup.moveInside();
    const art = mockup.art()!;
    expect(art.y + art.height).toBeLessThanOrEqual(394.0001);
  });

  it('keeps its look with the design, and forgets the set of colours with another blank', () => {
    mockup.change({ backdrop: '#336699' });
    expect(editor.desk.document()?.scene).toEqual(
      jasmine.objectContaining({ blankId: 'tee-front', backdrop: '#336699', garment: '#1B1B1D' }),
    );
    mockup.setOf.set(new Set(['Soot']));
    mockup.show(cup);
    expect(mockup.setOf().size).toBe(0);
    expect(mockup.area()?.id).toBe('wrap');
  });

  it('takes what was chosen of the look along to another blank and back, and leaves each blank its own ways', () => {
    mockup.change({
      backdrop: '#336699',
      shadow: 0.2,
      look: { folds: 0.3 },
      behind: { kind: 'gradient', to: '#112233', turn: 0 },
    });
    mockup.change({ own: { x: 5, y: 0, factor: 1 } });
    mockup.show(cup);
    expect(mockup.scene()).toEqual(
      jasmine.objectContaining({
        blankId: 'mug-front',
        areaId: 'wrap',
        backdrop: '#336699',
        shadow: 0.2,
        look: { folds: 0.3 },
        behind: { kind: 'gradient', to: '#112233', turn: 0 },
      }),
    );
    // Where it lay on the shirt is the shirt's; the cup does not come in the shirt's colour.
    expect(mockup.scene()?.own).toBeUndefined();
    expect(cup.colourways.map(({ hex }) => hex)).toContain(mockup.scene()!.garment);
    mockup.change({ shadow: 0.4 });
    mockup.show(shirt);
    expect(mockup.scene()).toEqual(
      jasmine.objectContaining({ blankId: 'tee-front', shadow: 0.4, own: { x: 5, y: 0, factor: 1 } }),
    );
    // What was never chosen is no choice: each blank has its own.
    mockup.change({ backdrop: shirt.backdrop, shadow: shirt.shadowStrength });
    mockup.show({ ...cup, backdrop: '#ffffff', shadowStrength: 0.1 });
    expect([mockup.scene()?.backdrop, mockup.scene()?.shadow]).toEqual(['#ffffff', 0.1]);
  });

  it('places a print for one scene alone: the print file stays, and one press drops it again', () => {
    const before = JSON.stringify([editor.desk.document()!.layers, editor.desk.document()!.targets]);
    const art = mockup.art()!;
    mockup.placeForItself(true);
    expect(mockup.art()).toEqual(art);
    mockup.moveArt({ x: art.x + 30, y: art.y + 12, width: art.width * 1.5, height: art.height * 1.5 }, 'own');
    const moved = mockup.art()!;
    expect([moved.x - art.x, moved.y - art.y, moved.width / art.width].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      30, 12, 1.5,
    ]);
    // Again from there, smaller and back: what is moved adds up.
    mockup.moveArt(art, 'own again');
    expect(mockup.art()!.x).toBeCloseTo(art.x, 6);
    expect(mockup.art()!.width).toBeCloseTo(art.width, 6);
    expect(JSON.stringify([editor.desk.document()!.layers, editor.desk.document()!.targets])).toBe(before);
    mockup.placeForItself(false);
    expect(mockup.scene()?.own).toBeUndefined();
  });

  it('frames a picture in the blank’s own shares, never beyond it', () => {
    const { width, height } = mockup.blank()!;
    mockup.frameAs({ x: -50, y: height * 0.9, width: width * 0.5, height: height * 0.5 });
    const crop = mockup.scene()!.crop!;
    expect(crop.of).toBe('box');
    const { box } = crop as Extract<typeof crop, { of: 'box' }>;
    expect(box).toEqual({ x: 0, y: 0.5, width: 0.5, height: 0.5 });
    editor.desk.undo();
    expect(mockup.scene()?.crop).toBeUndefined();
  });
});
