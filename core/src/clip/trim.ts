import { CLIP_FPS, CLIP_SECONDS, type Clip } from '../model/clip.js';
import { onBeat } from './music.js';
import { startsOf } from './timeline.js';

/** Shortest scene, and how far its end is pulled to the nearest beat, frames. */
export const LEAST_SCENE = 6;
const PULLED = 6;

/**
 * Frames that a scene has when it is trimmed: what is wished, with its end on a beat that is nearly there. Further away
 * the wish counts.
 * @param index of the scene
 * @param beats frames of the clip on which a beat falls; none without music
 */
export function trimmed(clip: Pick<Clip, 'scenes'>, index: number, wished: number, beats: readonly number[]): number {
  const frames = Math.min(CLIP_SECONDS.most * CLIP_FPS, Math.max(LEAST_SCENE, Math.round(wished)));
  if (!beats.length) return frames;
  const start = startsOf(clip)[index];
  const snapped = onBeat(start + frames, beats) - start;
  return snapped >= LEAST_SCENE && Math.abs(snapped - frames) <= PULLED ? snapped : frames;
}
