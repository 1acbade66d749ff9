import type { Blank } from '../model/blank.js';
import { mug, tee } from '../testing/samples.js';
import { ARRANGEMENTS, ARRANGEMENTS_OF_MANY, arranged, arrangedOfMany } from './arrangements.js';
import { shotsOf } from './shots.js';
import { ARRANGEMENT_FACETS, findArrangements, tagOf } from './find-arrangements.js';
import { CLIP_FPS, type ShownScene } from '../model/clip.js';
import {
  addClip,
  changeClip,
  changeClipScene,
  clipsOf,
  moveClipScene,
  putClipScene,
  removeClip,
  removeClipScene,
} from './clips.js';
import { beatFrames, type MusicTrack } from './music.js';
import { framesOf, overlapAfter, secondsOf, startsOf } from './timeline.js';
import { emptyDesign } from '../model/design.js';
import { MOST_CLIP_SCENES, MOST_CLIPS } from '../model/clip.js';

const track = (id: string, bpm: number): MusicTrack => ({
  id,
  title: id,
  mood: 'calm',
  tempo: bpm,
  beats: { bpm, offset: 0, perBar: 4 },
  durationSeconds: 30,
  loopStart: 0,
  loopEnd: 24 * (60 / bpm),
});
const tracks = [
  track('fog-over-the-rain-gauge', 80),
  track('three-oktas-and-bright', 120),
  track('puddle-census', 100),
  track('isobars-closing-in', 125),
  track('tea-in-the-observing-hut', 90),
  track('who-tapped-the-barometer', 120),
];
const shot = (blankId: string): ShownScene => ({
  blankId,
  areaId: 'front',
  requirementId: null,
  garment: '#112233',
  backdrop: '#ffffff',
  inkOpacity: 1,
  shadow: 0.5,
});
const turns = [shot('tee-turning')];
const byId = (id: string) => ARRANGEMENTS.find((one) => one.id === id)!;
const colours = ['#112233', '#445566', '#778899'];
let ids = 0;
const newId = () => `n${++ids}`;
const clipOf = (index: number, shots = [shot('tee'), shot('mug'), shot('tote')]) =>
  arranged(ARRANGEMENTS[index], shots, turns, colours, tracks, 'Isobars', newId);

describe('a ready arrangement', () => {
  it('is one of a dozen and more, of names and ids of their own, as long as posts are', () => {
    expect(ARRANGEMENTS.length).toBeGreaterThanOrEqual(12);
    expect(new Set(ARRANGEMENTS.map(({ id }) => id)).size).toBe(ARRANGEMENTS.length);
    ARRANGEMENTS.forEach((_one, index) => {
      const seconds = secondsOf(clipOf(index));
      expect(seconds).toBeGreaterThanOrEqual(4.9);
      expect(seconds).toBeLessThanOrEqual(31);
    });
  });

  it('changes scenes on beats of its track, transitions and all', () => {
    ARRANGEMENTS.forEach(({ trackId, name }, index) => {
      const clip = clipOf(index);
      const music = tracks.find((one) => one.id === trackId)!;
      const beats = beatFrames(music, 0, framesOf(clip) + CLIP_FPS);
      startsOf(clip)
        .slice(1)
        .forEach((start) =>
          expect(Math.min(...beats.map((beat) => Math.abs(beat - start))))
            .withContext(name)
            .toBeLessThanOrEqual(1),
        );
      clip.scenes.forEach((one, at) => {
        if (one.transition) expect(overlapAfter(clip.scenes, at)).toBe(one.transition.frames);
      });
    });
  });

  it('shows what there is again where it asks for more, and does without its music', () => {
    const three = ARRANGEMENTS.indexOf(byId('three-looks'));
    const clip = clipOf(three, [shot('tee')]);
    expect(clip.scenes.map(({ scene }) => scene.blankId)).toEqual(['tee', 'tee', 'tee']);
    expect(new Set(clip.scenes.map(({ id }) => id)).size).toBe(3);
    expect(clip.words).toEqual(jasmine.objectContaining({ title: 'Isobars', when: 'end' }));
    const silent = arranged(byId('every-colour'), [shot('tee')], [], colours, [], 'Isobars', newId);
    expect([silent.music, silent.scenes[0].colours]).toEqual([undefined, ['#445566', '#778899']]);
  });
});

