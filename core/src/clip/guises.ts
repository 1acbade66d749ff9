import { CLIP_FPS, type ClipScene } from '../model/clip.js';
import { eased } from './movement.js';

/** How a scene's product looks for some of its time: which colour it has, and how much of the print lies on it. */
export interface Guise {
  readonly garment: string;
  /** Layers that are printed, from the lowest; all of them when absent. */
  readonly layers?: number;
}

/** Which guise is seen, and, while it gives way to the next, how much of that one. */
export interface ShownGuise {
  readonly now: number;
  readonly next?: { readonly guise: number; readonly share: number };
}

/** Frames between two colours where no music says when. */
const WITHOUT_MUSIC = Math.round(0.75 * CLIP_FPS);
/** Most steps in which a print is laid on: of a design with more layers, some come together. */
const MOST_STEPS = 8;
/** Share of its scene after which the print is whole, and frames that each of its steps fades in. */
const WHOLE_AFTER = 0.7;
const FADE = 8;

/**
 * The guises of a scene in the order they are seen, its own colour first.
 * @param layers how many layers the design prints
 */
export function guisesOf({ scene, movement, colours }: ClipScene, layers: number): readonly Guise[] {
  const { garment } = scene;
  if (movement === 'colours') return [garment, ...(colours ?? [])].map((one) => ({ garment: one }));
  if (movement !== 'layers' || layers < 1) return [{ garment }];
  const steps = Math.min(layers, MOST_STEPS);
  return [
    ...Array.from({ length: steps }, (_, i) => ({ garment, layers: Math.round((i * layers) / steps) })),
    { garment },
  ];
}

/**
 * The guise that a scene shows on one of its frames. Colours change on every other beat, so that each is seen; a print is
 * laid on evenly.
 * @param count how many guises it has
 * @param start first frame of the scene in the clip
 * @param beats frames of the clip on which a beat falls
 */
export function guiseAt(
  { movement, frames }: ClipScene,
  count: number,
  frame: number,
  start: number,
  beats: readonly number[],
): ShownGuise {
  if (count < 2) return { now: 0 };
  if (movement === 'layers') {
    const each = (frames * WHOLE_AFTER) / count;
    const step = Math.min(count - 1, Math.floor(frame / each));
    // Each step lies there wholly when the next one comes.
    const fade = Math.min(FADE, each);
    const share = step === count - 1 ? 0 : eased((frame - (step + 1) * each + fade) / fade);
    return share > 0 ? { now: step, next: { guise: step + 1, share } } : { now: step };
  }
  if (!beats.length) return { now: Math.floor(frame / WITHOUT_MUSIC) % count };
  const inside = beats.filter((beat) => beat > start && beat <= start + frame);
  return { now: Math.floor((inside.length + 1) / 2) % count };
}
