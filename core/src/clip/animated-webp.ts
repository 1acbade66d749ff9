/** One picture of an animated WebP: a still WebP file, and how long it stands, ms. */
export interface WebpFrame {
  readonly file: Uint8Array;
  readonly milliseconds: number;
}

/** Chunks that hold a still picture's own bytes; everything else of it is left out. */
const PICTURE = new Set(['VP8 ', 'VP8L', 'ALPH']);
const ANIMATED = 0x02;
const HEADER = 12;

const nameAt = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

/**
 * Puts still WebP pictures of one size together as one that moves, again and again (WebP container specification:
 * RFC 9649, 2.7). Pictures are opaque, each covers the one before.
 * @throws RangeError for a file that is no still WebP, and for more than the format's 2^32 bytes
 */
export function animatedWebp(width: number, height: number, frames: readonly WebpFrame[]): Uint8Array<ArrayBuffer> {
  const pictures = frames.map(({ file }) => chunksOf(file));
  const lengths = pictures.map((chunks) => 16 + chunks.reduce((sum, one) => sum + one.length, 0));
  const total = HEADER + 18 + 14 + lengths.reduce((sum, length) => sum + 8 + length, 0);
  if (total > 0xffffffff) throw new RangeError('This clip is too long for an animated WebP.');
  const out = new Uint8Array(total);
  const view = new DataView(out.buffer);
  let at = 0;
  const text = (name: string): void => {
    for (let i = 0; i < 4; i++) out[at++] = name.charCodeAt(i);
  };
  const number = (value: number, bytes: number): void => {
    for (let i = 0; i < bytes; i++) out[at++] = Math.floor(value / 2 ** (8 * i)) & 255;
  };
  text('RIFF');
  view.setUint32(at, total - 8, true);
  at += 4;
  text('WEBP');
  text('VP8X');
  number(10, 4);
  number(ANIMATED, 4);
  number(width - 1, 3);
  number(height - 1, 3);
  text('ANIM');
  number(6, 4);
  number(0xffffffff, 4);
  // Again and again.
  number(0, 2);
  pictures.forEach((chunks, i) => {
    text('ANMF');
    number(lengths[i], 4);
    number(0, 6);
    number(width - 1, 3);
    number(height - 1, 3);
    number(Math.round(frames[i].milliseconds), 3);
    // Not mixed with what is below, and left lying.
    number(0x02, 1);
    for (const chunk of chunks) {
      out.set(chunk, at);
      at += chunk.length;
    }
  });
  return out;
}

/** The chunks of a still WebP that hold its picture, with their heads, each of an even length. */
function chunksOf(file: Uint8Array): Uint8Array[] {
  if (file.length < HEADER || nameAt(file, 0) !== 'RIFF' || nameAt(file, 8) !== 'WEBP')
    throw new RangeError('A picture of the animation is no WebP.');
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  const found: Uint8Array[] = [];
  for (let at = HEADER; at + 8 <= file.length;) {
    const length = 8 + view.getUint32(at + 4, true);
    const end = at + length + (length & 1);
    if (at + length > file.length) throw new RangeError('A picture of the animation is cut off.');
    if (PICTURE.has(nameAt(file, at))) {
      const chunk = new Uint8Array(end - at);
      chunk.set(file.subarray(at, at + length));
      found.push(chunk);
    }
    at = end;
  }
  if (!found.length) throw new RangeError('A picture of the animation is no still WebP.');
  return found;
}
