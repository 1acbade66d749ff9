import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal, type Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { ActivatedRoute, convertToParamMap } from '@angular/router';
import { emptyDesign, type Requirement } from '@kettle/core/model';
import { Editor } from '../editor/editor';
import { RequirementShelf } from '../data/requirement-shelf';
import { registerIcons } from '../icons/icons';

/** A desk of the station Hand-over with the design `d` on the bench and nobody else. */
export function openDesk<T>(
  component: Type<T>,
  requirements: readonly Requirement[],
): { readonly fixture: ComponentFixture<T>; readonly http: HttpTestingController; readonly page: HTMLElement } {
  const targets = requirements.map(({ id }) => ({ requirementId: id }));
  const desk = {
    id: signal('d'),
    revision: signal(1),
    document: signal({ ...emptyDesign('Mostly Drizzle'), targets }),
  };
  // What another specification left in a form is not of this one.
  localStorage.clear();
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideHttpClient(),
      provideHttpClientTesting(),
      { provide: ActivatedRoute, useValue: { snapshot: { queryParamMap: convertToParamMap({}) } } },
      { provide: Editor, useValue: { desk } },
      { provide: RequirementShelf, useValue: { all: signal(requirements) } },
    ],
  });
  registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
  const http = TestBed.inject(HttpTestingController);
  const fixture = TestBed.createComponent(component);
  const page = fixture.nativeElement as HTMLElement;
  document.body.append(page);
  return { fixture, http, page };
}
