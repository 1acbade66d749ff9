import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Blank, ClipScene } from '@kettle/core/model';
import type { Guise } from '@kettle/core/clip';
import { MockupEditor } from '../mockups/mockup-editor';
import { stillScene as scene } from '../testing/still-scene';
import type { Levels } from './bitmaps';
import { ClipScenes, MIDDLE } from './clip-scenes';
import { ScenePictures } from './scene-pictures';

const SIZE = { width: 1080, height: 1080 };

/** Stands for a picture: it says when it is closed. */
class Picture {
  isClosed = false;
  constructor(
    readonly width: number,
    readonly height: number,
  ) {}
  close(): void {
    this.isClosed = true;
  }
}

describe('pictures of scenes for files', () => {
  const art = signal({});
  const blanks = signal<readonly Blank[]>([]);
  let drawn: string[];
  let all: Picture[];
  /** Side of what is drawn, px. */
  let side: number;
  let fails: string[];
  let pictures: ScenePictures;

  beforeEach(() => {
    [drawn, all, fails, side] = [[], [], [], 1080];
    const scenes: Partial<ClipScenes> = {
      art: art as unknown as ClipScenes['art'],
      arrived: signal(0) as unknown as ClipScenes['arrived'],
      otherArt: signal(new Map()) as unknown as ClipScenes['otherArt'],
      guises: ({ scene: { garment }, colours = [] }: ClipScene): readonly Guise[] =>
        [garment, ...colours].map((one) => ({ garment: one })),
      movingBlank: ({ blankId }) => (blankId === 'turning' ? ({} as never) : null),
      focus: () => Promise.resolve(MIDDLE),
      whole: (draw) => draw(),
      still: ({ scene: { blankId } }, { garment }) => {
        drawn.push(`${blankId} ${garment}`);
        if (fails.includes(blankId)) return Promise.reject(new Error('A product of this clip is gone.'));
        const picture = new Picture(side, side);
        all.push(picture);
        return Promise.resolve({ picture: picture as unknown as ImageBitmap, isComing: false });
      },
    };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        ScenePictures,
        { provide: ClipScenes, useValue: scenes },
        { provide: MockupEditor, useValue: { blanks } },
      ],
    });
    pictures = TestBed.inject(ScenePictures);
  });

  const use = (one: ClipScene) => pictures.use(one, SIZE, ({ guises }) => guises);
  const isClosed = ([picture]: Levels) => (picture as unknown as Picture).isClosed;
  const ahead = (scenes: readonly ClipScene[]) =>
    new Promise<void>((resolve) => {
      pictures.ahead(scenes, SIZE).subscribe({ complete: resolve });
    });

  it('are drawn once for file after file, in each of their guises', async () => {
    const tee = scene('tee', { colours: ['#a5442f'] });
    const first = await use(tee);
    expect(drawn).toEqual(['tee #1f2b4d', 'tee #a5442f']);
    expect(await use({ ...tee, id: 'a copy', frames: 96 })).toEqual(first);
    expect(drawn.length).toBe(2);
    // Another size is another picture.
    await pictures.use(tee, { width: 1080, height: 1920 }, () => undefined);
    expect(drawn.length).toBe(4);
    expect(first.some(isClosed)).toBeFalse();
  });

  it('are drawn again when what is printed or a product has changed, and let go of', async () => {
    const [before] = await use(scene('tee'));
    art.set({});
    const [after] = await use(scene('tee'));
    expect(drawn.length).toBe(2);
    expect([isClosed(before), isClosed(after)]).toEqual([true, false]);
    blanks.set([]);
    await use(scene('tee'));
    expect(drawn.length).toBe(3);
    expect(isClosed(after)).toBeTrue();
    TestBed.resetTestingModule();
    await Promise.resolve();
    expect(all.every((one) => one.isClosed)).toBeTrue();
  });

  it('stay there while somebody uses them, though what is printed has changed', async () => {
    const tee = scene('tee', { colours: ['#a5442f'] });
    let isOpen: boolean[] = [];
    const handed = pictures.use(tee, SIZE, ({ guises }) => (isOpen = guises.map((one) => !isClosed(one))));
    art.set({});
    await use(scene('mug'));
    await handed;
    expect(isOpen).toEqual([true, true]);
    await Promise.resolve();
    // What nobody will ask for again is let go of afterwards: what was drawn since then is of the art as it is.
    expect(all.map((one) => one.isClosed)).toEqual([true, false, false]);
  });

  it('are let go of from the one used longest ago when they fill their memory', async () => {
    side = 3000; // 36 MB each: three stay.
    const names = ['a', 'b', 'c'];
    const kept = new Map<string, Levels>();
    for (const name of names) kept.set(name, (await use(scene(name)))[0]);
    await use(scene('a'));
    await use(scene('d'));
    expect(names.map((name) => isClosed(kept.get(name)!))).toEqual([false, true, false]);
    expect(drawn.length).toBe(4);
    await use(scene('b'));
    expect(drawn.length).toBe(5);
  });

  it('are tried again when they could not be drawn', async () => {
    fails = ['tee'];
    await expectAsync(use(scene('tee'))).toBeRejectedWithError('A product of this clip is gone.');
    fails = [];
    await use(scene('tee'));
    expect(drawn.length).toBe(2);
  });

  it('are drawn ahead one after the other, none that moves, and none more than are kept', async () => {
    await ahead([scene('turning'), scene('tee'), scene('mug')]);
    expect(drawn.map((one) => one.split(' ')[0])).toEqual(['tee', 'mug']);
    side = 3000;
    await ahead(['a', 'b', 'c', 'd', 'e', 'f'].map((name) => scene(name)));
    expect(drawn.slice(2).map((one) => one.split(' ')[0])).toEqual(['a', 'b', 'c', 'd']);
  });

  it('are not drawn ahead any further once something else goes on, nor after one that fails', async () => {
    const run = pictures.ahead([scene('tee'), scene('mug')], SIZE).subscribe();
    run.unsubscribe();
    await new Promise((resolve) => setTimeout(resolve));
    expect(drawn).toEqual(['tee #1f2b4d']);
    fails = ['gone'];
    await ahead([scene('gone'), scene('cap')]);
    expect(drawn.length).toBe(2);
  });
});
