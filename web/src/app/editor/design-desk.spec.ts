import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting, type TestRequest } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { SavedDesign } from '@kettle/contract';
import { emptyDesign, type DesignDocument } from '@kettle/core/model';
import { freehandLayer } from '@kettle/core/drawing';
import { rename, type History } from '@kettle/core/document';
import type { Saving } from '../data/saving';
import { Savings } from '../data/savings';
import { UndoLog } from '../data/undo-log';
import { DesignDesk } from './design-desk';

const design = (revision = 1, name = 'Isobars'): SavedDesign => ({
  id: 'd1',
  revision,
  savedAt: '2026-11-25T20:00:00.000Z',
  document: emptyDesign(name),
});

describe('the design desk', () => {
  let desk: DesignDesk;
  let http: HttpTestingController;
  const log = {
    kept: null as History<DesignDocument> | null,
    load: async () => log.kept,
    save: async (_id: string, history: History<DesignDocument>) => {
      log.kept = history;
    },
  };

  beforeEach(() => {
    localStorage.clear();
    log.kept = null;
    jasmine.clock().install().mockDate();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: UndoLog, useValue: log },
        DesignDesk,
      ],
    });
    desk = TestBed.inject(DesignDesk);
    http = TestBed.inject(HttpTestingController);
    desk.open(design());
  });
  afterEach(() => {
    jasmine.clock().uninstall();
    http.verify();
  });

  const saving = () => {
    jasmine.clock().tick(500);
    return http.expectOne({ method: 'PUT', url: '/api/designs/d1' });
  };
  const problem = (status: number, code: string) =>
    [JSON.stringify({ code, detail: 'A sentence.' }), { status, statusText: 'No' }] as const;

  it('says that a design grows too large long before saving it would be refused', () => {
    const points = Array.from({ length: 12_000 }, () => 123.456);
    const stroke = { points, size: 2, hardness: 1, opacity: 1, hex: '#112233', erase: false };
    const drawn = (strokes: number): DesignDocument => ({
      ...emptyDesign('Drawn'),
      layers: [{ ...freehandLayer('f', stroke), strokes: Array.from({ length: strokes }, () => stroke) }],
    });
    expect(desk.tooLargeSoon()).toBe('');
    desk.open({ ...design(), document: drawn(20) });
    expect(desk.tooLargeSoon()).toBe('');
    desk.open({ ...design(), document: drawn(60) });
    expect(desk.tooLargeSoon()).toMatch(/^This design takes 5\.\d MB of the 8\.0 MB/);
    // It is saved all the same.
    desk.edit(rename('Drawn on'));
    saving().flush({ ...design(2), document: desk.document() });
    expect(desk.state()).toBe('saved');
  });

  it('saves by itself within a second, naming the revision it started from', () => {
    desk.edit(rename('Drizzle'));
    expect(desk.state()).toBe('unsaved');
    const put = saving();
    expect(put.request.headers.get('If-Match')).toBe('"1"');
    put.flush({ ...design(2), document: put.request.body });
    expect([desk.state(), desk.revision()]).toEqual(['saved', 2]);
    expect(localStorage.getItem('kettle.draft.d1')).toBeNull();
  });

  it('saves what was changed while it was saving', () => {
    desk.edit(rename('One'));
    const first = saving();
    desk.edit(rename('Two'));
    first.flush({ ...design(2), document: first.request.body });
    expect(desk.state()).toBe('unsaved');
    const second = saving();
    expect(second.request.headers.get('If-Match')).toBe('"2"');
    expect((second.request.body as { name: string }).name).toBe('Two');
    second.flush({ ...design(3), document: second.request.body });
    expect(desk.state()).toBe('saved');
  });

  it('takes many changes in a row as one save', () => {
    for (let i = 0; i < 20; i++) {
      desk.edit(rename(`Name ${i}`), 'typing');
      jasmine.clock().tick(50);
    }
    const put = saving();
    expect((put.request.body as { name: string }).name).toBe('Name 19');
    put.flush({ ...design(2), document: put.request.body });
    desk.undo();
    expect(desk.document()?.name).toBe('Isobars');
    const again = saving();
    again.flush({ ...design(3), document: again.request.body });
  });

  it('is saved at once when a change is undone before it was sent', () => {
    desk.edit(rename('Oops'));
    desk.undo();
    expect(desk.state()).toBe('saved');
    expect(localStorage.getItem('kettle.draft.d1')).toBeNull();
    jasmine.clock().tick(1000);
    http.expectNone('/api/designs/d1');
  });

  it('sends an undo that comes while the change is on its way', () => {
    desk.edit(rename('Oops'));
    const put = saving();
    desk.undo();
    put.flush({ ...design(2), document: put.request.body });
    const back = saving();
    expect((back.request.body as { name: string }).name).toBe('Isobars');
    back.flush({ ...design(3), document: back.request.body });
    expect(desk.state()).toBe('saved');
  });

  it('keeps trying while the server is away, and loses nothing', () => {
    desk.edit(rename('Fog'));
    saving().error(new ProgressEvent('error'), { status: 0 });
    expect(desk.state()).toBe('away');
    jasmine.clock().tick(1600);
    http.expectOne('/api/designs/d1').flush(...problem(503, 'database-away'));
    expect(desk.state()).toBe('away');
    jasmine.clock().tick(2100);
    const put = http.expectOne('/api/designs/d1');
    put.flush({ ...design(2), document: put.request.body });
    expect(desk.state()).toBe('saved');
  });

  it('takes up what a closed page could not save', () => {
    desk.edit(rename('Saved by nobody'));
    const draft = localStorage.getItem('kettle.draft.d1')!;
    expect(draft).toContain('Saved by nobody');
    desk.undo();
    localStorage.setItem('kettle.draft.d1', draft);
    desk.open(design());
    expect(desk.document()?.name).toBe('Saved by nobody');
    const put = saving();
    put.flush({ ...design(2), document: put.request.body });
    desk.undo();
    expect(desk.document()?.name).toBe('Isobars');
    saving().flush(design(3));
  });

  it('takes its own save for its own, though the answer to it was lost on the way', () => {
    desk.edit(rename('Heard of late'));
    const put = saving();
    put.error(new ProgressEvent('error'), { status: 0 });
    jasmine.clock().tick(1600);
    http.expectOne({ method: 'PUT', url: '/api/designs/d1' }).flush(...problem(412, 'stale-revision'));
    http
      .expectOne({ method: 'GET', url: '/api/designs/d1' })
      .flush({ ...design(2), document: structuredClone(put.request.body) });
    expect([desk.state(), desk.revision(), desk.document()?.name]).toEqual(['saved', 2, 'Heard of late']);
    expect(localStorage.getItem('kettle.draft.d1')).toBeNull();
  });

  it('asks nothing about a draft that the server has, because the page that sent it is gone', () => {
    localStorage.setItem('kettle.draft.d1', JSON.stringify({ revision: 1, document: emptyDesign('Sent') }));
    desk.open(design(2, 'Sent'));
    expect([desk.state(), desk.canUndo()]).toEqual(['saved', false]);
    expect(localStorage.getItem('kettle.draft.d1')).toBeNull();
  });

  describe('when another tab was faster', () => {
    beforeEach(() => {
      desk.edit(rename('Mine'));
      saving().flush(...problem(412, 'stale-revision'));
      http.expectOne({ method: 'GET', url: '/api/designs/d1' }).flush(design(5, 'Theirs'));
    });

    it('says so and overwrites nothing', () => {
      expect([desk.state(), desk.complaint(), desk.document()?.name]).toEqual(['stale', 'A sentence.', 'Mine']);
      desk.edit(rename('Mine, still'));
      jasmine.clock().tick(2000);
      http.expectNone('/api/designs/d1');
    });

    it('makes nothing of what is not saved', () => {
      let said = '';
      desk.whenSaved().subscribe({ next: () => (said = 'made'), error: (error: Error) => (said = error.message) });
      expect(said).toBe('A sentence.');
    });

    it('takes the newer one, with one’s own an undo away', () => {
      desk.takeNewer();
      expect([desk.state(), desk.document()?.name, desk.revision()]).toEqual(['saved', 'Theirs', 5]);
      desk.undo();
      expect(desk.document()?.name).toBe('Mine');
      const put = saving();
      expect(put.request.headers.get('If-Match')).toBe('"5"');
      put.flush({ ...design(6), document: put.request.body });
    });

    it('or keeps one’s own on top of the newer one', () => {
      desk.keepMine();
      const put = saving();
      expect(put.request.headers.get('If-Match')).toBe('"5"');
      expect((put.request.body as { name: string }).name).toBe('Mine');
      put.flush({ ...design(6), document: put.request.body });
      expect(desk.state()).toBe('saved');
    });
  });

  describe('when it is left', () => {
    const close = () => TestBed.inject(DesignDesk).ngOnDestroy();
    const settled = (id = 'd1'): (() => boolean) => {
      let is = false;
      TestBed.inject(Savings)
        .settled(id)
        .subscribe(() => {
          is = true;
        });
      return () => is;
    };
    const soon = async () => {
      for (let i = 0; i < 12; i++) await Promise.resolve();
    };

    it('sends its last change at once, and whoever opens the design again waits for it', async () => {
      desk.edit(rename('Last'));
      close();
      const done = settled();
      const put = http.expectOne({ method: 'PUT', url: '/api/designs/d1' });
      expect((put.request.body as { name: string }).name).toBe('Last');
      await soon();
      expect(done()).toBeFalse();
      put.flush({ ...design(2), document: put.request.body });
      await soon();
      expect(done()).toBeTrue();
      expect(localStorage.getItem('kettle.draft.d1')).toBeNull();
    });

    it('never breaks off a save that is on its way, and follows it with what was changed since', async () => {
      desk.edit(rename('First'));
      const first = saving();
      desk.edit(rename('Second'));
      close();
      expect(first.cancelled).toBeFalse();
      first.flush({ ...design(2), document: first.request.body });
      const second = http.expectOne({ method: 'PUT', url: '/api/designs/d1' });
      expect([second.request.headers.get('If-Match'), (second.request.body as { name: string }).name]).toEqual([
        '"2"',
        'Second',
      ]);
      second.flush({ ...design(3), document: second.request.body });
      await soon();
      expect(settled()()).toBeTrue();
    });

    it('goes on trying while the server is away, and gives up only for what a person must decide', async () => {
      desk.edit(rename('Patient'));
      close();
      http.expectOne({ method: 'PUT', url: '/api/designs/d1' }).error(new ProgressEvent('error'), { status: 0 });
      jasmine.clock().tick(1600);
      http.expectOne({ method: 'PUT', url: '/api/designs/d1' }).flush(...problem(412, 'stale-revision'));
      http.expectOne({ method: 'GET', url: '/api/designs/d1' }).flush(design(9));
      await soon();
      expect(settled()()).toBeTrue();
      expect(localStorage.getItem('kettle.draft.d1')).toContain('Patient');
    });

    it('asks before a page goes whose document is too large to be sent after it, and keeps that as a draft', () => {
      const large = {
        ...emptyDesign('Large'),
        groups: Object.fromEntries(Array.from({ length: 900 }, (_, i) => [`g${i}`, 'x'.repeat(100)])),
      };
      desk.edit(() => large);
      // The runner takes this event on the window for the end of the page, so its listener is asked directly.
      const ask = (event: Event) =>
        (desk as unknown as { saving: Saving<SavedDesign, DesignDocument> }).saving
          .thing()!
          .asking(event as BeforeUnloadEvent);
      const leave = new Event('beforeunload', { cancelable: true });
      ask(leave);
      expect(leave.defaultPrevented).toBeTrue();
      const put = http.expectOne({ method: 'PUT', url: '/api/designs/d1' });
      window.dispatchEvent(new Event('pagehide'));
      http.expectNone('/api/designs/d1');
      expect(localStorage.getItem('kettle.draft.d1')).toContain('Large');
      put.flush({ ...design(2), document: put.request.body });
      const again = new Event('beforeunload', { cancelable: true });
      ask(again);
      expect(again.defaultPrevented).toBeFalse();
    });

    it('by a page that is gone is sent by the next one, once nobody works on it any more', async () => {
      desk.edit(rename('Left behind'));
      const saves = TestBed.inject(Savings);
      // While the design is open here, nobody else may send its draft.
      saves.sendLeft();
      jasmine.clock().uninstall();
      await new Promise((resolve) => setTimeout(resolve, 30));
      http.expectNone('/api/designs/d1');
      localStorage.setItem(
        'kettle.draft.d7',
        JSON.stringify({ revision: 4, document: emptyDesign('From a closed page') }),
      );
      saves.sendLeft();
      let put: TestRequest | undefined;
      for (let i = 0; i < 100 && !put; i++) {
        [put] = http.match('/api/designs/d7');
        await new Promise((resolve) => setTimeout(resolve, 5));
      }
      expect([put!.request.headers.get('If-Match'), (put!.request.body as { name: string }).name]).toEqual([
        '"4"',
        'From a closed page',
      ]);
      put!.flush({ ...design(5), id: 'd7', document: put!.request.body });
      await new Promise((resolve) => setTimeout(resolve, 10));
      expect(localStorage.getItem('kettle.draft.d7')).toBeNull();
      jasmine.clock().install();
      http.match('/api/designs/d1');
    });
  });

  it('tells when all is saved, with the revision that holds it, or why it cannot be', () => {
    const seen: (number | string)[] = [];
    const ask = () =>
      desk
        .whenSaved()
        .subscribe({ next: (revision) => seen.push(revision), error: (error: Error) => seen.push(error.message) });
    ask();
    expect(seen).toEqual([1]);
    desk.edit(rename('Once more'));
    ask();
    const put = http.expectOne({ method: 'PUT', url: '/api/designs/d1' });
    expect(seen).toEqual([1]);
    put.flush({ ...design(2), document: put.request.body });
    expect(seen).toEqual([1, 2]);
    desk.edit(rename(''));
    ask();
    http.expectOne({ method: 'PUT', url: '/api/designs/d1' }).flush(...problem(422, 'not-as-demanded'));
    expect(seen).toEqual([1, 2, 'A sentence.']);
  });

  it('takes the way back up again after a reload, and a newer design as a step on top of it', async () => {
    desk.edit(rename('One'));
    desk.settle();
    desk.edit(rename('Two'));
    const put = saving();
    put.flush({ ...design(2), document: put.request.body });
    expect(log.kept?.past.map((one) => one.name)).toEqual(['Isobars', 'One']);
    desk.open(structuredClone(design(2, 'Two')));
    await Promise.resolve();
    await Promise.resolve();
    desk.undo();
    expect(desk.document()?.name).toBe('One');
    desk.redo();
    expect(desk.document()?.name).toBe('Two');
    desk.open(design(7, 'Changed elsewhere'));
    await Promise.resolve();
    await Promise.resolve();
    desk.undo();
    expect(desk.document()?.name).toBe('Two');
    saving().flush({ ...design(8), document: desk.document()! });
  });
});
