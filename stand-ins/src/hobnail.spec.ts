import { crc32 } from 'node:zlib';
import { decode, encode } from 'fast-png';
import { HOBNAIL } from './hobnail.js';
import { pictureOfPlace } from './marks.js';

const { inspect } = HOBNAIL;

/** A file at 300 DPI with ink where `inked` says so. */
function print(
  width: number,
  height: number,
  inked: (x: number, y: number) => number,
  perMetre: number | null = 11811,
): Uint8Array {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data.set([200, 60, 40, inked(x, y)], (y * width + x) * 4);
  const png = Buffer.from(encode({ width, height, data, channels: 4 }));
  return perMetre === null ? png : Buffer.concat([png.subarray(0, 33), resolution(perMetre), png.subarray(33)]);
}

/** A pHYs chunk (PNG, 11.3.4.3), which comes after the header of 33 bytes. */
function resolution(perMetre: number): Buffer {
  const chunk = Buffer.alloc(21);
  chunk.writeUInt32BE(9, 0);
  chunk.write('pHYs', 4, 'latin1');
  chunk.writeUInt32BE(perMetre, 8);
  chunk.writeUInt32BE(perMetre, 12);
  chunk[16] = 1;
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 17)), 17);
  return chunk;
}
const disc = (x: number, y: number): number => ((x - 200) ** 2 + (y - 200) ** 2 < 120 ** 2 ? 255 : 0);
/** What it says beside the missing profile, which fast-png does not write. */
const said = (bytes: Uint8Array): string[] =>
  inspect(bytes)
    .remarks.map(({ text }) => text)
    .filter((text) => !text.includes('colour profile'));

describe('the print shop’s own reader', () => {
  it('has nothing to say of a plain disc', () => {
    expect(said(print(400, 400, disc))).toEqual([]);
  });

  it('names what it cannot print, each for its own reason', () => {
    expect(said(Buffer.from('no picture'))[0]).toContain('cannot open');
    expect(said(print(400, 400, disc).slice(0, 500))[0]).toContain('cannot open');
    expect(said(print(400, 400, disc, null))).toEqual(['The file does not say how large it is: no resolution.']);
    expect(said(print(400, 400, disc, 2835)).join()).toContain('72 DPI is too coarse');
    expect(said(print(400, 400, () => 255)).join()).toContain('box on the shirt');
    expect(said(print(400, 400, () => 0))).toEqual(['The file is empty.']);
    expect(said(print(400, 400, (x, y) => Math.min(120, disc(x, y)))).join()).toContain('half clear');
    expect(said(print(420, 5500, disc)).join()).toContain('does not fit our platen');
    // Soft edges of many small things are no haze.
    const dots = (x: number, y: number): number =>
      Math.round(255 * Math.min(1, Math.max(0, 9.5 - Math.hypot((x % 40) - 20, (y % 40) - 20))));
    expect(said(print(400, 400, dots))).toEqual([]);
  });

  it('finds a thin line and where it is, and takes a thick one', () => {
    const line = (thick: number) => (x: number, y: number) =>
      y >= 300 && y < 300 + thick && x > 60 && x < 340 ? 255 : 0;
    const { remarks } = inspect(print(400, 400, line(2)));
    const found = remarks.find(({ text }) => text.includes('thinner than'))!;
    expect(found.where!.y).toBeLessThan(300);
    expect(found.where!.y + found.where!.height).toBeGreaterThan(302);
    expect(found.where!.width).toBeGreaterThan(270);
    expect(said(print(400, 400, line(8)))).toEqual([]);
  });

  it('counts specks', () => {
    const specks = (x: number, y: number) => (disc(x, y) || (x % 97 < 2 && y % 97 < 2) ? 255 : 0);
    expect(said(print(400, 400, specks)).join()).toMatch(/\d+ specks smaller than/);
  });

  it('draws the place with a frame', () => {
    const { shown } = inspect(print(400, 400, disc));
    const picture = decode(pictureOfPlace(shown!, { x: 100, y: 100, width: 100, height: 60 }));
    expect(Math.max(picture.width, picture.height)).toBeLessThanOrEqual(480);
    let framed = 0;
    for (let i = 0; i < picture.data.length; i += 3)
      if (picture.data[i] === 200 && picture.data[i + 1] === 40 && picture.data[i + 2] === 30) framed++;
    expect(framed).toBeGreaterThan(200);
  });
});
