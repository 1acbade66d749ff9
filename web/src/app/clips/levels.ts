import { levelSizes } from '@kettle/core/clip';
import type { Levels } from './bitmaps';

/** Reduces a picture to its levels. @param least width at which all of it is drawn at least, px */
export async function levelsOf(picture: ImageBitmap, least = 0): Promise<Levels> {
  const levels = [picture];
  for (const { width, height } of levelSizes(picture, least))
    levels.push(await createImageBitmap(picture, { resizeWidth: width, resizeHeight: height, resizeQuality: 'high' }));
  return levels;
}

export function closeLevels(levels: Levels): void {
  for (const level of levels) level.close();
}
