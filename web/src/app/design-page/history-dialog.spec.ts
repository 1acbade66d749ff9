import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { RevisionRow } from '@kettle/contract';
import { emptyDesign } from '@kettle/core/model';
import { Notices } from '../data/notices';
import { InPage } from '../testing/in-page';
import { openEditor } from '../testing/open-editor';
import type { Editor } from '../editor/editor';
import { DesignMenu } from './design-menu';
import { HistoryDialog } from './history-dialog';

const ROWS: readonly RevisionRow[] = [
  { revision: 4, savedAt: '2026-11-25T20:04:00.000Z', name: null },
  { revision: 2, savedAt: '2026-11-25T20:02:00.000Z', name: 'Before the rain' },
] as RevisionRow[];

describe('earlier revisions of a design', () => {
  let editor: Editor;
  let http: HttpTestingController;
  let page: InPage<HistoryDialog>;
  const close = jasmine.createSpy('close');
  beforeEach(async () => {
    close.calls.reset();
    ({ editor, http } = openEditor({}, [
      { provide: MatDialogRef, useValue: { close } },
      { provide: MAT_DIALOG_DATA, useFactory: () => editor.desk },
    ]));
    page = await InPage.show(HistoryDialog);
    http.expectOne('/api/designs/d1/revisions').flush(ROWS);
    await page.fixture.whenStable();
  });

  it('stand newest first with picture and time, and the newest cannot be brought back', () => {
    expect(page.element.querySelectorAll('li').length).toBe(2);
    expect(page.text).toContain('revision 4, as it is now');
    expect(page.button('Bring back revision 4').disabled).toBeTrue();
    expect(page.button('Bring back revision 2').disabled).toBeFalse();
    expect(page.element.querySelectorAll('img')[1].getAttribute('src')).toContain('/revisions/2/miniature');
  });

  it('with a name can be looked at alone, and a name is given by typing it', async () => {
    await page.press('With a name');
    expect(page.element.querySelectorAll('li').length).toBe(1);
    await page.press('Every revision');
    await page.enter('Name of revision 4', '  As sent  ');
    const call = http.expectOne(({ method, url }) => method !== 'GET' && url.includes('/revisions/4'));
    expect(call.request.body).toEqual({ name: 'As sent' });
    call.flush(null);
    await page.press('With a name');
    expect(page.element.querySelectorAll('li').length).toBe(2);
  });

  it('brought back are a change like any other, which undo takes away', async () => {
    await page.press('Bring back revision 2');
    const before = editor.desk.document()!;
    http
      .expectOne('/api/designs/d1/revisions/2')
      .flush({ revision: 2, document: { ...emptyDesign('As it was'), targets: [] } });
    expect(editor.desk.document()!.name).toBe('As it was');
    expect(close).toHaveBeenCalled();
    editor.desk.undo();
    expect(editor.desk.document()).toEqual(before);
  });

  it('that do not come are told, and the design stays', async () => {
    const complain = spyOn(TestBed.inject(Notices), 'complain');
    const before = editor.desk.document();
    await page.press('Bring back revision 2');
    http.expectOne('/api/designs/d1/revisions/2').flush('', { status: 503, statusText: 'away' });
    expect(complain).toHaveBeenCalled();
    expect(editor.desk.document()).toBe(before);
    expect(close).not.toHaveBeenCalled();
  });
});

describe('a design as a whole', () => {
  it('is offered as files, of its own target where layers go to another program', async () => {
    openEditor();
    const page = await InPage.show(DesignMenu);
    await page.press('This design as a file');
    const links = [...document.querySelectorAll<HTMLAnchorElement>('a[mat-menu-item]')].map((one) =>
      one.getAttribute('href'),
    );
    expect(links).toEqual(['/api/designs/d1/file?as=kettle', '/api/designs/d1/file?as=ora&requirement=tee']);
  });

  it('becomes a starting point for others, and is none after undo', async () => {
    const { editor } = openEditor();
    const page = await InPage.show(DesignMenu);
    const say = spyOn(TestBed.inject(Notices), 'say');
    const toggle = async () => {
      await page.press('This design as a file');
      document.querySelector<HTMLButtonElement>('button[mat-menu-item]')!.click();
      await page.fixture.whenStable();
    };
    await toggle();
    expect(editor.desk.document()!.template).toBeTrue();
    say.calls.mostRecent().args[1]!.run();
    expect(editor.desk.document()!.template).toBeFalsy();
  });
});
