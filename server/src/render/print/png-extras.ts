/** Encoders may add a density or profile of their own; ours replace them. */
export function withoutExtras(png: Uint8Array): Uint8Array {
  const kept: Uint8Array[] = [png.subarray(0, 8)];
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  for (let at = 8; at + 12 <= png.length;) {
    const length = 12 + view.getUint32(at);
    const type = String.fromCharCode(...png.subarray(at + 4, at + 8));
    if (['IHDR', 'IDAT', 'IEND', 'tRNS'].includes(type)) kept.push(png.subarray(at, at + length));
    at += length;
  }
  return Buffer.concat(kept);
}
