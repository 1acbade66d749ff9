import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, Component } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router, provideRouter } from '@angular/router';
import { DomSanitizer } from '@angular/platform-browser';
import { MatIconRegistry } from '@angular/material/icon';
import type { Sheet } from '@kettle/contract';
import { SAME_SIZE_TOP, type Requirement } from '@kettle/core/model';
import type { TargetState } from '@kettle/core/checks';
import { registerIcons } from '../icons/icons';
import { Notices } from '../data/notices';
import { SheetPage } from './sheet-page';

@Component({ template: '' })
class Elsewhere {}

const requirement = (id: string, channel: string): Requirement => ({
  id,
  revision: 1,
  channel,
  name: id,
  product: '',
  width: 100,
  height: 50,
  unit: 'px',
  dpi: 300,
  mode: 'rgb',
  transparency: 'required',
  fileTypes: ['png'],
  maxBytes: null,
  sizeRule: 'exact',
  safeInsetMm: 0,
  placement: SAME_SIZE_TOP,
  colourways: [{ name: 'White', hex: '#ffffff' }],
  note: '',
});
const cell = (requirementId: string, state: TargetState) => ({
  requirementId,
  state,
  garment: '#ffffff',
  finding: null,
  printFileId: null,
  miniature: 'x',
});
const sheet: Sheet = {
  total: 2,
  requirements: [
    requirement('tee', 'Larkpost'),
    requirement('mug', 'Larkpost'),
    requirement('poster', 'Quillmere'),
    requirement('unused', 'Hobnail'),
  ],
  rows: [
    {
      designId: 'd1',
      name: 'Isobars',
      revision: 1,
      savedAt: '2026-11-25T20:00:00.000Z',
      layers: 2,
      template: false,
      pictures: 0,
      set: null,
      cells: [cell('tee', 'ready'), cell('mug', 'not-made'), cell('poster', 'needs-work')],
    },
    {
      designId: 'd2',
      name: 'Fog Signal',
      revision: 1,
      savedAt: '2026-11-20T20:00:00.000Z',
      layers: 1,
      template: false,
      pictures: 3,
      set: null,
      cells: [cell('tee', 'out-of-date')],
    },
  ],
};

