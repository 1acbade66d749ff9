import {
  aspectOf,
  CLIP_FPS,
  CLIP_SHAPES,
  clipSize,
  type ClipScene,
  type ClipWords,
  type ShownScene,
} from '../model/clip.js';
import { guiseAt, guisesOf } from './guises.js';
import { eased, viewAt } from './movement.js';
import { beatFrames, fadesOf, FADE_OUT, gainAt, musicPlan, onBeat, startsInside, type MusicTrack } from './music.js';
import { framesOf, momentAt, overlapAfter, sceneAt, secondsOf, startsOf } from './timeline.js';
import { trimmed } from './trim.js';
import { framesAround, neededAt, neededPictures, turnAt, type Motion } from './turning.js';
import { clearOfEdges, logoBox, wordsAt } from './words.js';

const shown: ShownScene = {
  blankId: 'tee-front',
  areaId: 'full-front',
  requirementId: null,
  garment: '#112233',
  backdrop: '#ffffff',
  inkOpacity: 1,
  shadow: 0.5,
};
const scene = (frames: number, change: Partial<ClipScene> = {}): ClipScene => ({
  id: `s${frames}`,
  scene: shown,
  frames,
  movement: 'still',
  ...change,
});
const dissolve = (frames: number) => ({ kind: 'dissolve' as const, frames });
const track: MusicTrack = {
  id: 'fog',
  title: 'Fog',
  mood: 'calm',
  tempo: 120,
  beats: { bpm: 120, offset: 0, perBar: 4 },
  durationSeconds: 12,
  loopStart: 2,
  loopEnd: 8,
};

describe('a clip’s time line', () => {
  it('is as long as its scenes, less what two of them share', () => {
    const clip = { scenes: [scene(48, { transition: dissolve(12) }), scene(72), scene(24)] };
    expect(startsOf(clip)).toEqual([0, 36, 108]);
    expect(framesOf(clip)).toBe(132);
    expect(secondsOf(clip)).toBe(132 / CLIP_FPS);
    expect([framesOf({ scenes: [] }), momentAt({ scenes: [] }, 3), sceneAt({ scenes: [] }, 0)]).toEqual([0, null, -1]);
  });

  it('never lets a transition swallow a scene', () => {
    const scenes = [scene(10, { transition: dissolve(99) }), scene(4, { transition: dissolve(99) }), scene(40)];
    expect([0, 1, 2].map((index) => overlapAfter(scenes, index))).toEqual([1, 1, 0]);
    // The last scene has nothing to give way to, and a cut takes no time.
    expect(overlapAfter([scene(40, { transition: dissolve(8) })], 0)).toBe(0);
    expect(overlapAfter([scene(40, { transition: { kind: 'cut', frames: 8 } }), scene(40)], 0)).toBe(0);
    const seen = Array.from({ length: framesOf({ scenes }) }, (_, frame) => momentAt({ scenes }, frame)!);
    for (const index of [0, 1, 2]) expect(seen.some(({ now, next }) => now.index === index && !next)).toBeTrue();
  });

  it('shows each frame once: every scene from its first to its last, mixed evenly where two meet', () => {
    const clip = { scenes: [scene(24, { transition: dissolve(8) }), scene(24)] };
    const moments = Array.from({ length: framesOf(clip) }, (_, frame) => momentAt(clip, frame)!);
    expect(moments.length).toBe(40);
    expect([moments[0].now, moments[0].next]).toEqual([{ index: 0, frame: 0, t: 0 }, undefined]);
    expect(moments[15].next).toBeUndefined();
    const mixes = moments.slice(16, 24).map(({ next }) => next!.mix);
    expect(mixes[0]).toBeGreaterThan(0);
    expect(mixes[7]).toBeLessThan(1);
    mixes.forEach((mix, i) => expect(mix + mixes[7 - i]).toBeCloseTo(1, 9));
    expect([moments[23].now.t, moments[23].next!.moment.frame]).toEqual([1, 7]);
    expect(moments[24].now).toEqual({ index: 1, frame: 8, t: 8 / 23 });
    expect(moments[39].now.t).toBe(1);
    expect(momentAt(clip, 400)).toEqual(moments[39]);
    expect([sceneAt(clip, 17), sceneAt(clip, 22), sceneAt(clip, 39)]).toEqual([0, 1, 1]);
  });
});

