/** Paints pixels in a colour that no garment has, so that they are seen where they are, in place. @param isMarked by number of the pixel */
export function markPixels(data: Uint8ClampedArray, isMarked: (pixel: number) => boolean): void {
  for (let n = 0, i = 0; i < data.length; n++, i += 4) {
    if (!isMarked(n)) continue;
    data[i] = 255;
    data[i + 1] = 0;
    data[i + 2] = 170;
    data[i + 3] = 255;
  }
}
