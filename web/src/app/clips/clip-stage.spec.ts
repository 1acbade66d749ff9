import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { CLIP_FPS, type Clip } from '@kettle/core/model';
import { clipsOf } from '@kettle/core/clip';
import type { Editor } from '../editor/editor';
import { MockupEditor } from '../mockups/mockup-editor';
import { HEARD } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { cup, openEditor, shirt } from '../testing/open-editor';
import { colourAt, drawn, point } from '../testing/shown';
import { stillScene } from '../testing/still-scene';
import { ClipEditor } from './clip-editor';
import { ClipLogos } from './clip-logos';
import { ClipPictures } from './clip-pictures';
import { ClipStage } from './clip-stage';

/** A picture of one colour for every scene. */
const picture = (colour: string): OffscreenCanvas => {
  const canvas = new OffscreenCanvas(64, 64);
  const context = canvas.getContext('2d')!;
  context.fillStyle = colour;
  context.fillRect(0, 0, 64, 64);
  return canvas;
};
const MIDDLE = { x: 0.3, y: 0.3, width: 0.4, height: 0.4 };
const colours = ['#ff0000', '#0000ff'];

describe('a clip on its stage', () => {
  const isReady = signal(true);
  let editor: Editor;
  let clips: ClipEditor;
  let page: InPage<ClipStage>;
  const clip = (): Clip => clipsOf(editor.desk.document()!)[0];
  const surface = (): HTMLCanvasElement => page.element.querySelector('canvas')!;
  const middle = (): number[] => colourAt(surface(), surface().clientWidth / 2, surface().clientHeight / 2);
  beforeEach(async () => {
    isReady.set(true);
    const pictures = {
      want: () => undefined,
      isReady,
      ready: ({ scenes }: Clip) =>
        scenes.map((_, i) => ({ guises: [[[picture(colours[i])]]], motion: null, focus: MIDDLE })),
    };
    const opened = openEditor(
      {
        clips: [
          {
            id: 'c',
            name: 'Rain',
            shape: '1:1',
            scenes: [stillScene('tee-front', { frames: 24 }), stillScene('mug-front', { frames: 24 })],
          },
        ],
      },
      [
        MockupEditor,
        ClipEditor,
        ...HEARD,
        { provide: ClipPictures, useValue: pictures },
        { provide: ClipLogos, useValue: { draw: async () => null } },
      ],
    );
    editor = opened.editor;
    clips = TestBed.inject(ClipEditor);
    opened.http.expectOne('/api/blanks').flush([shirt, cup]);
    TestBed.tick();
    opened.http.expectOne('/api/music').flush([]);
    page = await InPage.show(ClipStage);
    page.element.style.cssText = 'display: grid; grid-template-rows: 240px auto; width: 240px';
    page.element.querySelector<HTMLElement>('.room')!.style.height = '240px';
    document.body.append(page.element);
    await drawn(page);
  });
  afterEach(() => page.element.remove());
  const press = async (key: string, at: EventTarget = document.body): Promise<void> => {
    at.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await drawn(page);
  };

  it('shows the frame that is looked at, and chooses the scene it belongs to', async () => {
    expect(middle()).toEqual([255, 0, 0]);
    const frame = page.field('Frame');
    frame.value = '30';
    frame.dispatchEvent(new Event('input'));
    await drawn(page);
    expect(middle()).toEqual([0, 0, 255]);
    expect(clips.scene()?.id).toBe('mug-front');
    expect(page.text).toContain(`${(30 / CLIP_FPS).toFixed(2)} of ${(48 / CLIP_FPS).toFixed(2)} s`);
  });

  it('goes frame by frame with keys, never past its ends, and not while somebody types', async () => {
    await press(',');
    expect(clips.frame()).toBe(0);
    await press('.');
    await press('.');
    expect(clips.frame()).toBe(2);
    const box = document.createElement('input');
    page.element.append(box);
    await press('.', box);
    expect(clips.frame()).toBe(2);
    clips.frame.set(47);
    await press('.');
    expect(clips.frame()).toBe(47);
  });

  it('plays on a press or the space bar, and stops where it is', async () => {
    await press(' ');
    expect(page.button('Stop')).toBeTruthy();
    expect(clips.playing()).toBeTrue();
    while (Number(surface().dataset['frame']) < 2) await drawn(page);
    await page.press('Stop');
    expect(clips.playing()).toBeFalse();
    expect(clips.frame()).toBeGreaterThanOrEqual(2);
  });

  it('leaves frames out where the machine cannot keep up, keeps its pace, and says so while it lasts', async () => {
    let now = 0;
    let waiting: FrameRequestCallback[] = [];
    spyOn(performance, 'now').and.callFake(() => now);
    spyOn(window, 'requestAnimationFrame').and.callFake((step) => waiting.push(step));
    const goOn = async (ms: number, times: number): Promise<void> => {
      for (let i = 0; i < times; i++) {
        now += ms;
        const steps = waiting;
        waiting = [];
        for (const step of steps) step(now);
        await page.fixture.whenStable();
      }
    };
    await page.press('Play');
    await goOn(100, 11);
    expect(surface().dataset['frame']).toBe(String(Math.floor(1.1 * CLIP_FPS)));
    expect(page.text).toMatch(/Shown at (9|10) of 24 frames a second/);
    await goOn(25, 45);
    expect(surface().dataset['frame']).toBe(String(Math.floor(2.225 * CLIP_FPS) % 48));
    expect(page.text).not.toContain('Shown at');
  });

  it('says what it waits for until its scenes are drawn', async () => {
    expect(page.text).not.toContain('Drawing its scenes');
    isReady.set(false);
    await page.fixture.whenStable();
    expect(page.text).toContain('Drawing its scenes …');
  });

  it('is framed otherwise by a hand that drags it, as one step back; a press alone changes nothing', async () => {
    spyOn(surface(), 'setPointerCapture');
    point(surface(), 'pointerdown', 120, 120);
    point(surface(), 'pointerup', 120, 120);
    expect(clip().scenes[0].framings).toBeUndefined();
    expect(clips.scene()?.id).toBe('tee-front');
    point(surface(), 'pointerdown', 120, 120);
    for (const x of [110, 100, 90]) point(surface(), 'pointermove', x, 120);
    point(surface(), 'pointerup', 90, 120);
    const framing = clip().scenes[0].framings!['1:1']!;
    expect([framing.x > 0, framing.y]).toEqual([true, 0]);
    editor.desk.undo();
    expect(clip().scenes[0].framings).toBeUndefined();
  });
});