describe('a movement', () => {
  const focus = { x: 0.35, y: 0.3, width: 0.3, height: 0.35 };
  const course = (movement: Parameters<typeof viewAt>[0], aspect = 1, steps = 96) =>
    Array.from({ length: steps }, (_, i) => viewAt(movement, i / (steps - 1), focus, aspect, 1));

  it('begins and ends at rest', () => {
    expect([eased(-1), eased(0), eased(0.5), eased(1), eased(2)]).toEqual([0, 0, 0.5, 1, 1]);
    const speed = (t: number) => (eased(t + 1e-4) - eased(t - 1e-4)) / 2e-4;
    expect(speed(1e-4)).toBeLessThan(1e-4);
    expect(speed(1 - 1e-4)).toBeLessThan(1e-4);
    expect(speed(0.5)).toBeCloseTo(1.875, 3);
  });

  it('is exact: its steps change evenly, far below a thousandth of the picture', () => {
    for (const movement of ['push', 'pull', 'drift', 'reveal'] as const) {
      const views = course(movement, 9 / 16, 144);
      for (const edge of [(v: (typeof views)[0]) => v.x, (v: (typeof views)[0]) => v.x + v.width]) {
        // A rounding to pixels would show as steps whose differences jump by a pixel.
        const steps = views.slice(1).map((view, i) => edge(view) - edge(views[i]));
        const jolts = steps.slice(1).map((step, i) => Math.abs(step - steps[i]));
        expect(Math.max(...jolts))
          .withContext(movement)
          .toBeLessThan(0.001);
        expect(Math.abs(steps[0])).withContext(movement).toBeLessThan(0.0002);
        expect(Math.abs(steps.at(-1)!))
          .withContext(movement)
          .toBeLessThan(0.0002);
      }
    }
  });

  it('stays on the picture in every shape, and has the shape', () => {
    for (const shape of CLIP_SHAPES)
      for (const movement of ['still', 'push', 'pull', 'drift', 'reveal', 'colours'] as const)
        for (const picture of [1, 1.5])
          for (const t of [0, 0.3, 1]) {
            const { x, y, width, height } = viewAt(movement, t, focus, aspectOf(shape), picture);
            expect(Math.min(x, y, 1 - x - width, 1 - y - height)).toBeGreaterThan(-1e-9);
            expect((width * picture) / height).toBeCloseTo(aspectOf(shape), 9);
          }
  });

  it('goes where it says', () => {
    const [push, pull, drift, reveal] = (['push', 'pull', 'drift', 'reveal'] as const).map((one) => course(one));
    expect(push.at(-1)!.width).toBeLessThan(push[0].width);
    expect(pull.map(({ width }, i) => Math.abs(width - push[push.length - 1 - i].width) < 1e-9)).not.toContain(false);
    expect(drift.at(-1)!.x).toBeGreaterThan(drift[0].x);
    expect(drift[0].width).toBe(drift.at(-1)!.width);
    // A reveal begins with the print and a little around it.
    const first = reveal[0];
    expect(first.width).toBeLessThan(0.5);
    expect(first.x).toBeLessThan(focus.x);
    expect(first.x + first.width).toBeGreaterThan(focus.x + focus.width);
    expect(reveal.at(-1)).toEqual({ x: 0, y: 0, width: 1, height: 1 });
    // In a tall shape the print is in the middle of what is left.
    const tall = viewAt('still', 0, { ...focus, x: 0.5 }, 9 / 16, 1);
    expect(tall.x + tall.width / 2).toBeCloseTo(0.65, 9);
    const [a, b] = [course('still'), course('colours')];
    expect(a).toEqual(b);
  });
});

describe('the size of a clip', () => {
  it('is even, and its shorter side is what was asked for', () => {
    expect(CLIP_SHAPES.map((shape) => Object.values(clipSize(shape, 1080)))).toEqual([
      [1080, 1080],
      [1080, 1350],
      [1080, 1920],
      [1920, 1080],
    ]);
    for (const shape of CLIP_SHAPES)
      for (const side of [720, 1080, 333]) {
        const { width, height } = clipSize(shape, side);
        expect([width % 2, height % 2]).toEqual([0, 0]);
        expect(Math.abs(width / height - aspectOf(shape))).toBeLessThan(0.01);
      }
  });
});

