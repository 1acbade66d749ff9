/** Encoders may add a density or profile of their own; ours replace them. */
export const withoutExtras = (png: Uint8Array): Uint8Array =>
  chunksWhere(png, (type) => ['IHDR', 'IDAT', 'IEND', 'tRNS'].includes(type));

/** A PNG without some kinds of chunks. */
export const withoutChunks = (png: Uint8Array, types: readonly string[]): Uint8Array =>
  chunksWhere(png, (type) => !types.includes(type));

function chunksWhere(png: Uint8Array, keeps: (type: string) => boolean): Uint8Array {
  const kept: Uint8Array[] = [png.subarray(0, 8)];
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  for (let at = 8; at + 12 <= png.length;) {
    const length = 12 + view.getUint32(at);
    if (keeps(String.fromCharCode(...png.subarray(at + 4, at + 8)))) kept.push(png.subarray(at, at + length));
    at += length;
  }
  return Buffer.concat(kept);
}
