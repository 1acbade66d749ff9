import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { HttpTestingController } from '@angular/common/http/testing';
import type { ClipFile } from '@kettle/contract';
import { CLIP_SHAPES, type Clip } from '@kettle/core/model';
import { clipsOf } from '@kettle/core/clip';
import { EMPTY, of } from 'rxjs';
import type { Editor } from '../editor/editor';
import { JobFeed } from '../jobs/job-feed';
import { MockupEditor } from '../mockups/mockup-editor';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { openEditor, shirt } from '../testing/open-editor';
import { stillScene } from '../testing/still-scene';
import { ClipEditor } from './clip-editor';
import { ClipMaker } from './clip-maker';
import { ClipMaking } from './clip-making';
import { ClipPictures } from './clip-pictures';
import { ClipScenes } from './clip-scenes';
import { ScenePictures } from './scene-pictures';

const file = (change: Partial<ClipFile> = {}): ClipFile =>
  ({
    id: 'f1',
    clipId: 'c',
    filename: 'Rain.webm',
    file: 'webm',
    bytes: 2_000_000,
    outOfDate: false,
    cover: null,
    certificate: { width: 1080, height: 1080, seconds: 3, video: 'VP9', sound: null },
    ...change,
  }) as unknown as ClipFile;

describe('files of a clip', () => {
  let editor: Editor;
  let http: HttpTestingController;
  let page: InPage<ClipMaking>;
  const maker = {
    making: signal<object | null>(null),
    kept: signal(0),
    newest: signal<ClipFile | null>(null),
    left: signal(null),
    make: jasmine.createSpy('make'),
    prepare: () => undefined,
    cancel: jasmine.createSpy('cancel'),
  };
  const open = async (frames: number, files: readonly ClipFile[] = []): Promise<void> => {
    maker.make.calls.reset();
    maker.making.set(null);
    maker.newest.set(null);
    const clip: Clip = { id: 'c', name: 'Rain', shape: '1:1', scenes: [stillScene('tee-front', { frames })] };
    ({ editor, http } = openEditor({ clips: [clip] }, [
      MockupEditor,
      ClipEditor,
      ...HEARD,
      { provide: ClipMaker, useValue: maker },
      { provide: ClipPictures, useValue: { isReady: signal(true) } },
      { provide: ClipScenes, useValue: { movingBlank: () => null } },
      { provide: ScenePictures, useValue: { edition: signal(0), ahead: () => of(null) } },
      {
        provide: JobFeed,
        useValue: { changes: EMPTY, running: () => [], runningFor: () => [], cancel: () => undefined },
      },
    ]));
    page = await InPage.show(ClipMaking);
    http.match('/api/blanks').forEach((one) => one.flush([shirt]));
    http.match('/api/music').forEach((one) => one.flush([]));
    http.match('/api/clip-requirements').forEach((one) => one.flush([]));
    http.expectOne('/api/clip-makers').flush({ files: ['webm', 'mp4', 'webp'], sentence: '' });
    http.expectOne('/api/designs/d1/clips').flush(files);
    await page.fixture.whenStable();
    // Which files this browser writes is asked of it.
    while (page.buttons.includes('Make this clip') && page.button('Make this clip').disabled && frames >= 24) {
      await new Promise((resolve) => setTimeout(resolve, 20));
      await page.fixture.whenStable();
    }
  };

  it('are made here in one shape or in all of them, as large as is chosen', async () => {
    await open(72);
    expect(page.text).toContain('1080 × 1080 px');
    await page.enter('Shorter side', '720');
    expect(page.text).toContain('720 × 720 px');
    await page.press('Make this clip');
    const [wish, shapes] = maker.make.calls.mostRecent().args;
    expect([wish.side, wish.clip.id, shapes]).toEqual([720, 'c', ['1:1']]);
    await page.press('Make it in every shape');
    expect(maker.make.calls.mostRecent().args[1]).toEqual(CLIP_SHAPES);
  });

  it('are no longer and no shorter than a clip may be, which is said', async () => {
    await open(6);
    expect(page.text).toContain('A clip lasts at least');
    expect(page.button('Make this clip').disabled).toBeTrue();
    editor.desk.edit((design) => ({
      ...design,
      clips: clipsOf(design).map((one) => ({ ...one, scenes: [stillScene('tee-front', { frames: 24 * 200 })] })),
    }));
    await page.fixture.whenStable();
    expect(page.text).toContain('A clip lasts at most');
  });

  it('are made by the server of what is saved, never of what was saved before', async () => {
    await open(72);
    editor.desk.edit((design) => ({ ...design, name: 'Fog, changed' }));
    await page.press('Have the server make it');
    http.expectNone('/api/clip-runs');
    const saved = http.expectOne((one) => one.method === 'PUT' && one.url === '/api/designs/d1');
    saved.flush({ id: 'd1', revision: 2, savedAt: '2026-11-25T20:00:00.000Z', document: saved.request.body });
    await new Promise((resolve) => setTimeout(resolve));
    const run = http.expectOne('/api/clip-runs');
    expect(run.request.body).toEqual(
      jasmine.objectContaining({ clips: [{ designId: 'd1', clipId: 'c', shapes: ['1:1'] }], side: 1080 }),
    );
    run.flush(...refusal('The queue is full.', 503));
    await new Promise((resolve) => setTimeout(resolve));
    expect(TestBed.inject(Heard).last).toBe('The queue is full.');
  });

  it('stand in a list of their clip alone, the newest at once, and say when they are out of date', async () => {
    await open(72, [file({ outOfDate: true }), file({ id: 'f2', clipId: 'another', filename: 'Other.webm' })]);
    expect(page.text).toContain('Rain.webm');
    expect(page.text).toContain('1080 × 1080 px · 3.00 s · VP9, silent');
    expect(page.text).toContain('out of date');
    expect(page.text).not.toContain('Other.webm');
    maker.newest.set(file({ id: 'f3', filename: 'Rain 2.webm' }));
    await page.fixture.whenStable();
    expect([...page.element.querySelectorAll('.files a[download]')][0].textContent).toBe('Rain 2.webm');
  });

  it('say how far they are, and are cancelled', async () => {
    await open(72);
    maker.making.set({ shape: '1:1', share: 0.42, more: 2, begun: 0 });
    await page.fixture.whenStable();
    expect(page.text).toContain('42 %');
    expect(page.text).toContain('2 more after it');
    await page.press('Cancel');
    expect(maker.cancel).toHaveBeenCalled();
  });
});
