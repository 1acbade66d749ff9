import { TestBed } from '@angular/core/testing';
import type { HttpTestingController } from '@angular/common/http/testing';
import { CLIP_FPS, type Clip, type ClipScene } from '@kettle/core/model';
import { isMovingBlank } from '@kettle/core/mockup';
import { clipsOf, type MusicTrack } from '@kettle/core/clip';
import type { Editor } from '../editor/editor';
import { MockupEditor } from '../mockups/mockup-editor';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { cup, openEditor, shirt } from '../testing/open-editor';
import { stillScene } from '../testing/still-scene';
import { ClipEditor } from './clip-editor';
import { ClipScenes } from './clip-scenes';
import { ClipSettings } from './clip-settings';
import { MusicSettings } from './music-settings';
import { SceneSettings } from './scene-settings';

const track = (id: string, mood: string, own = false): MusicTrack => ({
  id,
  title: id,
  mood,
  tempo: 120,
  beats: { bpm: 120, offset: 0, perBar: 4 },
  durationSeconds: 30,
  loopStart: 0,
  loopEnd: 30,
  ...(own ? { own } : {}),
});

describe('settings of a clip', () => {
  let editor: Editor;
  let http: HttpTestingController;
  const clip = (): Clip => clipsOf(editor.desk.document()!)[0];
  const scene = (i = 0): ClipScene => clip().scenes[i];
  beforeEach(() => {
    ({ editor, http } = openEditor(
      {
        clips: [
          { id: 'c', name: 'Rain', shape: '1:1', scenes: [stillScene('tee-front'), stillScene('mug-front')] },
        ] as Clip[],
      },
      [MockupEditor, ClipEditor, ...HEARD, { provide: ClipScenes, useValue: { movingBlank: () => null } }],
    ));
    TestBed.inject(ClipEditor);
    http.expectOne('/api/blanks').flush([shirt, cup]);
    TestBed.tick();
    http
      .expectOne('/api/music')
      .flush([track('Puddles', 'calm'), track('Downpour', 'sunny'), track('Mine', 'own', true)]);
    // Only the picture of its sound is fetched beside what is asked here.
    spyOn(window, 'fetch').and.rejectWith(new Error('no sound here'));
  });

  describe('as a whole', () => {
    it('are its name, shape, words and cover', async () => {
      const page = await InPage.show(ClipSettings);
      await page.enter('Name', ' Wet days ');
      await page.enter('Name', '  ');
      await page.press('tall 9:16');
      await page.enter('Title', 'Mostly drizzle');
      await page.enter('Line below', '£18');
      await page.enter('Seen', 'all');
      TestBed.inject(ClipEditor).frame.set(36);
      await page.press('Take the one shown now');
      expect(clip()).toEqual(jasmine.objectContaining({ name: 'Wet days', shape: '9:16', cover: 36 }));
      expect(clip().words).toEqual({ title: 'Mostly drizzle', line: '£18', when: 'all', hex: '#1f2623' });
      expect(page.text).toContain(`the picture at ${(36 / CLIP_FPS).toFixed(2)} s`);
    });

    it('take a typed title back in one step', async () => {
      const page = await InPage.show(ClipSettings);
      for (const words of ['F', 'Fo', 'Fog']) await page.enter('Title', words);
      editor.desk.undo();
      expect(clip().words).toBeUndefined();
    });
  });

  describe('of its music', () => {
    it('are found by mood; a track is chosen with its volume, where it begins and how it goes', async () => {
      const page = await InPage.show(MusicSettings);
      const titles = () => [...page.element.querySelectorAll('option')].map((one) => one.textContent!.trim());
      expect(titles().length).toBe(4);
      await page.press('calm 1');
      expect(titles()).toEqual(['none', 'Puddles, 120 beats a minute']);
      await page.enter('Music', 'Puddles');
      await page.enter('Begins', '4,5');
      await page.enter('Comes in', '0.3');
      expect(clip().music).toEqual({ trackId: 'Puddles', start: 4.5, volume: 1, fadeIn: 0.3 });
      // Another track begins at its own beginning, as loud as the one before.
      await page.press('calm 1');
      await page.enter('Music', 'Downpour');
      expect(clip().music).toEqual(jasmine.objectContaining({ trackId: 'Downpour', start: 0, volume: 1 }));
      await page.enter('Music', '');
      expect(clip().music).toBeUndefined();
    });

    it('of one’s own has a title and beats that can be told, and goes off the list; a shipped one does not', async () => {
      const page = await InPage.show(MusicSettings);
      await page.enter('Music', 'Downpour');
      expect(page.buttons).not.toContain('Take off');
      await page.enter('Music', 'Mine');
      await page.enter('Beats/min', '96');
      const told = http.expectOne((one) => one.method === 'PUT' && one.url === '/api/music/Mine');
      expect(told.request.body).toEqual({ title: 'Mine', bpm: 96, firstBeat: 0 });
      told.flush({});
      TestBed.tick();
      http.expectOne('/api/music').flush([track('Mine', 'own', true)]);
      await page.press('Take off');
      http.expectOne((one) => one.method === 'DELETE').flush(null);
      TestBed.tick();
      http.expectOne('/api/music').flush([]);
      expect(TestBed.inject(Heard).last).toContain('“Mine” is off the list.');
      expect(clip().music).toBeUndefined();
    });

    it('that is gone is told', async () => {
      editor.desk.edit((design) => ({
        ...design,
        clips: [{ ...clip(), music: { trackId: 'lost', start: 0, volume: 1 } }],
      }));
      const page = await InPage.show(MusicSettings);
      http.expectOne('/api/music/lost').flush(...refusal('gone', 404));
      await page.fixture.whenStable();
      expect(page.text).toContain('The music of this clip is gone. Choose another.');
    });

    it('that this browser cannot play is not taken in', async () => {
      const page = await InPage.show(MusicSettings);
      await page.give('Your own music', new File(['no sound'], 'song.mp3', { type: 'audio/mpeg' }));
      await page.fixture.whenStable();
      await new Promise((resolve) => setTimeout(resolve));
      http.expectNone((one) => one.method === 'POST');
    });
  });

  describe('of one scene', () => {
    beforeEach(() => TestBed.inject(ClipEditor).select('tee-front'));

    it('are its product, colour, movement and length', async () => {
      const page = await InPage.show(SceneSettings);
      expect(isMovingBlank(shirt)).toBeFalse();
      expect(page.text).not.toContain('turns');
      await page.press('Chalk');
      await page.enter('Movement', 'push');
      await page.enter('Length', '2,5');
      expect(scene()).toEqual(jasmine.objectContaining({ movement: 'push', frames: 2.5 * CLIP_FPS }));
      expect(scene().scene.garment.toLowerCase()).toBe('#f5f3ee');
      await page.enter('Product', 'mug-front');
      expect(scene().scene.blankId).toBe('mug-front');
      await page.press('The whole clip');
      expect(page.text).toBe('');
    });

    it('change through its colours in the order the blank has them, without the one it begins with', async () => {
      const page = await InPage.show(SceneSettings);
      await page.enter('Movement', 'colours');
      expect(scene().colours).toEqual(['#F5F3EE', '#1B1B1D', '#1F2B4D'].filter((hex) => hex !== scene().scene.garment));
    });

    it('give way to the next, for as long as is typed, and not at all from the last', async () => {
      const page = await InPage.show(SceneSettings);
      const kinds = [...page.field<HTMLSelectElement>('Into the next').options].map((one) => one.value);
      await page.enter(
        'Into the next',
        kinds.find((one) => one !== 'cut')!,
      );
      await page.enter('lasting', '0,5');
      expect(scene().transition?.frames).toBe(CLIP_FPS / 2);
      await page.enter('Into the next', 'cut');
      expect(scene().transition).toBeUndefined();
      TestBed.inject(ClipEditor).select('mug-front');
      await page.fixture.whenStable();
      expect(page.text).not.toContain('Into the next');
    });
  });
});
