import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Failure, Job } from '@kettle/contract';
import { Subject } from 'rxjs';
import { comes } from '../testing/comes';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { FailureList } from './failure-list';
import { JobFeed } from './job-feed';

describe('what could not be made', () => {
  const changes = new Subject<Job>();
  const running = signal<readonly Job[]>([]);
  let http: HttpTestingController;
  const failure = (id: string, kind = 'print-file', about = 'tee'): Failure => ({
    id,
    kind,
    about,
    filename: `${id}.png`,
    sentence: 'The disk is full.',
    at: '2026-12-01T10:00:00Z',
  });
  const show = async (all: readonly Failure[]) => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: JobFeed, useValue: { changes, running } },
        ...HEARD,
      ],
    });
    http = TestBed.inject(HttpTestingController);
    const page = await InPage.show(FailureList, { designId: 'd1', kinds: ['print-file'], about: ['tee', 'tee/dark'] });
    http.expectOne('/api/designs/d1/failures').flush(all);
    await page.fixture.whenStable();
    return page;
  };

  it('is named with its reason where it belongs, and nowhere else', async () => {
    const page = await show([failure('one'), failure('two', 'print-file', 'tote'), failure('three', 'picture')]);
    expect(page.text).toBe('one.png was not made. The disk is full. Try again Dismiss');
  });

  it('is tried again by a press, says so, and goes when it is made', async () => {
    const page = await show([failure('one')]);
    await page.press('Try again');
    http.expectOne({ method: 'POST', url: '/api/designs/d1/failures/one/again' }).flush({ jobId: 'j1' });
    running.set([{ id: 'j1' } as Job]);
    await page.fixture.whenStable();
    expect(page.button('Trying again …').disabled).toBeTrue();
    running.set([]);
    changes.next({ id: 'j1', designIds: ['d1'] } as unknown as Job);
    (await comes(http, ({ url }) => url === '/api/designs/d1/failures')).flush([]);
    await page.fixture.whenStable();
    expect(page.text).toBe('');
  });

  it('is dismissed by a press; one that is gone already says so and goes', async () => {
    const page = await show([failure('one'), failure('two')]);
    await page.press('Dismiss');
    http.expectOne({ method: 'DELETE', url: '/api/designs/d1/failures/one' }).flush(null);
    await page.fixture.whenStable();
    expect(page.text).toContain('two.png');
    expect(page.text).not.toContain('one.png');
    await page.press('Try again');
    http
      .expectOne('/api/designs/d1/failures/two/again')
      .flush(...refusal('This was made or dismissed in the meantime.', 404));
    http.expectOne('/api/designs/d1/failures').flush([]);
    await page.fixture.whenStable();
    expect(page.text).toBe('');
    expect(TestBed.inject(Heard).last).toBe('This was made or dismissed in the meantime.');
  });
});
