import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Subject, of, throwError, type Observable } from 'rxjs';
import { Looked } from './looked';
import { Notices } from './notices';

describe('something that is looked at again and again', () => {
  const complained: unknown[] = [];
  let asked = 0;
  let answer: () => Observable<string> | null = () => of('first');
  const open = (): Looked<string> =>
    TestBed.runInInjectionContext(
      () =>
        new Looked<string>(() => {
          asked++;
          return answer();
        }),
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
    jasmine.clock().tick(1);
    expect(looked.value()).toBe('first');
    answer = () => of('second');
    jasmine.clock().tick(2600);
    expect([looked.value(), asked]).toEqual(['second', 2]);
  });

  it('keeps what it has while the server is away, and says so where it has nothing', () => {
    const looked = open();
    answer = () => throwError(() => new Error('away'));
    jasmine.clock().tick(1);
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
    jasmine.clock().tick(1);
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
    jasmine.clock().tick(1);
    looked.change(throwError(() => new Error('no')));
    expect([complained.length, looked.busy(), asked]).toEqual([1, false, 2]);
  });
});
