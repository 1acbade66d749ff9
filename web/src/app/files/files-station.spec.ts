import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { PrintFile } from '@kettle/contract';
import type { Editor } from '../editor/editor';
import { badge, openEditor } from '../testing/open-editor';
import { rename } from '@kettle/core/document';
import { FilesStation } from './files-station';

const file = (change: Partial<PrintFile> = {}): PrintFile => ({
  id: 'f1',
  designId: 'd1',
  requirementId: 'tee',
  filename: 'Badge-Tee.png',
  mediaType: 'image/png',
  recipe: 'cd'.repeat(32),
  sha256: 'ab'.repeat(32),
  bytes: 1_440_000,
  accepted: true,
  version: null,
  standsFor: [null],
  outOfDate: false,
  madeAt: '2026-11-25T20:01:00.000Z',
  certificate: [
    {
      demand: 'DPI',
      demanded: '300 DPI in both axes',
      found: '300 DPI in both axes',
      ok: true,
      reason: 'The file stores 11,811 whole pixels per metre.',
    },
    { demand: 'File size', demanded: 'at most 1 MB', found: '1.4 MB', ok: false },
  ],
  ...change,
});

describe('the files station', () => {
  let editor: Editor;
  let http: HttpTestingController;
  let fixture: ComponentFixture<FilesStation>;
  let page: HTMLElement;
  beforeEach(async () => {
    const opened = openEditor({ targets: [{ requirementId: 'tee' }, { requirementId: 'mug' }] });
    ({ editor, http } = opened);
    opened.maker.picture(badge);
    editor.desk.whenSaved().subscribe();
    const put = http.expectOne((request) => request.method === 'PUT');
    put.flush({ id: 'd1', revision: 1, savedAt: '2026-11-25T20:00:01.000Z', document: put.request.body });
    fixture = TestBed.createComponent(FilesStation);
    page = fixture.nativeElement as HTMLElement;
    await fixture.whenStable();
  });
  const button = (label: RegExp) =>
    [...page.querySelectorAll('button')].find((one) => label.test(one.textContent ?? ''))!;
  const give = async (files: PrintFile[]) => {
    editor.printFiles.set(files);
    await fixture.whenStable();
  };

  it('makes all that is missing, or one', () => {
    button(/Make 2 print files/).click();
    expect(http.expectOne('/api/designs/d1/print-files').request.body).toEqual({
      requirementIds: ['tee', 'mug'],
      revision: 1,
    });
    button(/Make this print file/).click();
    expect(http.expectOne('/api/designs/d1/print-files').request.body).toEqual({
      requirementIds: ['tee'],
      revision: 1,
    });
  });

  it('saves first what is not saved yet, and makes files of that very revision', async () => {
    editor.desk.edit(rename('Renamed just now'));
    await fixture.whenStable();
    button(/Make this print file/).click();
    http.expectNone('/api/designs/d1/print-files');
    const put = http.expectOne((request) => request.method === 'PUT');
    put.flush({ id: 'd1', revision: 2, savedAt: '2026-11-25T20:00:01.000Z', document: put.request.body });
    expect(http.expectOne('/api/designs/d1/print-files').request.body).toEqual({
      requirementIds: ['tee'],
      revision: 2,
    });
  });

  it('shows each demand beside what was found, and why a value may surprise', async () => {
    await give([file()]);
    const rows = [...page.querySelectorAll('tbody tr')].map((row) => row.textContent);
    expect(rows[0]).toContain('300 DPI in both axes');
    expect([...page.querySelectorAll('td mat-icon')].map((icon) => icon.getAttribute('aria-label'))).toEqual([
      'met',
      'not met',
    ]);
    button(/why/).click();
    await fixture.whenStable();
    expect(page.textContent).toContain('11,811 whole pixels per metre');
    expect(page.querySelector('code')?.textContent).toBe('ab'.repeat(32));
    expect(page.querySelector<HTMLAnchorElement>('header a')?.getAttribute('download')).toBe('Badge-Tee.png');
  });

  it('says accepted, missed or out of date', async () => {
    await give([file()]);
    expect(page.querySelector('article h3')?.textContent?.trim()).toBe('As Larkpost Market demands');
    await give([file({ accepted: false })]);
    expect(page.querySelector('article h3')?.textContent?.trim()).toBe('Misses a demand');
    await give([file({ outOfDate: true, standsFor: [] })]);
    expect(page.querySelector('article h3')?.textContent?.trim()).toBe('Out of date');
    button(/Make it again/).click();
    expect(http.expectOne('/api/designs/d1/print-files').request.body).toEqual({
      requirementIds: ['tee'],
      revision: 1,
    });
  });

  it('prefers the current file to an older one', async () => {
    await give([
      file({ id: 'old', outOfDate: true, standsFor: [], filename: 'old.png' }),
      file({ id: 'new', filename: 'new.png' }),
    ]);
    expect(page.querySelector<HTMLAnchorElement>('header a')?.getAttribute('href')).toBe(
      '/api/print-files/new/content',
    );
  });
});
