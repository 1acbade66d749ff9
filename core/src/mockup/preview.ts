import type { Box } from '../geometry/affine.js';
import type { AreaMaps, SceneMaps } from './maps.js';

/** Everything a preview of a blank needs at one size: its maps, reduced, and those of one print area. */
export interface BlankPreview {
  readonly maps: SceneMaps;
  readonly area: AreaMaps;
  /** How brightly the product is shot, where these maps are of a part of it. */
  readonly exposure?: number;
}

interface Head {
  readonly width: number;
  readonly height: number;
  readonly count: number;
  readonly pixelsPerMm: number;
  readonly part: Box;
  readonly exposure?: number;
  /** True when it holds the maps of the print area alone, for a blank that is there already. */
  readonly areaAlone?: boolean;
}

/** Pieces lie at multiples of this, so that they can be looked at where they are. */
const ALIGN = 4;
const aligned = (bytes: number): number => Math.ceil(bytes / ALIGN) * ALIGN;

/** Lengths of the pieces in bytes, in their order. */
function lengths({ width, height, count, areaAlone }: Head): readonly number[] {
  const pixels = areaAlone ? 0 : width * height;
  return [pixels * 4, pixels, pixels * 4, pixels, count * 4, count * 2, count * 2, count, count, count * 2];
}

const piecesOf = ({ maps, area }: BlankPreview): readonly (Uint8Array | Int8Array | Uint16Array | Uint32Array)[] => [
  maps.photo,
  maps.mask,
  maps.shade,
  maps.shadow,
  area.index,
  area.u,
  area.v,
  area.coverage,
  area.detail,
  area.along,
];

/**
 * A preview as one run of bytes: the length of a JSON head (32 bits, little endian), the head, then each map at the
 * next multiple of four bytes.
 * Maps of the blank that are empty are left out: then it holds those of the print area alone.
 * Numbers of more than one byte are little endian, as they are in the memory of every machine that runs this.
 */
export function writePreview(preview: BlankPreview): Uint8Array {
  const { width, height } = preview.maps;
  const { count, pixelsPerMm, part } = preview.area;
  const { exposure } = preview;
  const head: Head = {
    width,
    height,
    count,
    pixelsPerMm,
    part,
    ...(exposure === undefined ? {} : { exposure }),
    ...(preview.maps.photo.length ? {} : { areaAlone: true }),
  };
  const text = JSON.stringify(head);
  const start = aligned(4 + text.length);
  const bytes = new Uint8Array(start + lengths(head).reduce((sum, length) => sum + aligned(length), 0));
  new DataView(bytes.buffer).setUint32(0, text.length, true);
  for (let i = 0; i < text.length; i++) bytes[4 + i] = text.charCodeAt(i);
  let at = start;
  for (const piece of piecesOf(preview)) {
    bytes.set(new Uint8Array(piece.buffer, piece.byteOffset, piece.byteLength), at);
    at += aligned(piece.byteLength);
  }
  return bytes;
}

/** Reads a preview. Its maps are views of the bytes. @throws RangeError when they are not as long as they say */
export function readPreview(bytes: ArrayBuffer): BlankPreview {
  const view = new Uint8Array(bytes);
  const headLength = bytes.byteLength >= 4 ? new DataView(bytes).getUint32(0, true) : 0;
  if (headLength < 2 || headLength > 1000 || 4 + headLength > view.length)
    throw new RangeError('This preview of a blank is damaged.');
  const head = JSON.parse(String.fromCharCode(...view.subarray(4, 4 + headLength))) as Head;
  const sizes = lengths(head);
  let at = aligned(4 + headLength);
  if (at + sizes.reduce((sum, length) => sum + aligned(length), 0) !== view.length)
    throw new RangeError('This preview of a blank is damaged.');
  const starts = sizes.map((length) => {
    const start = at;
    at += aligned(length);
    return start;
  });
  const bytesAt = (i: number): Uint8Array => new Uint8Array(bytes, starts[i], sizes[i]);
  const shortsAt = (i: number): Uint16Array => new Uint16Array(bytes, starts[i], sizes[i] / 2);
  return {
    ...(head.exposure === undefined ? {} : { exposure: head.exposure }),
    maps: {
      width: head.width,
      height: head.height,
      photo: bytesAt(0),
      mask: bytesAt(1),
      shade: bytesAt(2),
      shadow: bytesAt(3),
    },
    area: {
      count: head.count,
      pixelsPerMm: head.pixelsPerMm,
      part: head.part,
      index: new Uint32Array(bytes, starts[4], sizes[4] / 4),
      u: shortsAt(5),
      v: shortsAt(6),
      coverage: bytesAt(7),
      detail: bytesAt(8),
      along: new Int8Array(bytes, starts[9], sizes[9]),
    },
  };
}
