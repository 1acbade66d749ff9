/** A picture at several sizes, the largest first. */
export type Levels = readonly ImageBitmap[];

/** Each level's side by that of the next larger one. */
const STEP = Math.SQRT1_2;
/** Smallest level, a share of the largest: a scene that goes from close to the whole needs no less. */
const SMALLEST = 0.24;

/**
 * Reduces a picture in steps, so that a movement finds one that is as fine as what is drawn. A canvas takes one point of
 * a picture for each pixel: of a much finer one it would leave rows out, and edges would jump instead of moving.
 */
export async function levelsOf(picture: ImageBitmap): Promise<Levels> {
  const levels = [picture];
  for (let share = STEP; share >= SMALLEST; share *= STEP)
    levels.push(
      await createImageBitmap(picture, {
        resizeWidth: Math.max(1, Math.round(picture.width * share)),
        resizeHeight: Math.max(1, Math.round(picture.height * share)),
        resizeQuality: 'high',
      }),
    );
  return levels;
}

/**
 * The levels that are drawn over each other, and how much the second covers the first, so that one goes over into the
 * other unseen.
 * @param wanted width at which the whole picture is drawn, px
 */
export function levelsFor(
  levels: Levels,
  wanted: number,
): { readonly below: ImageBitmap; readonly above?: ImageBitmap; readonly share: number } {
  const at = levels.findIndex(({ width }) => width <= wanted);
  if (at === 0) return { below: levels[0], share: 0 };
  if (at < 0) return { below: levels[levels.length - 1], share: 0 };
  const [finer, coarser] = [levels[at - 1], levels[at]];
  return {
    below: coarser,
    above: finer,
    share: Math.log(wanted / coarser.width) / Math.log(finer.width / coarser.width),
  };
}

export function closeLevels(levels: Levels): void {
  for (const level of levels) level.close();
}