describe('the music of a clip', () => {
  it('jumps back at its loop as often as needed, without a gap', () => {
    expect(musicPlan(track, 0, 5)).toEqual([{ from: 0, to: 5, at: 0 }]);
    // The track’s own ending is played when it comes to that.
    expect(musicPlan(track, 0, 11)).toEqual([{ from: 0, to: 11, at: 0 }]);
    const long = musicPlan(track, 1, 25);
    expect(long[0]).toEqual({ from: 1, to: 8, at: 0 });
    long.slice(1).forEach(({ from, at }, i) => {
      expect(from).toBe(track.loopStart);
      expect(at).toBeCloseTo(long[i].at + long[i].to - long[i].from, 9);
    });
    const last = long.at(-1)!;
    expect(last.at + last.to - last.from).toBeCloseTo(25, 9);
    expect(last.to).toBeLessThanOrEqual(track.durationSeconds);
    // A start behind the loop would never come back.
    expect(musicPlan(track, 99, 3)[0].from).toBeLessThan(track.loopEnd);
  });

  it('ends in silence, and comes in softly where it does not begin at its beginning', () => {
    const [inside, whole] = [2.5, 0].map((start) => fadesOf(track, { start }, 10));
    expect([gainAt(10, 0, inside), gainAt(10, 0, whole)]).toEqual([0, 1]);
    expect(gainAt(10, 5, inside)).toBe(1);
    expect(gainAt(10, 10, whole)).toBe(0);
    expect(gainAt(10, 10 - FADE_OUT / 2, whole)).toBeCloseTo(0.5, 9);
    // No step is heard: the loudness never changes by more than a fade does.
    for (let time = 0.1; time < 10; time += 0.001)
      expect(Math.abs(gainAt(10, time, inside) - gainAt(10, time - 0.001, inside))).toBeLessThan(0.035);
    expect([startsInside(track, 0), startsInside(track, 2.5)]).toEqual([false, true]);
  });

  it('comes and goes as slowly as the seller says, and never without a fade', () => {
    expect(fadesOf(track, { start: 0, fadeIn: 2, fadeOut: 3 }, 10)).toEqual({ comes: 2, goes: 3 });
    const short = fadesOf(track, { start: 1, fadeIn: 0, fadeOut: 0 }, 10);
    expect([short.comes, short.goes].every((one) => one >= 0.02 && one < 0.1)).toBeTrue();
    // In a clip of two seconds they do not meet.
    const tight = fadesOf(track, { start: 0, fadeIn: 5, fadeOut: 5 }, 2);
    expect(tight.comes + tight.goes).toBeLessThanOrEqual(2);
  });

  it('has no beats where nobody knows them', () => {
    expect(beatFrames({ ...track, beats: null, tempo: null }, 0, 240)).toEqual([]);
  });

  it('has beats on frames, also after a jump', () => {
    const beats = beatFrames(track, 0, 240);
    expect(beats.slice(0, 5)).toEqual([0, 12, 24, 36, 48]);
    expect(beats.at(-1)).toBeLessThan(240);
    // It begins a quarter of a second before a beat.
    expect(beatFrames(track, 0.25, 48).slice(0, 3)).toEqual([6, 18, 30]);
    // 30 seconds: the loop of six seconds is twelve beats, so the grid goes on.
    const long = beatFrames(track, 0, 30 * CLIP_FPS);
    long.slice(1).forEach((beat, i) => expect(beat - long[i]).toBe(12));
    expect([onBeat(25, beats), onBeat(31, beats), onBeat(7, [])]).toEqual([24, 36, 7]);
  });
});

describe('trimming a scene', () => {
  it('ends it on a beat that is nearly there, and where it is wished otherwise', () => {
    const clip = { scenes: [scene(24), scene(48)] };
    const beats = [0, 12, 24, 36, 48, 60, 72];
    // The second begins at 24: an end at 61 is pulled to 60, one in the midst between two beats is the nearer one’s.
    expect(trimmed(clip, 1, 37, beats)).toBe(36);
    expect(trimmed(clip, 1, 30, beats)).toBe(24);
    expect(trimmed(clip, 1, 200, beats)).toBe(200);
    expect(trimmed(clip, 1, 37.4, [])).toBe(37);
    expect([trimmed(clip, 0, -5, []), trimmed(clip, 0, 1e6, [])]).toEqual([6, 1440]);
    expect(trimmed(clip, 0, 7, beats)).toBe(12);
  });
});

