import {
  CLIP_FPS,
  CLIP_SECONDS,
  MOST_CLIP_SCENES,
  type Clip,
  type ClipScene,
  type ClipShape,
  type ClipWords,
  type Movement,
  type ShownScene,
  type TransitionKind,
} from '../model/clip.js';
import type { MusicTrack } from './music.js';

/** A scene of a ready arrangement: which of the design's products it shows, for how many beats, and how. */
interface Step {
  readonly shot: number;
  readonly beats: number;
  readonly movement: Movement;
  readonly into?: TransitionKind;
  /** Shown on a blank that moves, where there is one for the product. */
  readonly turns?: boolean;
}

/** A ready arrangement that a clip can start from. */
export interface Arrangement {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly trackId: string;
  readonly shape: ClipShape;
  readonly words: ClipWords['when'] | null;
  readonly steps: readonly Step[];
  /** True for one that shows several designs, one after the other. */
  readonly manyDesigns?: boolean;
}

const step = (shot: number, beats: number, movement: Movement, into?: TransitionKind): Step => ({
  shot,
  beats,
  movement,
  ...(into ? { into } : {}),
});

/** A step on a blank that moves. */
const turning = (beats: number, movement: Movement, into?: TransitionKind): Step => ({
  ...step(0, beats, movement, into),
  turns: true,
});

const arrangement = (
  id: string,
  name: string,
  about: string,
  trackId: string,
  shape: ClipShape,
  words: Arrangement['words'],
  steps: readonly Step[],
): Arrangement => ({ id, name, about, trackId, shape, words, steps });

/** Arrangements that ship. Lengths are in beats of their track, so that cuts fall on them. */
export const ARRANGEMENTS: readonly Arrangement[] = [
  arrangement(
    'turns-to-you',
    'Turns to you',
    'It turns towards who looks, then through its colours on the beat.',
    'three-oktas-and-bright',
    '1:1',
    'end',
    [turning(6, 'turn', 'cut'), turning(10, 'colours')],
  ),
  arrangement(
    'round-and-round',
    'Round and round',
    'For tall posts: it turns while the view comes nearer.',
    'puddle-census',
    '9:16',
    'end',
    [turning(12, 'push')],
  ),
  arrangement(
    'layer-by-layer',
    'Layer by layer',
    'The print comes onto the cloth one layer after the other.',
    'tea-in-the-observing-hut',
    '1:1',
    'end',
    [step(0, 9, 'layers')],
  ),
  arrangement(
    'every-colour',
    'Every colour',
    'One product in all its colours, on the beat.',
    'three-oktas-and-bright',
    '1:1',
    'end',
    [step(0, 16, 'colours')],
  ),
  arrangement(
    'close-then-whole',
    'Close, then whole',
    'The print up close, then all of the product.',
    'tea-in-the-observing-hut',
    '1:1',
    'end',
    [step(0, 9, 'reveal')],
  ),
  arrangement(
    'three-looks',
    'Three looks',
    'Three products, one after the other.',
    'isobars-closing-in',
    '1:1',
    'end',
    [step(0, 6, 'push', 'cut'), step(1, 6, 'drift', 'cut'), step(2, 6, 'pull')],
  ),
  arrangement(
    'tall-story',
    'Tall story',
    'For tall posts: close, colours, whole.',
    'isobars-closing-in',
    '9:16',
    'end',
    [step(0, 8, 'reveal', 'dissolve'), step(0, 12, 'colours', 'cut'), step(1, 8, 'pull')],
  ),
  arrangement(
    'slow-morning',
    'Slow morning',
    'Two products, calm and long.',
    'fog-over-the-rain-gauge',
    '4:5',
    'start',
    [step(0, 8, 'push', 'dissolve'), step(1, 8, 'drift')],
  ),
  arrangement('puddles', 'Puddles', 'Quick and playful, sliding from one to the next.', 'puddle-census', '1:1', 'end', [
    step(0, 4, 'push', 'slide'),
    step(1, 4, 'pull', 'slide'),
    step(2, 4, 'push', 'slide'),
    step(0, 4, 'still'),
  ]),
  arrangement(
    'question',
    'Question and answer',
    'The print alone, and what it is on.',
    'who-tapped-the-barometer',
    '4:5',
    'end',
    [step(0, 10, 'reveal', 'wipe'), step(1, 10, 'push')],
  ),
  arrangement(
    'wide-shelf',
    'Wide shelf',
    'For a wide screen: a slow drift over each.',
    'tea-in-the-observing-hut',
    '16:9',
    'all',
    [step(0, 6, 'drift', 'dissolve'), step(1, 6, 'drift', 'dissolve'), step(2, 6, 'drift')],
  ),
  arrangement(
    'tall-colours',
    'Tall colours',
    'All colours on the beat, for tall posts.',
    'three-oktas-and-bright',
    '9:16',
    'end',
    [step(0, 20, 'colours')],
  ),
  arrangement('quick-cut', 'Quick cut', 'Five seconds, four cuts.', 'isobars-closing-in', '1:1', null, [
    step(0, 3, 'push', 'cut'),
    step(1, 3, 'push', 'cut'),
    step(2, 3, 'push', 'cut'),
    step(0, 3, 'reveal'),
  ]),
  arrangement(
    'long-look',
    'Long look',
    'Half a minute for one product that deserves it.',
    'fog-over-the-rain-gauge',
    '1:1',
    'end',
    [step(0, 16, 'reveal', 'dissolve'), step(0, 12, 'colours', 'dissolve'), step(0, 12, 'pull')],
  ),
  arrangement(
    'light-passes',
    'The light passes',
    'One gives way to the other as light would.',
    'tea-in-the-observing-hut',
    '4:5',
    'end',
    [step(0, 6, 'push', 'wipe'), step(1, 6, 'push', 'wipe'), step(2, 6, 'pull')],
  ),
];

