import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { CUSTOM_ELEMENTS_SCHEMA, provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule, MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer, Title } from '@angular/platform-browser';
import { Router } from '@angular/router';
import { emptyDesign, type DesignDocument } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { EMPTY } from 'rxjs';
import { registerIcons } from '../icons/icons';
import { JobFeed } from '../jobs/job-feed';
import { DropZone } from '../shell/drop-zone';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { badge, mug, NO_UNDO_LOG, tee } from '../testing/open-editor';
import { SaveNotice } from '../parts/save-notice';
import { UndoPair } from '../parts/undo-pair';
import { FilePicker } from '../units/file-picker';
import { DesignPage } from './design-page';
import { EDITOR_PROVIDERS } from './editor-providers';
import { DesignDesk } from '../editor/design-desk';
import { Measuring } from '../editor/measuring';

const document: DesignDocument = {
  ...emptyDesign('Fog'),
  layers: [shapeLayer('s', 'star', { width: 355.6, height: 406.4 }, '#f2bd4b')],
  targets: [{ requirementId: 'tee' }, { requirementId: 'mug' }],
};

describe('a design on the bench', () => {
  let http: HttpTestingController;
  let router: jasmine.SpyObj<Router>;
  let page: InPage<DesignPage>;
  const desk = (): DesignDesk => page.fixture.debugElement.injector.get(DesignDesk);
  const text = (selector: string) => page.element.querySelector(selector)?.textContent?.trim();
  beforeEach(async () => {
    localStorage.clear();
    router = jasmine.createSpyObj<Router>(['navigate']);
    router.navigate.and.resolveTo(true);
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        NO_UNDO_LOG,
        ...HEARD,
        { provide: Router, useValue: router },
        { provide: JobFeed, useValue: { changes: EMPTY, runningFor: () => [], running: () => [] } },
      ],
    });
    // What stands in its stations has specifications of its own.
    TestBed.overrideComponent(DesignPage, {
      set: {
        imports: [MatButtonModule, MatIconModule, DropZone, FilePicker, SaveNotice, UndoPair],
        schemas: [CUSTOM_ELEMENTS_SCHEMA],
        providers: [...EDITOR_PROVIDERS, { provide: Measuring, useValue: null }],
      },
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    page = await InPage.show(DesignPage, { designId: 'd1', station: 'artwork', target: 'mug' });
  });
  const open = async (): Promise<void> => {
    http.expectOne('/api/designs/d1').flush({ id: 'd1', revision: 3, savedAt: '2026-11-25T20:00:00.000Z', document });
    http.expectOne('/api/requirements').flush([tee, mug]);
    await page.fixture.whenStable();
    http.match(() => true).forEach((one) => one.flush([]));
    await page.fixture.whenStable();
  };
  const key = async (name: string, more: KeyboardEventInit = {}, on: EventTarget = window.document.body) => {
    const event = new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more });
    on.dispatchEvent(event);
    await page.fixture.whenStable();
    return event.defaultPrevented;
  };

  it('has its name above its stations and in the title, and says when it was saved', async () => {
    await open();
    expect(text('h1')).toBe('Fog');
    expect(text('small')).toMatch(/^saved \d\d:\d\d:\d\d$/);
    expect(TestBed.inject(Title).getTitle()).toBe('Fog · Kettle Sheet');
    expect(page.element.querySelector('[aria-current=step]')?.textContent).toContain('Artwork');
    // Two files of it are not made yet.
    expect(page.text).toMatch(/Files 2 to attend to/);
  });

  it('goes from station to station by number, but not for whoever types', async () => {
    await open();
    expect(await key('5')).toBeTrue();
    expect(router.navigate.calls.mostRecent().args[0]).toEqual(['/designs', 'd1', 'mockups']);
    const box = window.document.createElement('input');
    page.element.append(box);
    router.navigate.calls.reset();
    expect(await key('2', {}, box)).toBeFalse();
    expect(await key('9')).toBeFalse();
    expect(router.navigate).not.toHaveBeenCalled();
  });

  it('is changed, undone and redone by keys, and each is saved', async () => {
    await open();
    await key('a', { ctrlKey: true });
    await key('d', { ctrlKey: true });
    expect(desk().document()!.layers.length).toBe(2);
    expect(text('small')).toBe('saving …');
    await key('z', { ctrlKey: true });
    expect(desk().document()!.layers.length).toBe(1);
    await key('z', { ctrlKey: true, shiftKey: true });
    expect(desk().document()!.layers.length).toBe(2);
    await page.press('Undo');
    expect(page.button('Undo').disabled).toBeTrue();
    expect(page.button('Redo').disabled).toBeFalse();
  });

  it('leaves keys of the canvas alone where there is none', async () => {
    page.fixture.componentRef.setInput('station', 'checks');
    await open();
    expect(await key('d', { ctrlKey: true })).toBeFalse();
    expect(desk().document()!.layers.length).toBe(1);
  });

  it('takes words from anywhere as lettering, and says nothing of none', async () => {
    await open();
    const paste = (words: string) => {
      const data = new DataTransfer();
      data.setData('text/plain', words);
      const event = new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true });
      window.document.body.dispatchEvent(event);
      return event.defaultPrevented;
    };
    expect([paste('   '), paste('Mostly drizzle')]).toEqual([false, true]);
  });

  it('lets one choose where another tab has saved meanwhile; mine stays on this page until then', async () => {
    await open();
    await key('a', { ctrlKey: true });
    await key('d', { ctrlKey: true });
    desk()
      .whenSaved()
      .subscribe({ error: () => undefined });
    const { detail } = { detail: 'A newer version was saved.' };
    http
      .expectOne((one) => one.method === 'PUT')
      .flush({ ...refusal(detail)[0], code: 'stale-revision' }, { status: 412, statusText: 'Stale' });
    const newer = { ...document, name: 'Fog, elsewhere' };
    http
      .expectOne('/api/designs/d1')
      .flush({ id: 'd1', revision: 4, savedAt: '2026-11-25T21:00:00.000Z', document: newer });
    await page.fixture.whenStable();
    expect(text('[role=alert]')).toContain('Changed elsewhere. A newer version was saved.');
    expect(desk().document()!.layers.length).toBe(2);
    await page.press('Take the newer one');
    expect(text('h1')).toBe('Fog, elsewhere');
    await page.press('Undo');
    expect(desk().document()!.layers.length).toBe(2);
  });

  it('that cannot be opened says so, with the way back', async () => {
    http.expectOne('/api/designs/d1').flush(...refusal('This design is not there any more.', 404));
    await page.fixture.whenStable();
    expect(page.text).toContain('This design could not be opened.');
    expect(TestBed.inject(Heard).last).toBe('This design is not there any more.');
  });

  it('takes pictures in one after the other, and shows them on the canvas', async () => {
    page.fixture.componentRef.setInput('station', 'files');
    await open();
    await page.give('Pictures for this design', new File(['x'], 'rain-gauge_badge.png', { type: 'image/png' }));
    expect(text('small')).toBe('taking in 1 file …');
    http.expectOne((one) => one.method === 'POST' && /assets/.test(one.url)).flush(badge);
    await page.fixture.whenStable();
    expect(
      desk()
        .document()!
        .layers.map(({ kind }) => kind),
    ).toContain('picture');
    expect(router.navigate.calls.mostRecent().args[0]).toEqual(['/designs', 'd1', 'artwork']);
  });
});