describe('an arrangement that turns', () => {
  it('shows the product on a blank that moves, or comes nearer where there is none', () => {
    const one = byId('turns-to-you');
    const turned = arranged(one, [shot('tee')], turns, colours, tracks, 'Isobars', newId);
    expect(turned.scenes.map(({ scene, movement }) => [scene.blankId, movement])).toEqual([
      ['tee-turning', 'turn'],
      ['tee-turning', 'colours'],
    ]);
    const still = arranged(one, [shot('tee')], [], colours, tracks, 'Isobars', newId);
    expect(still.scenes.map(({ scene, movement }) => [scene.blankId, movement])).toEqual([
      ['tee', 'push'],
      ['tee', 'colours'],
    ]);
  });
});

describe('a clip of several designs', () => {
  const parade = ARRANGEMENTS_OF_MANY[0];
  const of = (count: number) =>
    arrangedOfMany(
      parade,
      Array.from({ length: count }, (_, i) => ({ designId: `d${i}`, scene: shot(`blank${i % 3}`) })),
      tracks,
      newId,
    );

  it('shows each once, for as long, and names those that are not its own', () => {
    const clip = of(4);
    expect(clip.scenes.map(({ designId, scene }) => [designId, scene.blankId])).toEqual([
      [undefined, 'blank0'],
      ['d1', 'blank1'],
      ['d2', 'blank2'],
      ['d3', 'blank0'],
    ]);
    const lengths = clip.scenes.map(({ frames }) => frames);
    expect(Math.max(...lengths) - Math.min(...lengths)).toBeLessThanOrEqual(1);
  });

  it('has no more than it may last', () => {
    const clip = of(200);
    expect(clip.scenes.length).toBeLessThanOrEqual(24);
    expect(secondsOf(clip)).toBeLessThanOrEqual(60);
  });
});

describe('the products of a design', () => {
  const blank = (id: string, change: Partial<Blank> = {}): Blank => ({
    id,
    name: id,
    category: 'Tops',
    product: 'T-shirt',
    view: 'front',
    wearer: 'nobody',
    setting: 'wall',
    kind: 'still',
    tags: [],
    width: 40,
    height: 40,
    albedo: 0.8,
    glossTint: 0.5,
    shadowStrength: 0.6,
    backdrop: '#e4e1d9',
    colourways: [
      { name: 'Chalk', hex: '#F5F3EE' },
      { name: 'Harbour', hex: '#1F2B4D' },
    ],
    areas: [{ id: 'front', name: 'Front', widthMm: 300, heightMm: 400, safeInsetMm: 6, uv: 'uv' }],
    files: { photo: 'p', mask: 'm', shade: 's', shadow: 'w' },
    ...change,
  });
  const blanks = [
    blank('poster', { category: 'Prints', product: 'Poster' }),
    blank('tee'),
    blank('tee-back'),
    blank('tee-turning', { kind: 'moving' }),
    blank('mug-turning', { kind: 'moving', category: 'Drinkware', product: 'Mug' }),
  ];
  const requirements = [tee(), mug()];
  const ids = (shots: readonly ShownScene[]) => shots.map(({ blankId }) => blankId);

  it('begin with what it has a target for, in the colour it is sold in, and what moves of each', () => {
    const one = { ...emptyDesign('Isobars'), targets: requirements.map(({ id }) => ({ requirementId: id })) };
    const { shots, turns } = shotsOf(one, blanks, requirements, '#1f2b4d');
    expect(ids(shots)).toEqual(['tee', 'tee-back']);
    expect(ids(turns)).toEqual(['tee-turning', 'mug-turning']);
    expect(shots.map(({ garment }) => garment)).toEqual(['#1F2B4D', '#1F2B4D']);
  });

  it('are those that are looked at and kept first, and what moves alone where there is nothing else', () => {
    const kept = { ...shot('tee-back'), id: 'k', name: 'Back' };
    const one = { ...emptyDesign('Isobars'), scene: shot('poster'), scenes: [kept] };
    expect(ids(shotsOf(one, blanks, requirements, undefined).shots)).toEqual(['poster', 'tee-back']);
    const gone = { ...emptyDesign('Isobars'), scene: shot('gone') };
    expect(ids(shotsOf(gone, [blanks[3]], requirements, undefined).shots)).toEqual(['tee-turning']);
    expect(shotsOf(gone, [], requirements, undefined)).toEqual({ shots: [], turns: [] });
  });
});