describe('guises of a scene', () => {
  it('are its colours, which change on every other beat and come round again', () => {
    const one = scene(96, { movement: 'colours', colours: ['#aa0000', '#00aa00'] });
    expect(guisesOf(one, 5).map(({ garment }) => garment)).toEqual(['#112233', '#aa0000', '#00aa00']);
    const beats = beatFrames(track, 0, 200);
    const seen = Array.from({ length: 96 }, (_, frame) => guiseAt(one, 3, frame, 24, beats).now);
    expect(seen[0]).toBe(0);
    expect([...new Set(seen)].sort()).toEqual([0, 1, 2]);
    // A change falls on a beat of the clip.
    seen.forEach((value, frame) => {
      if (frame && value !== seen[frame - 1]) expect(beats).toContain(24 + frame);
    });
    expect(guiseAt(one, 3, 17, 0, []).now).toBe(0);
    expect(guiseAt(one, 3, 18, 0, []).now).toBe(1);
    expect(guisesOf({ ...one, movement: 'push' }, 5)).toEqual([{ garment: '#112233' }]);
  });

  it('are the print laid on, from bare cloth to all of it, each layer faded in and whole before the next', () => {
    const one = scene(96, { movement: 'layers' });
    expect(guisesOf(one, 3).map(({ layers }) => layers)).toEqual([0, 1, 2, undefined]);
    // Of many layers some come together; of none there is nothing to lay on.
    expect(guisesOf(one, 40).length).toBe(9);
    expect(guisesOf(one, 0)).toEqual([{ garment: '#112233' }]);
    const seen = Array.from({ length: 96 }, (_, frame) => {
      const { now, next } = guiseAt(one, 4, frame, 0, []);
      return now + (next?.share ?? 0);
    });
    expect(seen[0]).toBe(0);
    expect(seen.at(-1)).toBe(3);
    seen.slice(1).forEach((value, i) => {
      expect(value).toBeGreaterThanOrEqual(seen[i] - 1e-9);
      expect(value - seen[i]).toBeLessThan(0.3);
    });
    // The whole print is seen for a while.
    expect(seen.filter((value) => value === 3).length).toBeGreaterThan(24);
  });
});

describe('a blank that moves', () => {
  const motion: Motion = { frames: 40, play: 'back-and-forth', fps: 24, poster: 20 };

  it('plays by itself, to the end and back', () => {
    const seen = Array.from({ length: 100 }, (_, frame) => turnAt(motion, scene(100, { movement: 'push' }), frame));
    expect(seen.slice(0, 3)).toEqual([0, 1, 2]);
    expect([seen[39], seen[40], seen[77], seen[78], seen[79]]).toEqual([39, 38, 1, 0, 1]);
    // Taken at half as many frames a second, each is shown twice.
    expect(turnAt({ ...motion, fps: 12 }, scene(100), 10)).toBe(5);
    expect(turnAt({ ...motion, play: 'loop' }, scene(100), 41)).toBe(1);
  });

  it('turns towards who looks, without a jolt, and stays', () => {
    const one = scene(72, { movement: 'turn' });
    const seen = Array.from({ length: 72 }, (_, frame) => turnAt(motion, one, frame));
    expect(seen[0]).toBe(0);
    expect(seen.at(-1)).toBe(20);
    const steps = seen.slice(1).map((value, i) => value - seen[i]);
    expect(Math.min(...steps)).toBeGreaterThanOrEqual(0);
    // It begins and ends gently, and is never faster than twice the blank's own pace.
    expect(steps[0]).toBeLessThan(0.1);
    expect(Math.max(...steps)).toBeLessThan(2);
    expect(seen.filter((value) => value === 20).length).toBeGreaterThan(20);
    expect(framesAround(3.25)).toEqual({ below: 3, above: 4, share: 0.25 });
    expect(framesAround(7)).toEqual({ below: 7, above: 7, share: 0 });
  });

  it('needs each picture once, those of one frame together, and all that any frame shows', () => {
    const one = scene(60, { movement: 'colours', colours: ['#aa0000'] });
    const beats = beatFrames(track, 0, 60);
    const needed = neededPictures(motion, { scenes: [one] }, 0, 2, beats);
    const keys = needed.map(({ guise, frame }) => `${guise} ${frame}`);
    expect(new Set(keys).size).toBe(keys.length);
    const frames = needed.map(({ frame }) => frame);
    expect(frames.filter((frame, i) => i && frame !== frames[i - 1]).length).toBe(new Set(frames).size - 1);
    for (let frame = 0; frame < 60; frame++)
      for (const { guise, frame: at } of neededAt(motion, one, 2, frame, 0, beats))
        expect(keys).toContain(`${guise} ${at}`);
  });
});

