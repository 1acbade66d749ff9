import { TestBed } from '@angular/core/testing';
import type { Editor } from '../editor/editor';
import { InPage } from '../testing/in-page';
import { badge, openEditor, shirt } from '../testing/open-editor';
import { MockupEditor } from './mockup-editor';
import { SceneFrame } from './scene-frame';

describe('the frame of a picture', () => {
  let editor: Editor;
  let mockup: MockupEditor;
  let page: InPage<SceneFrame>;
  const crop = () => editor.desk.document()!.scene?.crop;
  beforeEach(async () => {
    const opened = openEditor({ targets: [{ requirementId: 'tee' }] }, [MockupEditor]);
    ({ editor } = opened);
    mockup = TestBed.inject(MockupEditor);
    opened.http.expectOne('/api/blanks').flush([shirt]);
    opened.maker.picture(badge);
    page = await InPage.show(SceneFrame);
  });

  it('is all there is at first; a shape begins as the portrait that shops ask for, and is changed by a press', async () => {
    expect(page.buttons).toEqual([]);
    await page.enter('Picture shows', 'whole');
    expect(crop()).toEqual({ of: 'whole', shape: '4:5' });
    await page.press('1:1');
    expect(crop()).toEqual({ of: 'whole', shape: '1:1' });
    await page.enter('Picture shows', 'print');
    expect(crop()).toEqual({ of: 'print', shape: '1:1' });
    expect(mockup.framing()).toBeFalse();
    await page.enter('Picture shows', 'all');
    expect(crop()).toBeUndefined();
  });

  it('is a step back each time', async () => {
    await page.enter('Picture shows', 'whole');
    await page.enter('Picture shows', 'print');
    editor.desk.undo();
    expect(crop()).toEqual({ of: 'whole', shape: '4:5' });
    editor.desk.undo();
    expect(crop()).toBeUndefined();
  });

  it('is set on all of the blank when it is one’s own', async () => {
    await page.enter('Picture shows', 'box');
    expect(mockup.framing()).toBeTrue();
    await page.press('See it as it is made');
    expect(mockup.framing()).toBeFalse();
  });

  it('has measures on it in the unit that is chosen, or none', async () => {
    await page.enter('Measures of the ink', 'cm');
    expect(editor.desk.document()!.scene?.measured).toBe('cm');
    await page.enter('Measures of the ink', '');
    expect(editor.desk.document()!.scene?.measured).toBeUndefined();
  });
});
