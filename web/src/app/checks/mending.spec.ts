import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import type { PictureLayer } from '@kettle/core/model';
import { pictureLayer } from '@kettle/core/document';
import type { Finding } from '@kettle/core/checks';
import { of } from 'rxjs';
import type { Editor } from '../editor/editor';
import { HEARD, Heard } from '../testing/heard';
import { badge, openEditor } from '../testing/open-editor';
import { Mending } from './mending';

const FIELD = { width: 355.6, height: 406.4 };
const rain = pictureLayer('r', 'Rain', badge, FIELD);
const outside = { ...rain, place: { ...rain.place, x: 5, y: 5 } };

describe('findings that are mended', () => {
  let editor: Editor;
  let mending: Mending;
  const dialog = { open: jasmine.createSpy('open') };
  beforeEach(() => {
    ({ editor } = openEditor(
      {
        field: FIELD,
        layers: [outside],
        targets: [{ requirementId: 'tee', canvas: { widthPx: 4000, heightPx: 4800, dpi: 300 } }],
      },
      [...HEARD, { provide: MatDialog, useValue: dialog }],
    ));
    mending = TestBed.inject(Mending);
  });

  it('all at once where nothing is chosen, as one step back, and says what was done', () => {
    expect(mending.withoutChoice().length).toBeGreaterThan(1);
    mending.mendAll();
    expect(mending.withoutChoice()).toEqual([]);
    expect(editor.desk.document()!.targets[0].canvas).toBeUndefined();
    expect(editor.desk.document()!.layers[0].place.x).toBeGreaterThan(5);
    expect(TestBed.inject(Heard).last).toMatch(/^Done: .+\.$/);
    TestBed.inject(Heard).takeUp();
    expect(editor.desk.document()!.layers[0].place).toEqual(outside.place);
    expect(editor.desk.document()!.targets[0].canvas).toEqual({ widthPx: 4000, heightPx: 4800, dpi: 300 });
  });

  it('by redrawing a picture: its outlines lie where it lay, and it stays, hidden', () => {
    const parts = [{ path: 'M0 0L9 0L9 9Z', fill: '#f2bd4b' }];
    dialog.open.and.returnValue({ afterClosed: () => of({ parts, box: { width: 9, height: 9 }, differing: 0 }) });
    const finding = { code: 'x', layerId: 'r', fix: { kind: 'trace', layerId: 'r', label: 'Redraw' } };
    mending.mend(finding as unknown as Finding, editor.current()!);
    const [picture, outlines] = editor.desk.document()!.layers;
    expect([picture.id, picture.hidden]).toEqual(['r', true]);
    expect(outlines).toEqual(jasmine.objectContaining({ kind: 'graphic', place: outside.place, parts, hidden: false }));
    expect(editor.selection()).toEqual([outlines.id]);
    editor.desk.undo();
    expect(editor.desk.document()!.layers).toEqual([outside as PictureLayer]);
  });

  it('where the picture or the colours are looked at, when that is what it takes', () => {
    const finding = (kind: string) => ({ code: 'x', fix: { kind, layerId: 'r', label: '' } }) as unknown as Finding;
    mending.mend(finding('cut-out'), editor.current()!);
    expect(editor.place()).toEqual({ kind: 'picture', layerId: 'r' });
    mending.mend(finding('colours'), editor.current()!);
    expect(editor.place()).toEqual({ kind: 'colours' });
  });
});
