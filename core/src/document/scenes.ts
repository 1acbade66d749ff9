import type { KeptScene, Scene } from '../model/scene.js';
import type { DesignDocument } from '../model/design.js';
import type { Edit } from './edits.js';

/** Most scenes that a design keeps. */
export const MOST_SCENES = 60;

const scenesOf = ({ scenes }: DesignDocument): readonly KeptScene[] => scenes ?? [];

/** A kept scene as it is shown: what is changed there is changed in it. */
const shownOf = ({ id, name: _name, ...scene }: KeptScene): Scene => ({ ...scene, keptAs: id });

/** A shown scene as it is kept. */
const keptOf = ({ keptAs: _keptAs, ...scene }: Scene, { id, name }: Pick<KeptScene, 'id' | 'name'>): KeptScene => ({
  ...scene,
  id,
  name,
});

function withScenes(design: DesignDocument, scenes: readonly KeptScene[]): DesignDocument {
  const { scenes: _before, ...rest } = design;
  return scenes.length ? { ...rest, scenes } : rest;
}

/** Ids of the pictures that stand behind a design's scenes, the one that is shown among them, each once. */
export const backdropIdsOf = ({ scene, scenes }: Pick<DesignDocument, 'scene' | 'scenes'>): string[] => [
  ...new Set(
    [scene, ...(scenes ?? [])].flatMap((one) => (one?.behind?.kind === 'picture' ? [one.behind.assetId] : [])),
  ),
];

/** Shows a scene. If it is one that is kept, that changes along. */
export const changeScene =
  (scene: Scene | undefined): Edit =>
  (design) => {
    const changed = { ...design, scene };
    if (!scene?.keptAs) return changed;
    return withScenes(
      changed,
      scenesOf(design).map((one) => (one.id === scene.keptAs ? keptOf(scene, one) : one)),
    );
  };

/** Keeps a scene under a name, behind the others, and shows it. Nothing happens beyond {@link MOST_SCENES}. */
export const keepScene =
  (scene: Scene, id: string, name: string): Edit =>
  (design) =>
    scenesOf(design).length >= MOST_SCENES
      ? design
      : withScenes({ ...design, scene: { ...scene, keptAs: id } }, [...scenesOf(design), keptOf(scene, { id, name })]);

/** Shows a kept scene. */
export const showScene =
  (id: string): Edit =>
  (design) => {
    const kept = scenesOf(design).find((one) => one.id === id);
    return kept ? { ...design, scene: shownOf(kept) } : design;
  };

export const renameScene =
  (id: string, name: string): Edit =>
  (design) =>
    withScenes(
      design,
      scenesOf(design).map((one) => (one.id === id ? { ...one, name } : one)),
    );

/** A copy right behind its original, which is then shown. */
export const copyScene =
  (id: string, copy: { readonly id: string; readonly name: string }): Edit =>
  (design) => {
    const at = scenesOf(design).findIndex((one) => one.id === id);
    if (at < 0 || scenesOf(design).length >= MOST_SCENES) return design;
    const copied = { ...scenesOf(design)[at], ...copy };
    return withScenes({ ...design, scene: shownOf(copied) }, scenesOf(design).toSpliced(at + 1, 0, copied));
  };

/** Moves a kept scene to another place in their row. */
export const moveScene =
  (id: string, to: number): Edit =>
  (design) => {
    const scene = scenesOf(design).find((one) => one.id === id);
    if (!scene) return design;
    return withScenes(
      design,
      scenesOf(design)
        .filter((one) => one !== scene)
        .toSpliced(Math.max(0, to), 0, scene),
    );
  };

/** Takes a kept scene away. It stays on the stage if it is there, as one that is not kept. */
export const dropScene =
  (id: string): Edit =>
  (design) => {
    const left = withScenes(
      design,
      scenesOf(design).filter((one) => one.id !== id),
    );
    if (left.scene?.keptAs !== id) return left;
    const { keptAs: _keptAs, ...scene } = left.scene;
    return { ...left, scene };
  };
