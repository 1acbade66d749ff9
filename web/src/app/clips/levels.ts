import { levelSizes } from '@kettle/core';
import type { Levels } from './bitmaps';

/** Reduces a picture to all of its levels. */
export async function levelsOf(picture: ImageBitmap): Promise<Levels> {
  const levels = [picture];
  for (const { width, height } of levelSizes(picture))
    levels.push(await createImageBitmap(picture, { resizeWidth: width, resizeHeight: height, resizeQuality: 'high' }));
  return levels;
}

export function closeLevels(levels: Levels): void {
  for (const level of levels) level.close();
}
