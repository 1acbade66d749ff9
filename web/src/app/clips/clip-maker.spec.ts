import { HttpErrorResponse } from '@angular/common/http';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Asking, ClipFile } from '@kettle/contract';
import type { Clip, ClipScene } from '@kettle/core/model';
import { Observable, of, Subject, throwError } from 'rxjs';
import { Editor } from '../editor/editor';
import { fakeApi } from '../testing/fake-api';
import { Notices } from '../data/notices';
import { stillScene } from '../testing/still-scene';
import type { Levels } from './bitmaps';
import { ClipLogos } from './clip-logos';
import { ClipMaker, type ClipWish } from './clip-maker';
import type { ClipReply, ClipRequest } from './clip-messages';
import { ClipScenes, MIDDLE } from './clip-scenes';
import { ScenePictures } from './scene-pictures';

const CLIP: Clip = { id: 'c', name: 'Clip', shape: '1:1', scenes: [stillScene('tee'), stillScene('mug')] };
const WISH: ClipWish = { clip: CLIP, track: null, side: 1080, file: 'webm' };

/** Stands for the worker that codes: it answers when a test has it answer. */
class FakeWorker {
  static all: FakeWorker[] = [];
  readonly heard: ClipRequest[] = [];
  onmessage: ((event: { data: ClipReply }) => void) | null = null;
  onerror: (() => void) | null = null;
  isEnded = false;
  constructor() {
    FakeWorker.all.push(this);
  }
  postMessage(request: ClipRequest): void {
    this.heard.push(request);
  }
  terminate(): void {
    this.isEnded = true;
  }
  say(data: ClipReply): void {
    this.onmessage!({ data });
  }
  made(): void {
    this.say({ kind: 'made', bytes: new ArrayBuffer(3), cover: new ArrayBuffer(2) });
  }
}