describe('finding an arrangement', () => {
  it('counts what each tag would leave, and leaves that many', () => {
    const { found, counts } = findArrangements(ARRANGEMENTS, {}, tracks);
    expect(found.length).toBe(ARRANGEMENTS.length);
    for (const facet of ARRANGEMENT_FACETS)
      expect(counts[facet].reduce((sum, { count }) => sum + count, 0)).toBe(ARRANGEMENTS.length);
    const tall = findArrangements(ARRANGEMENTS, { shape: 'tall' }, tracks);
    expect(tall.found.map(({ shape }) => shape)).toEqual(tall.found.map(() => '9:16' as const));
    expect(tall.found.length).toBe(counts.shape.find(({ value }) => value === 'tall')!.count);
    for (const { value, count } of tall.counts.length)
      expect(findArrangements(ARRANGEMENTS, { shape: 'tall', length: value }, tracks).found.length).toBe(count);
    // Within a facet the others can still be seen.
    expect(tall.counts.shape).toEqual(counts.shape);
    expect(tagOf(byId('turns-to-you'), 'product', tracks)).toBe('turning');
  });
});

describe('clips of a design', () => {
  it('are added, changed, put in order and taken away, and leave nothing behind', () => {
    const design = emptyDesign('Isobars');
    const clip = clipOf(ARRANGEMENTS.indexOf(byId('three-looks')));
    const one = addClip(clip)(design);
    const [a, b, c] = clip.scenes.map(({ id }) => id);
    const order = (of: typeof one) => clipsOf(of)[0].scenes.map(({ id }) => id);
    expect(order(moveClipScene(clip.id, a, 2)(one))).toEqual([b, c, a]);
    expect(order(moveClipScene(clip.id, c, -9)(one))).toEqual([c, a, b]);
    expect(moveClipScene(clip.id, a, 0)(one)).toBe(one);
    expect(moveClipScene(clip.id, 'none', 1)(one)).toBe(one);
    expect(clipsOf(changeClipScene(clip.id, b, { frames: 7 })(one))[0].scenes[1].frames).toBe(7);
    expect(order(removeClipScene(clip.id, b)(one))).toEqual([a, c]);
    expect(order(putClipScene(clip.id, { ...clip.scenes[0], id: 'new' }, 1)(one))).toEqual([a, 'new', b, c]);
    expect(changeClip('none', (before) => ({ ...before, name: 'x' }))(one)).toBe(one);
    expect(removeClip(clip.id)(one)).toEqual(design);
  });

  it('have an end', () => {
    const design = emptyDesign('Isobars');
    const many = Array.from({ length: MOST_CLIPS }, () => clipOf(2)).reduce((done, one) => addClip(one)(done), design);
    expect(() => addClip(clipOf(2))(many)).toThrowError(RangeError, /at most/);
    const clip = {
      ...clipOf(2),
      scenes: Array.from({ length: MOST_CLIP_SCENES }, (_, i) => ({ ...clipOf(2).scenes[0], id: `s${i}` })),
    };
    expect(() => putClipScene(clip.id, clip.scenes[0], 0)(addClip(clip)(design))).toThrowError(RangeError, /scenes/);
  });
});
