import { HttpErrorResponse } from '@angular/common/http';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Subject, of, throwError, type Observable } from 'rxjs';
import { LOOK_MS, Loaded } from './loaded';
import { Missing } from './missing';
import { Notices } from './notices';

describe('something that is looked at again and again', () => {
  const complained: unknown[] = [];
  let asked = 0;
  let answer: () => Observable<string> | null = () => of('first');
  const open = (): Loaded<string> =>
    TestBed.runInInjectionContext(
      () =>
        new Loaded<string>(
          () => {
            asked++;
            return answer();
          },
          { every: LOOK_MS },
        ),
    );

  beforeEach(() => {
    jasmine.clock().install();
    complained.length = asked = 0;
    answer = () => of('first');
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: Notices, useValue: { complain: (error: unknown) => complained.push(error) } },
      ],
    });
  });
  afterEach(() => jasmine.clock().uninstall());

  it('is there, and shows what others make of it', () => {
    const looked = open();
    expect(looked.value()).toBeNull();
    TestBed.tick();
    expect(looked.value()).toBe('first');
    answer = () => of('second');
    jasmine.clock().tick(2600);
    expect([looked.value(), asked]).toEqual(['second', 2]);
  });

  it('keeps what it has while the server is away, and says so where it has nothing', () => {
    const looked = open();
    answer = () => throwError(() => new Error('away'));
    TestBed.tick();
    expect(looked.failed()).not.toBe('');
    answer = () => of('there');
    jasmine.clock().tick(2600);
    expect([looked.value(), looked.failed()]).toEqual(['there', '']);
    answer = () => throwError(() => new Error('away'));
    jasmine.clock().tick(2600);
    expect([looked.value(), looked.failed()]).toEqual(['there', '']);
  });

  it('does not let an answer that was asked for before a change undo it', () => {
    const looked = open();
    const slow = new Subject<string>();
    answer = () => slow;
    TestBed.tick();
    const change = new Subject<void>();
    looked.change(change);
    slow.next('older');
    expect(looked.value()).toBeNull();
    answer = () => of('newer');
    change.next();
    expect([looked.value(), looked.busy()]).toEqual(['newer', false]);
    slow.next('older');
    expect(looked.value()).toBe('newer');
  });

  it('says what kept a change from being made, and looks again', () => {
    const looked = open();
    TestBed.tick();
    looked.change(throwError(() => new Error('no')));
    expect([complained.length, looked.busy(), asked]).toEqual([1, false, 2]);
  });
});

describe('something that is loaded', () => {
  let id = signal('a');
  let answers: Record<string, () => Observable<string>>;
  let changes: Subject<void>;
  const load = (of?: string): Loaded<string> =>
    TestBed.runInInjectionContext(() => new Loaded(() => answers[id()]?.() ?? null, { of, on: changes }));

  beforeEach(() => {
    jasmine.clock().install();
    [id, changes] = [signal('a'), new Subject()];
    answers = { a: () => of('of a'), b: () => of('of b') };
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  });
  afterEach(() => jasmine.clock().uninstall());

  it('follows what it is asked about, and shows nothing of the one before', () => {
    const slow = new Subject<string>();
    answers['b'] = () => slow;
    const loaded = load();
    TestBed.tick();
    expect(loaded.value()).toBe('of a');
    id.set('b');
    TestBed.tick();
    expect(loaded.value()).toBeNull();
    slow.next('of b');
    expect(loaded.value()).toBe('of b');
    id.set('none');
    TestBed.tick();
    expect(loaded.value()).toBeNull();
  });

  it('is asked for again after what changes it, and keeps what it has until then', () => {
    const loaded = load();
    TestBed.tick();
    const later = new Subject<string>();
    answers['a'] = () => later;
    changes.next();
    expect(loaded.value()).toBe('of a');
    later.next('newer');
    expect(loaded.value()).toBe('newer');
  });

  it('is named in the head of the page while it was refused, and comes back by itself or by a press', () => {
    const missing = TestBed.inject(Missing);
    answers['a'] = () =>
      throwError(() => new HttpErrorResponse({ status: 404, error: { code: 'x', detail: 'It is gone.' } }));
    const loaded = load('The print shops');
    TestBed.tick();
    expect(loaded.failed()).toBe('It is gone.');
    expect(missing.sentences()).toEqual(['The print shops could not be loaded: It is gone.']);
    answers['a'] = () => of('there');
    jasmine.clock().tick(1100);
    expect([loaded.value(), loaded.failed(), missing.sentences().length]).toEqual(['there', '', 0]);
    answers['a'] = () => throwError(() => new HttpErrorResponse({ status: 404 }));
    changes.next();
    expect([loaded.value(), missing.sentences().length]).toEqual(['there', 1]);
    answers['a'] = () => of('again');
    missing.again(missing.sentences()[0]);
    expect([loaded.value(), missing.sentences().length]).toEqual(['again', 0]);
  });

  it('is not missed any more once nobody wants it', () => {
    const missing = TestBed.inject(Missing);
    answers['a'] = () => throwError(() => new Error('no'));
    load('The music');
    TestBed.tick();
    expect(missing.sentences().length).toBe(1);
    TestBed.resetTestingModule();
    expect(missing.sentences().length).toBe(0);
  });
});
