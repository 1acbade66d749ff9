import { frameAfter, type MovingBlank } from '../mockup/moving.js';
import { CLIP_FPS, type Clip, type ClipScene } from '../model/clip.js';
import { guiseAt } from './guises.js';
import { eased } from './movement.js';
import { startsOf } from './timeline.js';

/** How a moving blank's frames follow each other. */
export type Motion = Pick<MovingBlank, 'frames' | 'play' | 'fps' | 'poster'>;

/** How much longer than the blank itself would a scene takes to turn it towards who looks. */
const CALM = 1.8;

/**
 * The frame of a moving blank that a scene shows; between two of them where it turns more slowly than it was taken.
 * @param frame of the scene
 */
export function turnAt(
  motion: Motion,
  { movement, frames }: Pick<ClipScene, 'movement' | 'frames'>,
  frame: number,
): number {
  if (movement === 'turn') {
    const lasts = Math.min(frames - 1, (CALM * motion.poster * CLIP_FPS) / motion.fps);
    return lasts > 0 ? motion.poster * eased(frame / lasts) : motion.poster;
  }
  return frameAfter(motion, Math.round((frame * motion.fps) / CLIP_FPS));
}

/** The whole frames that a place between them is made of. */
export function framesAround(at: number): { readonly below: number; readonly above: number; readonly share: number } {
  const below = Math.floor(at);
  return { below, above: Math.ceil(at), share: at - below };
}

/** One picture of a moving blank that a scene needs. */
export interface NeededPicture {
  readonly guise: number;
  readonly frame: number;
}

/** The pictures that a scene on a moving blank needs on one of its frames. */
export function neededAt(
  motion: Motion,
  scene: ClipScene,
  guises: number,
  frame: number,
  start: number,
  beats: readonly number[],
): NeededPicture[] {
  const { below, above } = framesAround(turnAt(motion, scene, frame));
  const { now, next } = guiseAt(scene, guises, frame, start, beats);
  return [now, ...(next ? [next.guise] : [])].flatMap((guise) =>
    [...new Set([below, above])].map((one) => ({ guise, frame: one })),
  );
}

/** All that it needs, each once, those of one frame of the blank together, in the order they are first seen. */
export function neededPictures(
  motion: Motion,
  clip: Pick<Clip, 'scenes'>,
  index: number,
  guises: number,
  beats: readonly number[],
): NeededPicture[] {
  const scene = clip.scenes[index];
  const start = startsOf(clip)[index];
  const byFrame = new Map<number, Set<number>>();
  for (let frame = 0; frame < scene.frames; frame++)
    for (const one of neededAt(motion, scene, guises, frame, start, beats))
      byFrame.set(one.frame, (byFrame.get(one.frame) ?? new Set()).add(one.guise));
  return [...byFrame].flatMap(([frame, all]) => [...all].map((guise) => ({ guise, frame })));
}