describe('files of clips', () => {
  const { Worker: Real } = window;
  let keepClip: jasmine.Spy<(asking: Asking<'post /api/designs/{id}/clips'>) => Observable<ClipFile>>;
  let keepCover: jasmine.Spy<(asking: Asking<'put /api/clips/{id}/cover'>) => Observable<void>>;
  let notices: jasmine.SpyObj<Pick<Notices, 'say' | 'complain'>>;
  let maker: ClipMaker;

  beforeEach(() => {
    FakeWorker.all = [];
    (window as unknown as { Worker: unknown }).Worker = FakeWorker;
    [keepClip, keepCover] = [jasmine.createSpy(), jasmine.createSpy()];
    keepClip.and.callFake(({ query }) =>
      of({ id: `kept ${query!.shape}`, filename: `Drizzle ${query!.shape}` } as ClipFile),
    );
    keepCover.and.returnValue(of(undefined));
    notices = jasmine.createSpyObj<Pick<Notices, 'say' | 'complain'>>(['say', 'complain']);
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        ClipMaker,
        { provide: Editor, useValue: { desk: { id: () => 'd', whenSaved: () => of(7) } } },
        fakeApi({ 'post /api/designs/{id}/clips': keepClip, 'put /api/clips/{id}/cover': keepCover }),
        { provide: Notices, useValue: notices },
        { provide: ClipScenes, useValue: { movingBlank: () => null } },
        { provide: ClipLogos, useValue: { draw: () => Promise.resolve(null) } },
        {
          provide: ScenePictures,
          useValue: {
            use: (_one: ClipScene, _size: object, hand: (made: object) => void) =>
              Promise.resolve(hand({ focus: MIDDLE, guises: [[] as unknown as Levels] })),
          },
        },
      ],
    });
    maker = TestBed.inject(ClipMaker);
  });
  afterEach(() => {
    TestBed.resetTestingModule();
    window.Worker = Real;
  });

  /** The worker that codes a file, once it was asked to and has its scenes. */
  async function coding(at: number): Promise<FakeWorker> {
    for (;;) {
      const worker = FakeWorker.all[at] as FakeWorker | undefined;
      if (worker?.heard.some(({ kind }) => kind === 'scene')) return worker;
      await new Promise((resolve) => setTimeout(resolve));
    }
  }
  /** Until something is so. */
  async function until(isSo: () => boolean): Promise<void> {
    while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 10));
  }

  it('are begun with what was saved, given their scenes in order, kept, and said', async () => {
    const done = maker.make(WISH, ['1:1']);
    const worker = await coding(0);
    await until(() => worker.heard.length === 3);
    expect(worker.heard.map(({ kind }) => kind)).toEqual(['make', 'scene', 'scene']);
    expect(worker.heard[0]).toEqual(jasmine.objectContaining({ width: 1080, height: 1080, frames: 144, sound: null }));
    expect(worker.heard.slice(1)).toEqual([
      jasmine.objectContaining({ index: 0 }),
      jasmine.objectContaining({ index: 1 }),
    ]);
    worker.say({ kind: 'progress', done: 36, total: 144 });
    expect(maker.making()!.share).toBe(0.25);
    worker.made();
    await done;
    expect(keepClip.calls.allArgs()).toEqual([
      [
        {
          id: 'd',
          query: { clip: 'c', revision: 7, side: 1080, shape: '1:1', file: 'webm' },
          body: jasmine.any(ArrayBuffer) as unknown as ArrayBuffer,
        },
      ],
    ]);
    expect(keepCover.calls.first().args[0].id).toBe('kept 1:1');
    expect(notices.say).toHaveBeenCalledWith('Drizzle 1:1 is made and kept.');
    expect([maker.making(), maker.kept(), maker.newest()?.id, worker.isEnded]).toEqual([null, 1, 'kept 1:1', true]);
  });

  it('are made by the worker that waits for them; one that never started is not waited for', async () => {
    maker.prepare('webm', { width: 1080, height: 1080 });
    maker.prepare('mp4', { width: 720, height: 720 });
    expect(FakeWorker.all.length).toBe(1);
    const done = maker.make(WISH, ['1:1']);
    const worker = await coding(0);
    expect(worker.heard.map(({ kind }) => kind).slice(0, 3)).toEqual(['ready', 'ready', 'make']);
    worker.made();
    await done;
    maker.prepare('webm', { width: 1080, height: 1080 });
    FakeWorker.all[1].onerror!();
    const again = maker.make(WISH, ['1:1']);
    (await coding(2)).made();
    await again;
    expect(keepClip).toHaveBeenCalledTimes(2);
  });

  it('come one after the other in every shape; what is kept stays when a later one fails', async () => {
    const done = maker.make(WISH, ['1:1', '9:16', '4:5']);
    const first = await coding(0);
    expect(maker.making()).toEqual(jasmine.objectContaining({ shape: '1:1', more: 2 }));
    first.made();
    const second = await coding(1);
    expect(second.heard[0]).toEqual(jasmine.objectContaining({ width: 1080, height: 1920 }));
    second.say({ kind: 'failed', message: 'This browser cannot make clips.' });
    await done;
    expect(keepClip).toHaveBeenCalledTimes(1);
    expect(notices.complain).toHaveBeenCalledOnceWith(new Error('This browser cannot make clips.'));
    expect([maker.making(), FakeWorker.all.length]).toEqual([null, 2]);
  });

  it('are nothing once they are cancelled', async () => {
    const done = maker.make(WISH, ['1:1', '9:16']);
    const worker = await coding(0);
    maker.cancel();
    await done;
    expect([worker.isEnded, maker.making()]).toEqual([true, null]);
    expect(keepClip).not.toHaveBeenCalled();
    expect(notices.complain).not.toHaveBeenCalled();
  });

  it('are clips all the same without their cover', async () => {
    keepCover.and.returnValue(throwError(() => new Error('lost')));
    const done = maker.make(WISH, ['1:1']);
    (await coding(0)).made();
    await done;
    expect(maker.kept()).toBe(1);
    expect(notices.complain).not.toHaveBeenCalled();
  });

  /** What the server answers, one after the other. */
  function answers(...all: readonly (number | 'kept')[]): void {
    let at = 0;
    keepClip.and.callFake(
      () =>
        new Observable<ClipFile>((subscriber) => {
          const answer = all[Math.min(at++, all.length - 1)];
          if (answer === 'kept') subscriber.next({ id: 'k', filename: 'Drizzle' } as ClipFile);
          else subscriber.error(new HttpErrorResponse({ status: answer }));
          subscriber.complete();
        }),
    );
  }

  it('wait for a server that is away, and are kept when it answers', async () => {
    answers(0, 503, 'kept');
    const done = maker.make(WISH, ['1:1']);
    (await coding(0)).made();
    await until(() => !!maker.making()?.isWaiting);
    expect(notices.say).not.toHaveBeenCalled();
    await done;
    expect(notices.say).toHaveBeenCalledOnceWith('Drizzle is made and kept.');
    expect(maker.making()).toBeNull();
  }, 15_000);

  it('do not wait when they were refused, nor when nobody wants them any more', async () => {
    answers(422);
    const refused = maker.make(WISH, ['1:1']);
    (await coding(0)).made();
    await refused;
    expect(notices.complain).toHaveBeenCalledTimes(1);
    answers(0, 'kept');
    const done = maker.make(WISH, ['1:1']);
    (await coding(1)).made();
    await until(() => !!maker.making()?.isWaiting);
    maker.cancel();
    await done;
    expect(notices.say).not.toHaveBeenCalled();
    expect(notices.complain).toHaveBeenCalledTimes(1);
  }, 15_000);

  it('that were cancelled on their way to the server say nothing of what is made since', async () => {
    const onItsWay = new Subject<ClipFile>();
    keepClip.and.returnValue(onItsWay);
    const first = maker.make(WISH, ['1:1']);
    (await coding(0)).made();
    await until(() => onItsWay.observed);
    maker.cancel();
    const second = maker.make(WISH, ['9:16']);
    await coding(1);
    onItsWay.error(new HttpErrorResponse({ status: 0 }));
    await first;
    expect(maker.making()).toEqual(jasmine.objectContaining({ shape: '9:16' }));
    expect(maker.making()!.isWaiting).toBeFalsy();
    maker.cancel();
    await second;
    expect(notices.complain).not.toHaveBeenCalled();
  });
});
