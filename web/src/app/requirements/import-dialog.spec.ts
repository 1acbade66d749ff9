import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { ImportPlan } from '@kettle/contract';
import { ImportDialog } from './import-dialog';

describe('taking in requirements', () => {
  let fixture: ComponentFixture<ImportDialog>;
  let http: HttpTestingController;
  const closed: unknown[] = [];
  beforeEach(() => {
    closed.length = 0;
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: MAT_DIALOG_DATA, useValue: { filename: 'library.csv', text: 'a,b' } },
        { provide: MatDialogRef, useValue: { close: (value: unknown) => closed.push(value) } },
      ],
    });
    fixture = TestBed.createComponent(ImportDialog);
    http = TestBed.inject(HttpTestingController);
  });
  const page = (): HTMLElement => fixture.nativeElement as HTMLElement;
  const take = (): HTMLButtonElement =>
    [...page().querySelectorAll('button')].find((one) => /Take it in/.test(one.textContent!))!;
  const planned = async (plan: ImportPlan): Promise<void> => {
    const asked = http.expectOne('/api/requirements/import');
    expect(asked.request.body).toEqual({ text: 'a,b', apply: false });
    asked.flush(plan);
    await fixture.whenStable();
  };

  it('shows what would be otherwise before it is, and does it on a press', async () => {
    await planned({
      rows: [
        {
          row: 2,
          channel: 'Larkpost',
          name: 'Tee',
          state: 'changed',
          changes: [{ column: 'dpi', from: '300', to: '150' }],
        },
        { row: 3, channel: 'Larkpost', name: 'Mug', state: 'new', changes: [] },
        { row: 4, channel: 'Larkpost', name: 'Tote', state: 'same', changes: [] },
      ],
      faults: [],
    });
    expect(page().textContent).toContain('1 new, 1 changed, 1 the same');
    expect(page().textContent).toMatch(/dpi:\s*300\s*→ 150/);
    expect(page().textContent).not.toContain('Tote');
    take().click();
    const asked = http.expectOne('/api/requirements/import');
    expect(asked.request.body).toEqual({ text: 'a,b', apply: true });
    asked.flush({ rows: [], faults: [] });
    expect(closed).toEqual([true]);
  });

  it('takes nothing in where something is wrong, and says where', async () => {
    await planned({
      rows: [{ row: 2, channel: 'A', name: 'B', state: 'new', changes: [] }],
      faults: [{ row: 7, column: 'width', sentence: '“=1+1” is a formula of a spreadsheet.' }],
    });
    expect(page().querySelector('[role=alert]')!.textContent).toMatch(/Row 7, width.*formula/s);
    expect(take().disabled).toBeTrue();
  });

  it('says when all of it is there already', async () => {
    await planned({ rows: [{ row: 2, channel: 'A', name: 'B', state: 'same', changes: [] }], faults: [] });
    expect(page().textContent).toContain('in the library already');
    expect(take().disabled).toBeTrue();
  });
});
