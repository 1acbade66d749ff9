import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import type { ClipFile } from '@kettle/contract';
import type { Clip } from '@kettle/core/model';
import type { ClipRequirement } from '@kettle/core/clip';
import { registerIcons } from '../icons/icons';
import { ClipEditor } from './clip-editor';
import { comes } from '../testing/comes';
import { ClipPlaces } from './clip-places';

const market: ClipRequirement = {
  id: 'market',
  revision: 1,
  shipped: true,
  channel: 'Larkpost Market',
  name: 'Listing clip',
  shapes: ['1:1'],
  files: ['webm'],
  leastSeconds: 5,
  mostSeconds: 15,
  mostBytes: 5e6,
  leastSide: 720,
  sound: 'any',
};
const own: ClipRequirement = { ...market, id: 'own', shipped: false, channel: 'Quillmere Shops', shapes: ['9:16'] };
const file = (change: Partial<ClipFile> = {}): ClipFile => ({
  id: 'f',
  designId: 'd',
  clipId: 'c',
  filename: 'Drizzle.webm',
  bytes: 3e6,
  mediaType: 'video/webm',
  shape: '1:1',
  file: 'webm',
  cover: false,
  side: 1080,
  outOfDate: false,
  madeAt: '2026-11-27T10:00:00Z',
  certificate: {
    container: 'webm',
    frames: 192,
    seconds: 8,
    width: 1080,
    height: 1080,
    video: 'VP9',
    sound: 'Opus',
    soundSeconds: 8,
    sha256: '0'.repeat(64),
  },
  ...change,
});

describe('where a clip may go', () => {
  const clip = signal<Clip>({ id: 'c', name: 'Clip', shape: '1:1', scenes: [] });
  const frames = signal(192);
  let http: HttpTestingController;

  function show(files: readonly ClipFile[]) {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: ClipEditor, useValue: { clip, frames } },
      ],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    const fixture = TestBed.createComponent(ClipPlaces);
    fixture.componentRef.setInput('files', files);
    fixture.detectChanges();
    http.expectOne('/api/clip-requirements').flush([market, own]);
    fixture.detectChanges();
    const element = fixture.nativeElement as HTMLElement;
    element.querySelector('details')!.open = true;
    const places = () =>
      [...element.querySelectorAll('.place')].map((one) => one.textContent!.replace(/\s+/g, ' ').trim());
    const press = (words: string) => {
      const button = [...element.querySelectorAll('button')].find((one) => one.textContent!.trim() === words)!;
      button.click();
      fixture.detectChanges();
    };
    return { fixture, places, press };
  }

  it('says before it is made what each would refuse, and afterwards which file it takes', () => {
    expect(show([]).places()).toEqual([
      'Larkpost Market Listing clip would take it; it is not made yet',
      'Quillmere Shops Listing clip Its shape is square; it must be tall. Change',
    ]);
  });

  it('judges the files that are up to date', () => {
    const { places } = show([file({ outOfDate: true, filename: 'Old.webm' }), file({ bytes: 9e6 }), file()]);
    expect(places()[0]).toBe('Larkpost Market Listing clip takes Drizzle.webm');
    TestBed.resetTestingModule();
    expect(show([file({ bytes: 9e6 })]).places()[0]).toMatch(/It has .* more than/);
  });

  it('of one’s own is changed by the newest revision, and added or taken away', async () => {
    const { places, press, fixture } = show([]);
    press('Change');
    expect(places()[1]).not.toContain('would take it');
    press('square');
    expect(places()[1]).toContain('would take it');
    const changed = await comes(http, (one) => one.method === 'PUT' && one.url === '/api/clip-requirements/own');
    expect(changed.request.headers.get('If-Match')).toBe('"1"');
    expect(changed.request.body).toEqual(
      jasmine.objectContaining({ channel: 'Quillmere Shops', shapes: ['9:16', '1:1'] }),
    );
    expect(Object.keys(changed.request.body as object)).not.toContain('revision');
    changed.flush({ ...own, revision: 2, shapes: ['9:16', '1:1'] });
    TestBed.tick();
    http.expectOne('/api/clip-requirements').flush([market, { ...own, revision: 2, shapes: ['9:16', '1:1'] }]);
    fixture.detectChanges();
    expect(places()[1]).toContain('would take it');
    press('Another place …');
    const added = http.expectOne('/api/clip-requirements');
    expect(added.request.method).toBe('POST');
    added.flush({ ...own, id: 'new' }, { status: 201, statusText: 'Created' });
    http.expectOne('/api/clip-requirements').flush([market]);
  });
});