describe('the framing of a scene', () => {
  const print = { x: 0.35, y: 0.3, width: 0.3, height: 0.4 };

  it('is the seller’s where it was corrected, and never leaves the picture', () => {
    const own = viewAt('still', 0, print, 9 / 16, 1);
    const moved = viewAt('still', 0, print, 9 / 16, 1, { x: 0.1, y: 0, zoom: 1 });
    expect(moved.x - own.x).toBeCloseTo(0.1, 9);
    const nearer = viewAt('still', 0, print, 9 / 16, 1, { x: 0, y: 0, zoom: 2 });
    expect(nearer.width).toBeCloseTo(own.width / 2, 9);
    for (const x of [-1, 1])
      for (const movement of ['push', 'drift', 'reveal', 'pull'] as const)
        for (const t of [0, 0.5, 1]) {
          const view = viewAt(movement, t, print, 16 / 9, 1, { x, y: x, zoom: 1.3 });
          expect(view.x).toBeGreaterThanOrEqual(-1e-9);
          expect(view.x + view.width).toBeLessThanOrEqual(1 + 1e-9);
          expect(view.y + view.height).toBeLessThanOrEqual(1 + 1e-9);
        }
  });
});

describe('words of a clip', () => {
  const words = (when: ClipWords['when']): ClipWords => ({ title: 'Isobars', line: '', when, hex: '#ffffff' });

  it('come in, stand and go, and stay to the end where they end it', () => {
    const at = (when: ClipWords['when'], frame: number) => wordsAt(words(when), frame, 240).opacity;
    expect([at('start', 0) < 0.1, at('start', 30), at('start', 100), at('start', 239)]).toEqual([true, 1, 0, 0]);
    expect([at('end', 0), at('end', 239)]).toEqual([0, 1]);
    expect([at('all', 120), at('all', 239)]).toEqual([1, 1]);
    const opacities = Array.from({ length: 240 }, (_, frame) => at('start', frame));
    opacities.slice(1).forEach((value, i) => expect(Math.abs(value - opacities[i])).toBeLessThan(0.2));
    expect(wordsAt(words('start'), 0, 240).below).toBeGreaterThan(0.3);
    expect(wordsAt(words('start'), 40, 240).below).toBeCloseTo(0, 9);
  });

  it('keep away from what a phone lays over a tall post', () => {
    const { y, height } = clearOfEdges('9:16');
    expect(y).toBeGreaterThanOrEqual(0.12);
    expect(1 - y - height).toBeGreaterThanOrEqual(0.2);
    expect(clearOfEdges('1:1')).toEqual({ x: 0.07, y: 0.07, width: 0.86, height: 0.86 });
  });

  it('leave a logo its corner, inside what a phone leaves free', () => {
    const size = { width: 1080, height: 1920 };
    const clear = clearOfEdges('9:16');
    const box = logoBox({ corner: 'bottom-right', size: 0.2 }, '9:16', 2, size);
    expect([box.width, box.height]).toEqual([216, 108]);
    expect(box.x + box.width).toBeCloseTo((clear.x + clear.width) * 1080, 6);
    expect(box.y + box.height).toBeCloseTo((clear.y + clear.height) * 1920, 6);
    const tall = logoBox({ corner: 'top-left', size: 0.2 }, '9:16', 0.5, size);
    expect([tall.width, tall.height]).toEqual([108, 216]);
    expect([tall.x, tall.y]).toEqual([clear.x * 1080, clear.y * 1920]);
  });
});
