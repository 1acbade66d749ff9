import { CLIP_FPS, type Clip, type ClipScene, type TransitionKind } from '../model/clip.js';
import { eased } from './movement.js';

/** One scene as a frame shows it. */
export interface ShownMoment {
  /** Index among the clip's scenes. */
  readonly index: number;
  /** How far the scene has gone: 0 on its first frame, 1 on its last. */
  readonly t: number;
  /** Frame of the scene itself, from 0. */
  readonly frame: number;
}

/** What a frame shows: one scene, or one giving way to the next. */
export interface ClipMoment {
  readonly now: ShownMoment;
  readonly next?: { readonly moment: ShownMoment; readonly kind: TransitionKind; readonly mix: number };
}

/** Frames that a scene shares with the next one: less than either has, so that every scene is seen alone. */
export function overlapAfter(scenes: readonly ClipScene[], index: number): number {
  const [scene, next] = [scenes[index], scenes[index + 1]];
  const { transition } = scene;
  if (!next || !transition || transition.kind === 'cut') return 0;
  return Math.max(
    0,
    Math.min(transition.frames, Math.floor((scene.frames - 1) / 2), Math.floor((next.frames - 1) / 2)),
  );
}

/** First frame of each scene. */
export function startsOf({ scenes }: Pick<Clip, 'scenes'>): number[] {
  const starts: number[] = [];
  let at = 0;
  scenes.forEach((scene, index) => {
    starts.push(at);
    at += scene.frames - overlapAfter(scenes, index);
  });
  return starts;
}

/** Frames of the whole clip. */
export function framesOf(clip: Pick<Clip, 'scenes'>): number {
  const last = clip.scenes.length - 1;
  return last < 0 ? 0 : startsOf(clip)[last] + clip.scenes[last].frames;
}

export const secondsOf = (clip: Pick<Clip, 'scenes'>): number => framesOf(clip) / CLIP_FPS;

/** What a frame shows; frames beyond either end show the first or the last. Null for a clip without scenes. */
export function momentAt(clip: Pick<Clip, 'scenes'>, frame: number): ClipMoment | null {
  const { scenes } = clip;
  if (!scenes.length) return null;
  const starts = startsOf(clip);
  const at = Math.min(framesOf(clip) - 1, Math.max(0, frame));
  const momentOf = (index: number): ShownMoment => {
    const own = at - starts[index];
    return { index, frame: own, t: scenes[index].frames > 1 ? own / (scenes[index].frames - 1) : 0 };
  };
  const last = starts.findLastIndex((start) => start <= at);
  const before = last - 1;
  const shared = before < 0 ? 0 : overlapAfter(scenes, before);
  const into = at - starts[last];
  if (into >= shared) return { now: momentOf(last) };
  return {
    now: momentOf(before),
    next: {
      moment: momentOf(last),
      kind: scenes[before].transition!.kind,
      mix: eased((into + 1) / (shared + 1)),
    },
  };
}

/** The scene that is seen most on a frame. */
export function sceneAt(clip: Pick<Clip, 'scenes'>, frame: number): number {
  const moment = momentAt(clip, frame);
  if (!moment) return -1;
  return moment.next && moment.next.mix >= 0.5 ? moment.next.moment.index : moment.now.index;
}
