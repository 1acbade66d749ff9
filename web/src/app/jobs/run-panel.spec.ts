import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { provideRouter } from '@angular/router';
import type { Job, JobStep } from '@kettle/contract';
import { registerIcons } from '../icons/icons';
import { RunPanel } from './run-panel';

const job = (change: Partial<Job> = {}): Job => ({
  id: 'j1',
  kind: 'print-files',
  designId: null,
  designIds: ['d1', 'd2'],
  revision: 0,
  state: 'running',
  done: 1,
  total: 3,
  within: 0.4,
  message: '',
  results: [],
  ...change,
});
const step = (id: number, state: JobStep['state'], change: Partial<JobStep> = {}): JobStep => ({
  id,
  kind: 'print-file',
  designId: 'd1',
  requirementId: 'tee',
  version: null,
  filename: `File-${id}.png`,
  state,
  progress: 0,
  message: '',
  resultId: null,
  ...change,
});

describe('the run', () => {
  class Stream extends EventTarget {
    static last: Stream;
    constructor() {
      super();
      Stream.last = this;
    }
    close(): void {
      /* nothing to end */
    }
    say(value: Job): void {
      this.dispatchEvent(new MessageEvent('job', { data: JSON.stringify(value) }));
    }
  }
  const real = window.EventSource;
  let fixture: ComponentFixture<RunPanel>;
  let http: HttpTestingController;
  beforeEach(() => {
    window.EventSource = Stream as unknown as typeof EventSource;
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting(), provideRouter([])],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    fixture = TestBed.createComponent(RunPanel);
  });
  afterEach(() => {
    fixture.destroy();
    window.EventSource = real;
  });
  const page = (): HTMLElement => fixture.nativeElement as HTMLElement;
  const button = (label: string): HTMLButtonElement =>
    [...page().querySelectorAll('button')].find((one) => one.textContent!.trim() === label)!;
  const shows = async (value: Job, steps: readonly JobStep[]): Promise<void> => {
    await fixture.whenStable();
    Stream.last.say(value);
    await fixture.whenStable();
    // The look at its files follows at once; what shows no files asks for none.
    if (value.designId === null && value.id === 'j1') {
      let asked = http.match('/api/jobs/j1/steps');
      for (; !asked.length; asked = http.match('/api/jobs/j1/steps'))
        await new Promise((resolve) => requestAnimationFrame(resolve));
      for (const one of asked) one.flush(steps);
    }
    await fixture.whenStable();
  };

  it('shows how far each file is, and what failed first, with the way to mend it', async () => {
    await shows(job(), [
      step(1, 'done'),
      step(2, 'running', { progress: 0.4 }),
      step(3, 'failed', { message: 'Tee: a picture could not be found.' }),
    ]);
    const items = [...page().querySelectorAll('li')].map((one) => one.textContent!.replace(/\s+/g, ' ').trim());
    expect(items[0]).toContain('File-3.png');
    expect(items[0]).toContain('a picture could not be found');
    expect(page().querySelector('li a')!.getAttribute('href')).toBe('/designs/d1/checks?target=tee');
    expect(items[1]).toContain('40 %');
    expect(page().textContent).toContain('Making 1 of 3, 1 could not be made');
  });

  it('is held, goes on, and is put away once it is over, with a summary', async () => {
    await shows(job(), []);
    button('Pause').click();
    http.expectOne('/api/jobs/j1/pause').flush(job({ state: 'paused' }));
    await fixture.whenStable();
    expect(page().textContent).toContain('Held at 1 of 3');
    button('Go on').click();
    http.expectOne('/api/jobs/j1/resume').flush(job());
    await shows(job({ state: 'done', done: 3 }), [step(1, 'done'), step(2, 'done'), step(3, 'done')]);
    expect(page().textContent).toContain('All 3 files made');
    button('Put away').click();
    await fixture.whenStable();
    expect(page().querySelector('section')).toBeNull();
  });

  it('is not shown for a run of one design, which its bench shows', async () => {
    await shows(job({ designId: 'd1', designIds: ['d1'] }), []);
    expect(page().querySelector('section')).toBeNull();
  });

  it('that was held before somebody looked lies folded, behind whatever is made after it', async () => {
    await shows(job({ state: 'paused', done: 0 }), [step(1, 'paused'), step(2, 'paused')]);
    expect(page().textContent).toContain('Held at 0 of 3');
    expect(page().querySelector('ul')).toBeNull();
    await shows(job({ id: 'j2', state: 'running', done: 0 }), []);
    expect(page().textContent).toContain('Making 0 of 3');
    await shows(job({ id: 'j2', state: 'done', done: 3 }), []);
    expect(page().textContent).toContain('All 3 files made');
    expect(button('Put away')).toBeTruthy();
  });
});
