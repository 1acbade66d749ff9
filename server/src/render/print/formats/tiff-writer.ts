import { deflate } from 'node:zlib';
import { promisify } from 'node:util';
import type { ColourMode, TiffPacking } from '@kettle/core/model';
import { channelsOf } from '@kettle/core/requirement';
import type { PressKernel } from '@kettle/core/press';

const deflated = promisify(deflate);

/** A flat picture that is to be written as a TIFF. */
export interface TiffPicture {
  readonly width: number;
  readonly height: number;
  readonly mode: ColourMode;
  readonly alpha: boolean;
  /** Samples side by side, 8 bits each: those of the mode, then alpha, not multiplied into them. */
  readonly samples: Uint8Array;
  readonly dpi: number;
  readonly profile: Buffer;
  readonly packing: TiffPacking;
}

/** Bytes of a strip before it is packed: small enough to be undone in a hurry, large enough to pack well. */
const STRIP_BYTES = 256 * 1024;
const [SHORT, LONG, RATIONAL, UNDEFINED] = [3, 4, 5, 7];
const SIZES: Readonly<Record<number, number>> = { [SHORT]: 2, [LONG]: 4, [RATIONAL]: 8, [UNDEFINED]: 1 };
const COMPRESSION: Readonly<Record<TiffPacking, number>> = { none: 1, lzw: 5, deflate: 8 };
const PHOTOMETRIC: Readonly<Record<ColourMode, number>> = { grey: 1, rgb: 2, cmyk: 5 };

/**
 * Pieces of a TIFF 6.0 file, least significant byte first: one picture in strips, with nothing in it that was not asked
 * for.
 */
export async function tiffPieces(picture: TiffPicture, kernel: PressKernel): Promise<Uint8Array[]> {
  const { width, height, mode, alpha, dpi, profile, packing } = picture;
  const samples = channelsOf(mode) + (alpha ? 1 : 0);
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP_BYTES / (width * samples))));
  const strips = await packedStrips(picture, rows * width * samples, width, samples, kernel);
  const offsets: number[] = [];
  let at = 8;
  for (const strip of strips) {
    offsets.push(at);
    at += strip.length + (strip.length & 1);
  }
  const inch = Math.round(dpi * 1000);
  const tags: [number, number, readonly number[] | Uint8Array][] = [
    [256, LONG, [width]],
    [257, LONG, [height]],
    [258, SHORT, new Array<number>(samples).fill(8)],
    [259, SHORT, [COMPRESSION[packing]]],
    [262, SHORT, [PHOTOMETRIC[mode]]],
    [273, LONG, offsets],
    [277, SHORT, [samples]],
    [278, LONG, [rows]],
    [279, LONG, strips.map((strip) => strip.length)],
    [282, RATIONAL, inch % 1000 === 0 ? [inch / 1000, 1] : [inch, 1000]],
    [283, RATIONAL, inch % 1000 === 0 ? [inch / 1000, 1] : [inch, 1000]],
    [284, SHORT, [1]],
    [296, SHORT, [2]],
    ...(packing === 'none' ? [] : ([[317, SHORT, [2]]] as [number, number, number[]][])),
    ...(mode === 'cmyk' ? ([[332, SHORT, [1]]] as [number, number, number[]][]) : []),
    // 2 is alpha that is not multiplied into the colours.
    ...(alpha ? ([[338, SHORT, [2]]] as [number, number, number[]][]) : []),
    [34675, UNDEFINED, profile],
  ];
  const head = Buffer.alloc(8);
  head.write('II*\0', 'latin1');
  head.writeUInt32LE(at, 4);
  const padded = strips.flatMap((strip) => (strip.length & 1 ? [strip, new Uint8Array(1)] : [strip]));
  return [head, ...padded, directory(tags, at)];
}

async function packedStrips(
  { samples: bytes, packing }: TiffPicture,
  size: number,
  width: number,
  samples: number,
  kernel: PressKernel,
): Promise<Uint8Array[]> {
  const strips: Uint8Array[] = [];
  for (let from = 0; from < bytes.length; from += size) strips.push(bytes.subarray(from, from + size));
  switch (packing) {
    case 'none':
      return strips;
    case 'lzw':
      return strips.map((strip) => kernel.lzw(strip, width, samples, true));
    case 'deflate':
      return Promise.all(strips.map((strip) => deflated(kernel.differences(strip, width, samples), { level: 6 })));
  }
}

/** The list of tags, which must begin on an even byte, and after it what does not fit into it. */
function directory(tags: readonly [number, number, readonly number[] | Uint8Array][], at: number): Buffer {
  const list = Buffer.alloc(2 + tags.length * 12 + 4);
  list.writeUInt16LE(tags.length, 0);
  const behind: Buffer[] = [];
  let next = at + list.length;
  tags.forEach(([tag, type, values], i) => {
    const entry = 2 + i * 12;
    const count = type === RATIONAL ? values.length / 2 : values.length;
    const bytes = Buffer.alloc(Math.max(4, count * SIZES[type] + ((count * SIZES[type]) & 1)));
    if (type === UNDEFINED) bytes.set(values as Uint8Array);
    else
      (values as readonly number[]).forEach((value, k) =>
        type === SHORT ? bytes.writeUInt16LE(value, k * 2) : bytes.writeUInt32LE(value, k * 4),
      );
    list.writeUInt16LE(tag, entry);
    list.writeUInt16LE(type, entry + 2);
    list.writeUInt32LE(count, entry + 4);
    if (count * SIZES[type] <= 4) bytes.copy(list, entry + 8, 0, 4);
    else {
      list.writeUInt32LE(next, entry + 8);
      behind.push(bytes);
      next += bytes.length;
    }
  });
  return Buffer.concat([list, ...behind]);
}
