import sharp from 'sharp';
import type { Box } from '@kettle/core/geometry';
import { inkBounds } from '@kettle/core/raster';

/** Longest side at which ink is looked for, px: a millimetre of any print file is more than one of these. */
const LOOKED_AT = 1500;
/** Alpha above which ink is seen. */
const SEEN = 10;

/** Where the ink of a print file lies, px of the file; all of it where nothing is clear, null where nothing is inked. */
export async function inkOfFile(path: string): Promise<Box | null> {
  const { width, height, hasAlpha, channels } = await sharp(path).metadata();
  if (!hasAlpha) return { x: 0, y: 0, width, height };
  const { data, info } = await sharp(path)
    .extractChannel((channels - 1) as 3)
    .resize({ width: LOOKED_AT, height: LOOKED_AT, fit: 'inside', withoutEnlargement: true, kernel: 'linear' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const pixels = new Uint8ClampedArray(info.width * info.height * 4);
  for (let i = 0; i < info.width * info.height; i++) pixels[i * 4 + 3] = data[i * info.channels];
  const found = inkBounds({ data: pixels, width: info.width, height: info.height }, SEEN);
  if (!found) return null;
  const scale = width / info.width;
  const { left, top, right, bottom } = found;
  return { x: left * scale, y: top * scale, width: (right - left) * scale, height: (bottom - top) * scale };
}
