import { Transformer } from '@napi-rs/image';
import { MAX_PIXELS, type Pixels } from '@kettle/core/geometry';
import { pngChunks } from '@kettle/core/raster';

/** Chunks by which a PNG says that its numbers are not plain sRGB, or not the picture as it is to be seen. */
const SAYS_MORE = new Set(['iCCP', 'cICP', 'tRNS', 'eXIf', 'acTL']);
/** Chunks that say nothing more where the picture says that it is sRGB (PNG, third edition, 11.3.2.5). */
const COLOUR = new Set(['gAMA', 'cHRM']);

/**
 * The pixels of a PNG that is 8-bit RGBA in sRGB already, as most artwork is: nothing is to be converted, and a plain
 * decoder takes two thirds of the time. Null for everything else, which is read by the library that knows colours.
 */
export async function readPlainPng(bytes: Buffer): Promise<Pixels | null> {
  const size = plainSize(bytes);
  if (!size) return null;
  const data = await new Transformer(bytes).rawPixels().catch(() => null);
  return data?.length === size.width * size.height * 4 ? { ...size, data } : null;
}

function plainSize(bytes: Buffer): { width: number; height: number } | null {
  if (bytes.subarray(1, 4).toString('latin1') !== 'PNG') return null;
  try {
    const types = new Set<string>();
    let size: { width: number; height: number } | null = null;
    for (const { type, data } of pngChunks(bytes)) {
      types.add(type);
      if (type !== 'IHDR') continue;
      const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
      const [depth, colourType, interlace] = [view.getUint8(8), view.getUint8(9), view.getUint8(12)];
      if (depth !== 8 || colourType !== 6 || interlace !== 0) return null;
      size = { width: view.getUint32(0), height: view.getUint32(4) };
    }
    if (!types.has('IEND') || [...types].some((type) => SAYS_MORE.has(type))) return null;
    if (!types.has('sRGB') && [...types].some((type) => COLOUR.has(type))) return null;
    return size && size.width * size.height <= MAX_PIXELS ? size : null;
  } catch {
    return null;
  }
}
