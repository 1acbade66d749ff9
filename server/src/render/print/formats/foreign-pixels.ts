import { Transformer } from '@napi-rs/image';
import sharp from 'sharp';
import type { Pixels } from '@kettle/core/geometry';

/** A picture decoded by image-rs, which wrote none of them, with the channels it has. */
export async function foreignPixels(bytes: Buffer): Promise<{ readonly pixels: Pixels; readonly channels: number }> {
  const image = new Transformer(bytes);
  const { width, height } = await image.metadata();
  const data = await image.rawPixels();
  const channels = data.length / (width * height);
  if (channels === 4) return { channels, pixels: { width, height, data } };
  if (channels !== 1 && channels !== 2 && channels !== 3)
    throw new Error(`A print file was decoded to ${channels} channels.`);
  const raw = { raw: { width, height, channels } as const, limitInputPixels: false };
  return {
    channels,
    pixels: {
      width,
      height,
      data: await sharp(data, raw).toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' }).toBuffer(),
    },
  };
}