describe('the job sheet', () => {
  let http: HttpTestingController;
  let fixture: ComponentFixture<SheetPage>;
  let page: HTMLElement;

  async function show(answer: Sheet): Promise<void> {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([{ path: '**', component: Elsewhere }]),
      ],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    fixture = TestBed.createComponent(SheetPage);
    page = fixture.nativeElement as HTMLElement;
    page.style.cssText = 'display:block;width:1200px;height:700px';
    http.expectOne('/api/sheet?from=0&count=24').flush(answer);
    http.expectOne('/api/requirements').flush(answer.requirements);
    await fixture.whenStable();
    await new Promise(requestAnimationFrame);
    await fixture.whenStable();
  }
  /** What a run was asked for with; it is in the queue. */
  const asked = async (): Promise<unknown> => {
    const run = http.expectOne('/api/runs');
    run.flush({ jobId: 'j1' });
    await fixture.whenStable();
    return run.request.body;
  };
  const button = (label: RegExp) =>
    [...page.querySelectorAll('button')].find((one) =>
      label.test(one.getAttribute('aria-label') ?? one.textContent ?? ''),
    )!;

  it('has a column for each requirement in use, and counts the states', async () => {
    await show(sheet);
    expect([...page.querySelectorAll('.product b')].map((one) => one.textContent)).toEqual(['tee', 'mug', 'poster']);
    expect(
      [...page.querySelectorAll('.states button')].map((one) => one.textContent?.replace(/\s+/g, ' ').trim()),
    ).toEqual(['1 ready', '1 needs work', '1 out of date', '1 not made']);
    expect(page.querySelectorAll('ks-sheet-cell').length).toBe(4);
    expect(page.querySelectorAll('.absent').length).toBe(2);
  });

  it('makes what is missing, or what is selected', async () => {
    await show(sheet);
    button(/Make what is missing/).click();
    expect(await asked()).toEqual({
      targets: [
        { designId: 'd1', requirementIds: ['mug'], revision: 1 },
        { designId: 'd2', requirementIds: ['tee'], revision: 1 },
      ],
    });
    button(/Isobars for Larkpost, tee/).dispatchEvent(
      new KeyboardEvent('keydown', { key: ' ', bubbles: true, cancelable: true }),
    );
    await fixture.whenStable();
    button(/Make the selected/).click();
    expect(await asked()).toEqual({
      targets: [{ designId: 'd1', requirementIds: ['tee'], revision: 1 }],
    });
  });

  it('makes what is shown: rows and columns by words and channel, or a whole column', async () => {
    await show(sheet);
    const choose = async (label: string, value: string): Promise<void> => {
      const box = page.querySelector<HTMLInputElement | HTMLSelectElement>(`[aria-label="${label}"]`)!;
      box.value = value;
      box.dispatchEvent(new Event(box.tagName === 'SELECT' ? 'change' : 'input'));
      await fixture.whenStable();
    };
    await choose('Show designs with these words', 'fog');
    button(/Make what is missing/).click();
    expect(await asked()).toEqual({
      targets: [{ designId: 'd2', requirementIds: ['tee'], revision: 1 }],
    });
    await choose('Show designs with these words', '');
    await choose('Show one channel', 'Quillmere');
    expect(page.querySelectorAll('.column').length).toBe(1);
    expect(page.textContent).toContain('Nothing is missing');
    button(/Show all/).click();
    await fixture.whenStable();
    [...page.querySelectorAll<HTMLButtonElement>('button.product')]
      .find((one) => /tee/.test(one.textContent!))!
      .click();
    await fixture.whenStable();
    button(/Make the selected/).click();
    expect(await asked()).toEqual({
      targets: [
        { designId: 'd1', requirementIds: ['tee'], revision: 1 },
        { designId: 'd2', requirementIds: ['tee'], revision: 1 },
      ],
    });
  });

  it('says that nothing is missing instead of offering to make nothing', async () => {
    await show({ ...sheet, rows: [{ ...sheet.rows[0], cells: [cell('tee', 'ready'), cell('mug', 'not-begun')] }] });
    expect(button(/Make/)).toBeUndefined();
    expect(page.querySelector('.nothing')?.textContent).toContain('Nothing is missing');
  });

  it('shows the rows of chosen states alone, in the order that is asked for', async () => {
    await show(sheet);
    const names = () => [...page.querySelectorAll('.row:not(.titles) .design b')].map((one) => one.textContent);
    button(/out of date/).click();
    await fixture.whenStable();
    expect(names()).toEqual(['Fog Signal']);
    button(/out of date/).click();
    const order = page.querySelector<HTMLSelectElement>('[aria-label="Order of the sheet"]')!;
    for (const [id, wanted] of [
      ['name', ['Fog Signal', 'Isobars']],
      ['newest', ['Isobars', 'Fog Signal']],
      ['added', ['Isobars', 'Fog Signal']],
    ] as const) {
      order.value = id;
      order.dispatchEvent(new Event('change'));
      await fixture.whenStable();
      expect(names())
        .withContext(id)
        .toEqual([...wanted]);
    }
  });

  it('selects cells and rows together, with Shift and by keys, and acts on all of them', async () => {
    await show(sheet);
    document.body.append(page);
    const chosen = () =>
      [...page.querySelectorAll('[data-cell][aria-pressed="true"]')].map(
        (one) => one.getAttribute('aria-label') ?? one.querySelector('b')?.textContent,
      );
    button(/Isobars for Larkpost, tee/).dispatchEvent(new MouseEvent('click', { ctrlKey: true, bubbles: true }));
    button(/Isobars for Quillmere, poster/).dispatchEvent(new MouseEvent('click', { shiftKey: true, bubbles: true }));
    await fixture.whenStable();
    expect(chosen().length).toBe(3);
    const first = page.querySelector<HTMLElement>('.design')!;
    first.focus();
    const press = async (key: string, more = {}) => {
      document.activeElement!.dispatchEvent(
        new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }),
      );
      await fixture.whenStable();
    };
    await press('Escape');
    expect(chosen()).toEqual([]);
    await press(' ');
    await press('ArrowDown', { shiftKey: true });
    expect(chosen().filter((label) => label === 'Isobars' || label === 'Fog Signal').length).toBe(2);
    button(/Take 2 designs off/).click();
    // One call for both, and one press that puts back what that call took off.
    const off = http.expectOne({ method: 'POST', url: '/api/designs/remove' });
    expect(off.request.body).toEqual({ designIds: ['d1', 'd2'] });
    const said = spyOn(TestBed.inject(Notices), 'say');
    off.flush({ designIds: ['d2'] });
    const [words, undo] = said.calls.mostRecent().args;
    expect(words).toBe('“Fog Signal” is off the sheet.');
    undo!.run();
    expect(http.expectOne({ method: 'POST', url: '/api/designs/restore' }).request.body).toEqual({ designIds: ['d2'] });
    page.remove();
  });

  it('opens a cell that needs work on its checks, and any other on its canvas', async () => {
    await show(sheet);
    const router = TestBed.inject(Router);
    const went = spyOn(router, 'navigate').and.resolveTo(true);
    button(/Isobars for Quillmere, poster/).click();
    button(/Isobars for Larkpost, tee/).click();
    expect(went.calls.allArgs().map(([commands]) => commands[2])).toEqual(['checks', 'artwork']);
  });

  it('refreshes the rows that an event is about, and asks for nothing else', async () => {
    const real = window.EventSource;
    const stream = Object.assign(new EventTarget(), { close: () => undefined });
    window.EventSource = function makes() {
      return stream;
    } as unknown as typeof EventSource;
    try {
      await show(sheet);
      jasmine.clock().install();
      const told = {
        kind: 'print-files',
        revision: 1,
        state: 'running',
        total: 2,
        within: 0.5,
        message: '',
        results: [],
      };
      for (const done of [0, 1]) {
        const job = { ...told, id: 'j', designId: 'd2', designIds: ['d2'], done };
        stream.dispatchEvent(new MessageEvent('job', { data: JSON.stringify(job) }));
      }
      jasmine.clock().tick(500);
      jasmine.clock().uninstall();
      const rows = [{ ...sheet.rows[1], cells: [cell('tee', 'ready')] }];
      http.expectOne('/api/sheet?designs=d2').flush({ rows });
      await fixture.whenStable();
      expect(button(/Fog Signal for Larkpost, tee: ready/)).toBeTruthy();
      expect(button(/Isobars for Larkpost, mug: not made/)).toBeTruthy();
      http.verify();
    } finally {
      jasmine.clock().uninstall();
      window.EventSource = real;
    }
  });

  it('is walked by arrow keys', async () => {
    await show(sheet);
    const first = button(/Isobars for Larkpost, tee/);
    document.body.append(page);
    first.focus();
    first.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true, cancelable: true }));
    expect(document.activeElement?.getAttribute('aria-label')).toContain('Isobars for Larkpost, mug');
    document.activeElement!.dispatchEvent(
      new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true, cancelable: true }),
    );
    expect(document.activeElement?.getAttribute('aria-label')).toContain(
      'Fog Signal for Larkpost, mug: not a target yet',
    );
  });

  it('invites when it is empty', async () => {
    await show({ requirements: sheet.requirements, total: 0, rows: [] });
    expect(page.textContent).toContain('Drop your artwork here');
    expect(button(/Choose a file/)).toBeTruthy();
  });
});
