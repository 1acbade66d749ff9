import { CLIP_FPS, type ClipScene } from './clip.js';

/** Frames between two colours where no music says when. */
const WITHOUT_MUSIC = Math.round(0.75 * CLIP_FPS);

/** Colours of the product that a scene shows, its own first. */
export const clipColours = ({ scene, movement, colours }: ClipScene): readonly string[] =>
  movement === 'colours' ? [scene.garment, ...(colours ?? [])] : [scene.garment];

/**
 * Which of its colours a scene shows on one of its frames: the next one on every other beat, so that each is seen.
 * @param start first frame of the scene in the clip
 * @param beats frames of the clip on which a beat falls
 */
export function clipColourAt(scene: ClipScene, frame: number, start: number, beats: readonly number[]): number {
  const count = clipColours(scene).length;
  if (count < 2) return 0;
  if (!beats.length) return Math.floor(frame / WITHOUT_MUSIC) % count;
  const inside = beats.filter((beat) => beat > start && beat <= start + frame);
  return Math.floor((inside.length + 1) / 2) % count;
}
