import { TestBed } from '@angular/core/testing';
import type { PrintFile } from '@kettle/contract';
import type { ShapeLayer } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { proposeVersion } from '@kettle/core/document';
import { badge, openEditor, tee } from '../testing/open-editor';
import { Arranging } from './arranging';
import type { Editor } from './editor';

const file = (change: Partial<PrintFile>): PrintFile => ({
  id: 'f',
  designId: 'd1',
  requirementId: 'tee',
  filename: 'x.png',
  mediaType: 'image/png',
  recipe: 'cd'.repeat(32),
  sha256: '',
  bytes: 1,
  accepted: true,
  version: null,
  standsFor: [],
  outOfDate: true,
  madeAt: '',
  certificate: [],
  ...change,
});

describe('Versions on the bench', () => {
  let editor: Editor;
  const dark: ShapeLayer = shapeLayer('s', 'ellipse', { width: 300, height: 300 }, '#15161a');
  beforeEach(() => {
    ({ editor } = openEditor({ layers: [dark], targets: [{ requirementId: 'tee' }] }));
    editor.edit(proposeVersion(editor.current()!.whole, tee, 'dark', {}));
    TestBed.tick();
  });
  const fillOf = (one = editor.current()!): unknown => (one.design.layers[0] as ShapeLayer).fill;

  it('are a card each, with a garment of their kind', () => {
    expect(editor.targets().map(({ key }) => key)).toEqual(['tee/light', 'tee/dark']);
    expect(editor.targets().map((one) => fillOf(one) === '#15161a')).toEqual([true, false]);
    editor.choose('tee', 'light');
    expect(editor.current()!.cloth).toBe('light');
    editor.choose('tee', 'dark');
    expect([editor.current()!.cloth, editor.current()!.garment]).toEqual(['dark', '#1B1B1D']);
  });

  it('are changed alone where changes reach no other', () => {
    editor.choose('tee', 'dark');
    editor.alone.set(true);
    editor.recolour(['s'], String(fillOf()), '#ff8800');
    expect(fillOf()).toBe('#ff8800');
    TestBed.inject(Arranging).hide(['s'], true);
    expect(editor.current()!.design.layers[0].hidden).toBeTrue();
    editor.choose('tee', 'light');
    expect([fillOf(), editor.current()!.design.layers[0].hidden]).toEqual(['#15161a', false]);
  });

  it('have a state each, by the files that stand for them', () => {
    // Opened as it is saved: the states are those of what was saved.
    const document = editor.desk.document()!;
    editor.desk.open({ id: 'd2', revision: 1, savedAt: '2026-11-27T20:00:00.000Z', document });
    editor.printFiles.set([file({ version: 'dark', standsFor: ['dark'], outOfDate: false })]);
    expect(editor.targets().map((one) => editor.stateOf(one))).toEqual(['out-of-date', 'ready']);
  });

  it('open a picture where it is made fit for cloth', () => {
    editor.treat('s');
    expect(editor.place()).toEqual({ kind: 'picture', layerId: 's' });
    expect(badge.id).toBe('a1');
  });
});
