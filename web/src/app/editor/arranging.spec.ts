import { TestBed } from '@angular/core/testing';
import type { Layer } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { openEditor } from '../testing/open-editor';
import { Arranging } from './arranging';
import type { Editor } from './editor';

const field = { width: 355.6, height: 406.4 };
const square = (id: string, x: number, y: number, size = 40): Layer => ({
  ...shapeLayer(id, 'rectangle', field, '#f2bd4b'),
  name: id,
  place: { x, y, width: size, height: size, turn: 0, flipX: false, flipY: false },
});

describe('arranging', () => {
  let editor: Editor;
  let arranging: Arranging;
  beforeEach(() => {
    ({ editor } = openEditor({ layers: [square('a', 60, 60), square('b', 140, 100, 20), square('c', 300, 80)] }));
    arranging = TestBed.inject(Arranging);
  });
  const place = (id: string) => editor.desk.document()!.layers.find((layer) => layer.id === id)!.place;
  const ids = () => editor.desk.document()!.layers.map((layer) => (layer.id.length > 3 ? 'new' : layer.id));

  it('lines one up with the safe area, and several with each other', () => {
    editor.select(['a']);
    arranging.align('left');
    expect(place('a').x).toBeCloseTo(30, 6);
    editor.select(['a', 'b', 'c']);
    arranging.align('bottom');
    expect(['a', 'b', 'c'].map((id) => place(id).y + place(id).height / 2)).toEqual([110, 110, 110]);
    arranging.spread('x', 'gaps');
    expect(place('b').x - 10 - (place('a').x + 20)).toBeCloseTo(place('c').x - 20 - (place('b').x + 10), 6);
    arranging.match('width');
    expect(place('b').width).toBe(40);
    expect(editor.desk.canUndo()).toBeTrue();
  });

  it('groups, selects the group whole, mirrors it as one, and lets it go', () => {
    editor.select(['a', 'b']);
    arranging.group();
    editor.select(['b']);
    expect(editor.selection()).toEqual(['a', 'b']);
    expect(arranging.isGroup()).toBeTrue();
    arranging.flip('flipX');
    // The box runs from 40 to 150: what was at its left end is at its right end.
    expect([place('a').x, place('a').flipX]).toEqual([130, true]);
    arranging.ungroup();
    editor.select(['b']);
    expect(editor.selection()).toEqual(['b']);
  });

  it('leaves locked layers out of moves and deletions, and says so', () => {
    arranging.lock(['a'], true);
    editor.select(['a']);
    editor.moveTo({ x: 5, y: 5, width: 40, height: 40 });
    expect(place('a').x).toBe(60);
    editor.select(['a', 'b']);
    arranging.remove();
    expect(ids()).toEqual(['a', 'c']);
    expect(editor.selection()).toEqual(['a']);
  });

  it('adds to a selection and takes away from it', () => {
    editor.select(['a']);
    editor.select(['c'], true);
    expect(editor.selection()).toEqual(['a', 'c']);
    editor.select(['a'], true);
    expect(editor.selection()).toEqual(['c']);
    arranging.selectAll();
    expect(editor.selection()).toEqual(['a', 'b', 'c']);
    arranging.order('back');
    editor.select(['a']);
    arranging.order('front');
    expect(ids()).toEqual(['b', 'c', 'a']);
    arranging.duplicate();
    expect(ids()).toEqual(['b', 'c', 'a', 'new']);
  });

  it('copies to a clipboard and pastes from it, words for other programs beside', () => {
    editor.select(['a', 'b']);
    const clipboard = new DataTransfer();
    expect(arranging.copy(clipboard)).toBeTrue();
    expect(arranging.paste(clipboard)).toBeTrue();
    expect(ids()).toEqual(['a', 'b', 'c', 'new', 'new']);
    expect(editor.held().map((layer) => layer.place.x)).toEqual([65, 145]);
    expect(arranging.paste(new DataTransfer())).toBeFalse();
    // Another page may write anything under our name.
    const foreign = new DataTransfer();
    foreign.setData('application/x-kettle-sheet-layers+json', '[{"kind":"shape","id":"<b>"}]');
    expect(arranging.paste(foreign)).toBeTrue();
    expect(ids().length).toBe(5);
    editor.select([]);
    expect(arranging.copy(clipboard)).toBeFalse();
  });

  it('keeps changes of one target to it', () => {
    editor.choose('mug');
    editor.alone.set(true);
    editor.select(['a']);
    arranging.hide(['a'], true);
    editor.recolour(['a'], '#f2bd4b', '#112233');
    arranging.align('right');
    const [tee, mug] = editor.targets();
    expect(mug.design.layers[0]).toEqual(jasmine.objectContaining({ hidden: true, fill: '#112233' }));
    expect(tee.design.layers[0]).toEqual(jasmine.objectContaining({ hidden: false, fill: '#f2bd4b' }));
    expect(mug.design.layers[0].place.x).not.toBe(60);
    // What no target can have for itself goes to all of them.
    arranging.fade(0.5);
    expect(editor.targets().map((one) => one.design.layers[0].opacity)).toEqual([0.5, 0.5]);
    arranging.dropExceptions();
    expect(editor.targets()[1].design.layers[0]).toBe(editor.desk.document()!.layers[0]);
  });
});
