/** A chunk of a PNG file (PNG specification, third edition, 5.3). */
export interface PngChunk {
  readonly type: string;
  readonly data: Uint8Array;
}

const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];

const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

/** CRC-32 as in PNG specification, annex D. */
export function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (let i = 0; i < bytes.length; i++) crc = CRC_TABLE[(crc ^ bytes[i]) & 0xff] ^ (crc >>> 8);
  return (crc ^ 0xffffffff) >>> 0;
}

export const isPng = (bytes: Uint8Array): boolean => SIGNATURE.every((value, i) => bytes[i] === value);

/**
 * Chunks of a PNG in file order, without copying their data.
 * @throws RangeError when the signature is missing or a chunk is cut off
 */
export function* pngChunks(bytes: Uint8Array): Generator<PngChunk> {
  if (!isPng(bytes)) throw new RangeError('This is not a PNG file.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 8; at < bytes.length;) {
    if (at + 12 > bytes.length) throw new RangeError('The PNG file is cut off.');
    const length = view.getUint32(at);
    if (at + 12 + length > bytes.length) throw new RangeError('The PNG file is cut off.');
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    yield { type, data: bytes.subarray(at + 8, at + 8 + length) };
    if (type === 'IEND') return;
    at += 12 + length;
  }
}

function chunkBytes(type: string, data: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(12 + data.length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, data.length);
  for (let i = 0; i < 4; i++) bytes[4 + i] = type.charCodeAt(i);
  bytes.set(data, 8);
  view.setUint32(8 + data.length, crc32(bytes.subarray(4, 8 + data.length)));
  return bytes;
}

/**
 * A colour profile for a PNG: already compressed with zlib, and the name it is stored under (Latin-1, 1 to 79
 * characters).
 */
export interface PngProfile {
  readonly name: string;
  readonly deflated: Uint8Array;
}

/** Signature and IHDR, which come first in every PNG. */
const AFTER_HEADER = 8 + 25;

function profileChunk({ name, deflated }: PngProfile): Uint8Array {
  const letters = Uint8Array.from(name, (letter) => letter.charCodeAt(0));
  const icc = new Uint8Array(letters.length + 2 + deflated.length);
  icc.set(letters);
  icc.set(deflated, letters.length + 2);
  return chunkBytes('iCCP', icc);
}

/**
 * The pieces of a PNG with a density and a colour profile put right after IHDR, where readers look for them.
 * @param pixelsPerMetre whole number, both axes
 */
export function withPrintChunks(png: Uint8Array, pixelsPerMetre: number, profile: PngProfile): Uint8Array[] {
  const density = new Uint8Array(9);
  const view = new DataView(density.buffer);
  view.setUint32(0, pixelsPerMetre);
  view.setUint32(4, pixelsPerMetre);
  density[8] = 1;
  return [
    png.subarray(0, AFTER_HEADER),
    profileChunk(profile),
    chunkBytes('pHYs', density),
    png.subarray(AFTER_HEADER),
  ];
}

/** The pieces of a PNG with a colour profile put right after IHDR. It must have none yet. */
export const withProfileChunk = (png: Uint8Array, profile: PngProfile): Uint8Array[] => [
  png.subarray(0, AFTER_HEADER),
  profileChunk(profile),
  png.subarray(AFTER_HEADER),
];

/** What the chunks of a PNG say: enough for a certificate without decoding a pixel. */
export interface PngFacts {
  readonly width: number;
  readonly height: number;
  readonly bitDepth: number;
  /** 0 grey, 2 RGB, 3 palette, 4 grey with alpha, 6 RGBA. */
  readonly colourType: number;
  readonly interlaced: boolean;
  readonly pixelsPerMetreX: number | null;
  readonly pixelsPerMetreY: number | null;
  readonly profile: string | null;
  readonly hasTransparencyChunk: boolean;
  /** Chunks that hold text, dates or camera data. */
  readonly privateChunks: readonly string[];
}

const PRIVATE_CHUNKS = new Set(['tEXt', 'zTXt', 'iTXt', 'tIME', 'eXIf']);

/** @throws RangeError when the bytes are not a whole PNG file */
export function pngFacts(bytes: Uint8Array): PngFacts {
  let header: DataView | null = null;
  let ended = false;
  let profile: string | null = null;
  let [x, y]: [number | null, number | null] = [null, null];
  let hasTransparencyChunk = false;
  const privateChunks: string[] = [];
  for (const { type, data } of pngChunks(bytes)) {
    const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
    if (type === 'IHDR') header = view;
    else if (type === 'pHYs' && view.getUint8(8) === 1) [x, y] = [view.getUint32(0), view.getUint32(4)];
    else if (type === 'iCCP') profile = String.fromCharCode(...data.subarray(0, data.indexOf(0)));
    else if (type === 'tRNS') hasTransparencyChunk = true;
    else if (type === 'IEND') ended = true;
    else if (PRIVATE_CHUNKS.has(type)) privateChunks.push(type);
  }
  if (!header || !ended) throw new RangeError('The PNG file is cut off.');
  return {
    width: header.getUint32(0),
    height: header.getUint32(4),
    bitDepth: header.getUint8(8),
    colourType: header.getUint8(9),
    interlaced: header.getUint8(12) === 1,
    pixelsPerMetreX: x,
    pixelsPerMetreY: y,
    profile,
    hasTransparencyChunk,
    privateChunks,
  };
}
