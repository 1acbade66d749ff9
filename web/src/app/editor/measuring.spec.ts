import type { HttpTestingController, TestRequest } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { ComponentFixture } from '@angular/core/testing';
import { ChecksStation } from '../checks/checks-station';
import { comes } from '../testing/comes';
import { badge, openEditor } from '../testing/open-editor';
import type { Editor } from './editor';
import { Measuring } from './measuring';

const nothing = {
  thin: { count: 0, where: [], thinnestMm: 1 },
  specks: { count: 0, where: [] },
  holes: { count: 0, where: [] },
  fade: { count: 0, where: [], widestMm: 0 },
  coverage: null,
  gamut: null,
};

describe('prints that are measured', () => {
  let http: HttpTestingController;
  let editor: Editor;
  let fixture: ComponentFixture<ChecksStation>;
  beforeEach(async () => {
    const opened = openEditor({ targets: [{ requirementId: 'tee' }, { requirementId: 'mug' }] });
    ({ http, editor } = opened);
    opened.maker.picture(badge);
    spyOn(editor.desk, 'state').and.returnValue('saved');
    fixture = TestBed.createComponent(ChecksStation);
    TestBed.inject(Measuring);
    await fixture.whenStable();
  });
  const said = (): string => (fixture.nativeElement as HTMLElement).textContent!.replace(/\s+/g, ' ');
  const asked = (): Promise<TestRequest> => comes(http, (one) => one.url.includes('/measure'));

  it('are not called fine before they are, nor when they could not be, and are tried again by themselves', async () => {
    expect(said()).not.toContain('Nothing to mend on any target.');
    expect(said()).toContain('The prints are not measured yet.');
    (await asked()).flush({ revision: 1, measured: nothing });
    await fixture.whenStable();
    expect(said()).toContain('1 of 2 prints is not measured yet.');
    (await asked()).flush('gone', { status: 503, statusText: 'Away' });
    await fixture.whenStable();
    expect(said()).toContain('1 of 2 prints could not be measured.');
    (await asked()).flush({ revision: 1, measured: nothing });
    await fixture.whenStable();
    expect(said()).not.toContain('measured');
  });
});
