import { TestBed } from '@angular/core/testing';
import type { Target } from '@kettle/core/model';
import type { Editor } from '../editor/editor';
import { Preferences } from '../data/preferences';
import { InPage } from '../testing/in-page';
import { openEditor } from '../testing/open-editor';
import { FitDetails } from './fit-details';

describe('how a design lies on a target', () => {
  let editor: Editor;
  let page: InPage<FitDetails>;
  const target = (id: string): Target => editor.desk.document()!.targets.find((one) => one.requirementId === id)!;
  beforeEach(async () => {
    ({ editor } = openEditor({ targets: [{ requirementId: 'tee' }, { requirementId: 'mug' }] }));
    TestBed.inject(Preferences).unit.set('mm');
    page = await InPage.show(FitDetails);
  });

  it('says what is demanded and how large it is printed', () => {
    expect(page.text).toContain('4200 × 4800 px');
    expect(page.text).toContain('at 300 DPI, printed 356 × 406 mm');
  });

  it('is changed on this target alone, and is again as the requirement has it', async () => {
    await page.press('Cover');
    await page.press('Bottom');
    await page.enter('Enlarge', '112,5');
    await page.enter('Shift right', '-4');
    expect(target('tee').placement).toEqual({ rule: 'cover', anchor: 'bottom', scale: 1.125, offsetX: -4, offsetY: 0 });
    expect(target('mug').placement).toBeUndefined();
    await page.press('As the requirement has it');
    expect(target('tee').placement).toBeUndefined();
    expect(page.text).not.toContain('Placed on its own.');
  });

  it('refuses an enlargement that is none, and keeps the old one', async () => {
    await page.enter('Enlarge', '0');
    expect(page.element.querySelector('[role=alert]')).not.toBeNull();
    expect(target('tee').placement).toBeUndefined();
  });

  it('lets a canvas differ from what is demanded, and says nothing of one that does not', async () => {
    await page.enter('Width', '4000');
    expect(target('tee').canvas).toEqual({ widthPx: 4000, heightPx: 4800, dpi: 300 });
    await page.enter('Width', '4200');
    expect(target('tee').canvas).toBeUndefined();
    await page.enter('Width', '40000');
    expect(target('tee').canvas).toBeUndefined();
  });

  it('moves every target together when that is wished', async () => {
    await page.press('Only this target');
    expect([editor.onlyHere(), page.button('Every target').getAttribute('aria-pressed')]).toEqual([true, 'false']);
    await page.press('Every target');
    expect(editor.onlyHere()).toBeFalse();
  });
});
