import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Job, JobStep } from '@kettle/contract';
import { HEARD, Heard } from '../testing/heard';
import { JobFeed } from './job-feed';

const job = (state: Job['state'], done = 0): Job => ({
  id: 'j1',
  kind: 'print-files',
  designId: 'd1',
  designIds: ['d1'],
  revision: 3,
  state,
  done,
  total: 2,
  within: 0,
  message: '',
  results: [],
});

describe('progress', () => {
  class Stream extends EventTarget {
    static last: Stream;
    constructor() {
      super();
      Stream.last = this;
    }
    close(): void {
      /* nothing to end */
    }
  }
  const real = window.EventSource;
  beforeEach(() => {
    window.EventSource = Stream as unknown as typeof EventSource;
  });
  afterEach(() => {
    window.EventSource = real;
  });

  it('asks for what seems to run when a stream comes back, for its end may have been missed', () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    const feed = TestBed.inject(JobFeed);
    const http = TestBed.inject(HttpTestingController);
    const open = () => Stream.last.dispatchEvent(new Event('open'));
    open();
    http.expectNone('/api/jobs/j1');
    Stream.last.dispatchEvent(new MessageEvent('job', { data: JSON.stringify(job('running', 1)) }));
    expect(feed.runningFor('d1', 'print-files').length).toBe(1);
    // Away for a minute: the job ended meanwhile, and no event will say so.
    open();
    http.expectOne('/api/jobs/j1').flush(job('done', 2));
    expect(feed.running()).toEqual([]);
    Stream.last.dispatchEvent(new MessageEvent('job', { data: JSON.stringify({ ...job('running'), id: 'j2' }) }));
    open();
    http.expectOne('/api/jobs/j2').flush({ code: 'no-such-job', detail: 'Gone.' }, { status: 404, statusText: 'No' });
    expect(feed.running()).toEqual([]);
    // One that nobody answered for goes on.
    Stream.last.dispatchEvent(new MessageEvent('job', { data: JSON.stringify({ ...job('running'), id: 'j3' }) }));
    open();
    http.expectOne('/api/jobs/j3').error(new ProgressEvent('error'));
    expect(feed.running().map(({ id }) => id)).toEqual(['j3']);
  });

  it('says by name what was not made', () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting(), ...HEARD],
    });
    TestBed.inject(JobFeed);
    const http = TestBed.inject(HttpTestingController);
    const fail = (id: string, steps: [string, JobStep['state'], string][]): void => {
      const failed = { ...job('failed', 2), id, message: 'The disk is full.' };
      Stream.last.dispatchEvent(new MessageEvent('job', { data: JSON.stringify(failed) }));
      http
        .expectOne(`/api/jobs/${id}/steps`)
        .flush(steps.map(([filename, state, message]) => ({ filename, state, message })));
    };
    const said = TestBed.inject(Heard);
    fail('j1', [
      ['tee.png', 'done', ''],
      ['tote.png', 'failed', 'The disk is full.'],
    ]);
    expect(said.last).toBe('“tote.png” was not made. The disk is full.');
    fail('j2', [
      ['tee.png', 'failed', 'The disk is full.'],
      ['tote.png', 'failed', 'The disk is full.'],
    ]);
    expect(said.last).toBe('“tee.png” was not made. The disk is full. One more was not made.');
    fail('j3', []);
    expect(said.last).toBe('The disk is full.');
  });
});
