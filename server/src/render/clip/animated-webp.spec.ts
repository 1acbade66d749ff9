import sharp, { type WebpOptions } from 'sharp';
import { animatedWebp } from '@kettle/core/clip';

/** A still WebP in one colour. */
const still = async (background: string, options: WebpOptions): Promise<Uint8Array> =>
  sharp({ create: { width: 40, height: 30, channels: 3, background } })
    .webp(options)
    .toBuffer();

describe('an animated WebP', () => {
  it('is read by another program: each picture with its time, again and again', async () => {
    const colours = ['#c81e1e', '#1ec83c', '#1e3cc8'];
    const files = await Promise.all([
      still(colours[0], { lossless: true }),
      still(colours[1], { quality: 80 }),
      still(colours[2], { lossless: true }),
    ]);
    const bytes = animatedWebp(
      40,
      30,
      files.map((file, i) => ({ file, milliseconds: 80 + i * 20 })),
    );
    const { format, pages, delay, loop, width, pageHeight } = await sharp(bytes, { pages: -1 }).metadata();
    expect({ format, pages, delay, loop, width, pageHeight }).toEqual({
      format: 'webp',
      pages: 3,
      delay: [80, 100, 120],
      loop: 0,
      width: 40,
      pageHeight: 30,
    });
    for (const [page, colour] of colours.entries()) {
      const { data } = await sharp(bytes, { page }).raw().toBuffer({ resolveWithObject: true });
      const wanted = [1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16));
      wanted.forEach((value, k) => expect(Math.abs(data[k] - value)).toBeLessThan(6));
    }
  });

  it('refuses what is no still WebP, and one that is cut off', async () => {
    const file = await still('#fff', { lossless: true });
    expect(() => animatedWebp(4, 4, [{ file: Uint8Array.from([1, 2, 3]), milliseconds: 80 }])).toThrowError(RangeError);
    expect(() => animatedWebp(4, 4, [{ file: file.subarray(0, file.length - 6), milliseconds: 80 }])).toThrowError(
      /cut off/,
    );
  });
});