/** Arrangements that show several designs: their one step is that of each design. */
export const ARRANGEMENTS_OF_MANY: readonly Arrangement[] = [
  {
    ...arrangement(
      'parade',
      'Parade',
      'One design after the other, cut on the beat.',
      'isobars-closing-in',
      '1:1',
      null,
      [step(0, 4, 'push', 'cut')],
    ),
    manyDesigns: true,
  },
  {
    ...arrangement('gallery', 'Gallery', 'A calm look at each design.', 'fog-over-the-rain-gauge', '1:1', null, [
      step(0, 4, 'drift', 'dissolve'),
    ]),
    manyDesigns: true,
  },
];

/** What a clip of several designs shows of one. */
export interface DesignShot {
  readonly designId: string;
  readonly scene: ShownScene;
}

/**
 * A clip that shows several designs, each for as long as the arrangement's step; as many as a clip may last.
 * @param designs at least one; the first is the one that the clip belongs to
 */
export function arrangedOfMany(
  one: Arrangement,
  designs: readonly DesignShot[],
  tracks: readonly MusicTrack[],
  newId: () => string,
): Clip {
  const [each] = one.steps;
  const bpm = tracks.find(({ id }) => id === one.trackId)?.beats?.bpm ?? 120;
  const most = Math.min(MOST_CLIP_SCENES, Math.floor((CLIP_SECONDS.most * bpm) / (60 * each.beats)));
  const shown = designs.slice(0, most);
  const clip = arranged(
    { ...one, steps: shown.map((_, shot) => ({ ...each, shot })) },
    shown.map(({ scene }) => scene),
    [],
    [],
    tracks,
    '',
    newId,
  );
  return {
    ...clip,
    scenes: clip.scenes.map((scene, i) =>
      shown[i].designId === designs[0].designId ? scene : { ...scene, designId: shown[i].designId },
    ),
  };
}

/** How long scenes share, frames. */
const SHARED: Readonly<Record<TransitionKind, number>> = { cut: 0, dissolve: 12, slide: 10, wipe: 14 };

/**
 * A clip after an arrangement. With fewer products than it asks for they come again.
 * @param shots products of the design, the one that is looked at first; at least one
 * @param turns the same on blanks that move; none where there are none
 * @param colours other colours of the first one
 * @param newId gives ids
 */
export function arranged(
  { name, shape, words, steps, trackId }: Arrangement,
  shots: readonly ShownScene[],
  turns: readonly ShownScene[],
  colours: readonly string[],
  tracks: readonly MusicTrack[],
  title: string,
  newId: () => string,
): Clip {
  const track = tracks.find((one) => one.id === trackId);
  const framesOfBeat = (track?.beats ? 60 / track.beats.bpm : 0.5) * CLIP_FPS;
  let beat = 0;
  let start = 0;
  const scenes = steps.map(({ shot, beats, movement, into, turns: moves }, index): ClipScene => {
    const of = moves && turns.length ? turns : shots;
    const scene = of[shot % of.length];
    // What a scene shares with the next is added to it, so that the next one's beat stays where it is.
    const shared = index < steps.length - 1 && into ? SHARED[into] : 0;
    beat += beats;
    const end = Math.round(beat * framesOfBeat);
    const frames = end - start + shared;
    start = end;
    return {
      id: newId(),
      scene,
      frames,
      // What stands still cannot turn: the view comes nearer instead.
      movement: movement === 'turn' && of !== turns ? 'push' : movement,
      ...(movement === 'colours' ? { colours: colours.filter((hex) => hex !== scene.garment).slice(0, 11) } : {}),
      ...(shared && into ? { transition: { kind: into, frames: shared } } : {}),
    };
  });
  return {
    id: newId(),
    name,
    shape,
    scenes,
    ...(words ? { words: { title, line: '', when: words, hex: '#1f2623' } } : {}),
    ...(track ? { music: { trackId, start: 0, volume: 1 } } : {}),
  };
}
