import type { ClipScene } from '../model/clip.js';

/** A picture on either side: what a browser and a server draw with is not the same thing. */
export interface ClipPicture {
  readonly width: number;
  readonly height: number;
}

/** A picture at several sizes, the largest first. */
export type Levels<P extends ClipPicture> = readonly P[];

/** Each level's side by that of the next larger one. */
const STEP = Math.SQRT1_2;
/**
 * Over which share of the way from one level to the next finer one both are drawn. It begins at the coarser one's own size:
 * a picture that is drawn larger than it is would be soft, while four tenths less than it is hurts none.
 */
const BLEND = 0.3;
/** Smallest level, a share of the largest: a scene that goes from close to the whole needs no less. */
const SMALLEST = 0.24;

/**
 * Sizes that a picture is reduced to, in steps, the largest first, so that a movement finds one that is as fine as what is
 * drawn. A canvas takes one point of a picture for each pixel: of a much finer one it would leave rows out, and edges would
 * jump instead of moving.
 * @param least width at which the whole picture is drawn at least, px: none is smaller but the one below that
 */
export function levelSizes({ width, height }: ClipPicture, least = 0): ClipPicture[] {
  const sizes: ClipPicture[] = [];
  for (let share = STEP; share >= SMALLEST && width * (share / STEP) > least; share *= STEP)
    sizes.push({ width: Math.max(1, Math.round(width * share)), height: Math.max(1, Math.round(height * share)) });
  return sizes;
}

/**
 * The levels that are drawn over each other, and how much the second covers the first, so that one goes over into the
 * other unseen.
 * @param wanted width at which the whole picture is drawn, px
 */
export function levelsFor<P extends ClipPicture>(
  levels: Levels<P>,
  wanted: number,
): { readonly below: P; readonly above?: P; readonly share: number } {
  const at = levels.findIndex(({ width }) => width <= wanted);
  if (at === 0) return { below: levels[0], share: 0 };
  if (at < 0) return { below: levels[levels.length - 1], share: 0 };
  const [finer, coarser] = [levels[at - 1], levels[at]];
  const way = Math.log(wanted / coarser.width) / Math.log(finer.width / coarser.width);
  // Most of the way the finer one is drawn alone, which is half the work; near the coarser one it gives way to that, unseen.
  const share = Math.min(1, way / BLEND);
  if (share === 0) return { below: coarser, share };
  return share === 1 ? { below: finer, share: 0 } : { below: coarser, above: finer, share };
}

/** True where a movement changes the size that a scene's picture is drawn at, so that it needs levels. */
export const needsLevels = ({ movement, framings }: Pick<ClipScene, 'movement' | 'framings'>): boolean =>
  ['push', 'pull', 'drift', 'reveal'].includes(movement) || Object.keys(framings ?? {}).length > 0;

/** How much larger than a clip its pictures are where they move, so that a push stays sharp. */
const SPARE = 1.25;

/** Size of a scene's picture for a clip with a longer side, px; a scene that begins close to wants all there is. */
export const pictureSizeFor = (scene: Pick<ClipScene, 'movement' | 'framings'>, longer: number): number =>
  scene.movement === 'reveal' ? Infinity : needsLevels(scene) ? Math.round(longer * SPARE) : longer;
