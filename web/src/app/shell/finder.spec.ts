import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { Router } from '@angular/router';
import { registerIcons } from '../icons/icons';
import { InPage } from '../testing/in-page';
import { tee } from '../testing/open-editor';
import { Finder } from './finder';

describe('finding from anywhere', () => {
  let page: InPage<Finder>;
  let http: HttpTestingController;
  const navigate = jasmine.createSpy('navigate').and.resolveTo(true);
  const field = () => page.field('Find a design or requirement');
  const options = () =>
    [...document.querySelectorAll('mat-option')].map((one) =>
      [...one.querySelectorAll('b, small')].map((word) => word.textContent).join(' '),
    );
  const type = async (text: string) => {
    field().value = text;
    field().dispatchEvent(new Event('input', { bubbles: true }));
    await page.fixture.whenStable();
  };
  beforeEach(async () => {
    navigate.calls.reset();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: Router, useValue: { navigate } },
      ],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    page = await InPage.show(Finder);
    document.body.append(page.element);
  });
  afterEach(() => page.element.remove());
  const opened = async () => {
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '/', bubbles: true, cancelable: true }));
    TestBed.tick();
    http
      .expectOne((request) => request.url.startsWith('/api/sheet'))
      .flush({
        rows: [
          { designId: 'd1', name: 'Fog Signal', cells: [] },
          { designId: 'd2', name: 'Mostly Drizzle', cells: [] },
        ],
        requirements: [tee],
      });
    await page.fixture.whenStable();
  };

  it('begins at the slash key, but not while something else is typed', async () => {
    const other = document.createElement('input');
    document.body.append(other);
    other.dispatchEvent(new KeyboardEvent('keydown', { key: '/', bubbles: true, cancelable: true }));
    expect(document.activeElement).not.toBe(field());
    other.remove();
    await opened();
    expect(document.activeElement).toBe(field());
  });

  it('narrows by every word, in whatever order, and goes to what is chosen', async () => {
    await opened();
    await type('signal fog');
    expect(options()).toEqual(['Fog Signal design']);
    document.querySelector<HTMLElement>('mat-option')!.click();
    await page.fixture.whenStable();
    expect(navigate).toHaveBeenCalledWith(['/designs', 'd1', 'artwork']);
    expect(field().value).toBe('');
  });

  it('finds a requirement by its channel', async () => {
    await opened();
    await type('larkpost');
    expect(options()).toEqual(['Tee Larkpost Market']);
    document.querySelector<HTMLElement>('mat-option')!.click();
    await page.fixture.whenStable();
    expect(navigate).toHaveBeenCalledWith(['/requirements'], { queryParams: { open: 'tee' } });
  });

  it('finds nothing when the server is away, and asks again the next time', async () => {
    field().focus();
    TestBed.tick();
    http.expectOne((request) => request.url.startsWith('/api/sheet')).flush('', { status: 503, statusText: 'away' });
    await type('fog');
    expect(options()).toEqual([]);
    field().blur();
    field().focus();
    TestBed.tick();
    http.expectOne((request) => request.url.startsWith('/api/sheet'));
  });
});
