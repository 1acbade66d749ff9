import type { DesignDocument } from '../model/design.js';
import type { Edit } from '../document/edits.js';
import { MOST_CLIP_SCENES, MOST_CLIPS, type Clip, type ClipScene } from '../model/clip.js';

/** Version of the code that draws clips. */
export const CLIP_ENGINE = 1;

/** Clips of a design. */
export const clipsOf = (design: Pick<DesignDocument, 'clips'>): readonly Clip[] => design.clips ?? [];

const withClips = (design: DesignDocument, clips: readonly Clip[]): DesignDocument => {
  const { clips: _before, ...rest } = design;
  return clips.length ? { ...rest, clips } : rest;
};

/** Adds a clip after the others. Refused with a RangeError beyond {@link MOST_CLIPS}. */
export const addClip =
  (clip: Clip): Edit =>
  (design) => {
    if (clipsOf(design).length >= MOST_CLIPS) throw new RangeError(`A design has at most ${MOST_CLIPS} clips.`);
    return withClips(design, [...clipsOf(design), clip]);
  };

export const removeClip =
  (id: string): Edit =>
  (design) =>
    withClips(
      design,
      clipsOf(design).filter((one) => one.id !== id),
    );

/** Changes one clip. The same design when there is nothing to change. */
export const changeClip =
  (id: string, change: (clip: Clip) => Clip): Edit =>
  (design) => {
    const clips = clipsOf(design).map((one) => (one.id === id ? change(one) : one));
    return clips.every((one, i) => one === clipsOf(design)[i]) ? design : withClips(design, clips);
  };

export const changeClipScene = (id: string, sceneId: string, change: Partial<ClipScene>): Edit =>
  changeClip(id, (clip) => ({
    ...clip,
    scenes: clip.scenes.map((one) => (one.id === sceneId ? { ...one, ...change } : one)),
  }));

/** Puts a scene at a place among the others. Refused with a RangeError beyond {@link MOST_CLIP_SCENES}. */
export const putClipScene = (id: string, scene: ClipScene, at: number): Edit =>
  changeClip(id, (clip) => {
    if (clip.scenes.length >= MOST_CLIP_SCENES) throw new RangeError(`A clip has at most ${MOST_CLIP_SCENES} scenes.`);
    return { ...clip, scenes: clip.scenes.toSpliced(at, 0, scene) };
  });

export const removeClipScene = (id: string, sceneId: string): Edit =>
  changeClip(id, (clip) => ({ ...clip, scenes: clip.scenes.filter((one) => one.id !== sceneId) }));

export const moveClipScene = (id: string, sceneId: string, to: number): Edit =>
  changeClip(id, (clip) => {
    const from = clip.scenes.findIndex((one) => one.id === sceneId);
    const at = Math.min(clip.scenes.length - 1, Math.max(0, to));
    if (from < 0 || from === at) return clip;
    return { ...clip, scenes: clip.scenes.toSpliced(from, 1).toSpliced(at, 0, clip.scenes[from]) };
  });
