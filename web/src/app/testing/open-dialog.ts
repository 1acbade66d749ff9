import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { registerIcons } from '../icons/icons';
import { HEARD } from './heard';

/** What a dialog stands in: a server that answers when it is told to, and what it closes with. Call within beforeEach. */
export function openDialog(
  data: unknown,
  providers: unknown[] = [],
): { readonly http: HttpTestingController; readonly closed: unknown[] } {
  const closed: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideHttpClient(),
      provideHttpClientTesting(),
      ...HEARD,
      { provide: MAT_DIALOG_DATA, useValue: data },
      { provide: MatDialogRef, useValue: { close: (result: unknown) => closed.push(result) } },
      ...(providers as never[]),
    ],
  });
  registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
  return { http: TestBed.inject(HttpTestingController), closed };
}
