import { measureInk } from './ink.js';
import { copyInto, drawOver, flatten } from './over.js';
import type { Pixels } from '../geometry/pixels.js';
import { crc32, pngChunks, pngFacts, withPrintChunks } from './png-chunks.js';

const filled = (width: number, height: number, rgba: number[]): Pixels => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height * 4 }, (_, i) => rgba[i % 4]),
});
const at = ({ width, data }: Pixels, x: number, y: number): number[] => [
  ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
];

describe('drawing over', () => {
  it('follows source-over on straight alpha', () => {
    const canvas = filled(4, 4, [0, 0, 255, 255]);
    drawOver(canvas, filled(2, 2, [255, 0, 0, 128]), 1, 1);
    expect(at(canvas, 1, 1)).toEqual([128, 0, 127, 255]);
    expect(at(canvas, 0, 0)).toEqual([0, 0, 255, 255]);
  });

  it('keeps colour and alpha exactly on an empty canvas', () => {
    const canvas = filled(2, 2, [0, 0, 0, 0]);
    drawOver(canvas, filled(2, 2, [200, 100, 50, 7]), 0, 0);
    expect(at(canvas, 1, 1)).toEqual([200, 100, 50, 7]);
  });

  it('clips what lies outside and takes opacity', () => {
    const canvas = filled(3, 3, [0, 0, 0, 0]);
    drawOver(canvas, filled(3, 3, [9, 9, 9, 255]), -2, 2, 0.5);
    expect(at(canvas, 0, 2)).toEqual([9, 9, 9, 128]);
    expect(at(canvas, 1, 2)).toEqual([0, 0, 0, 0]);
    drawOver(canvas, filled(3, 3, [9, 9, 9, 255]), 50, 50);
    expect(at(canvas, 2, 0)).toEqual([0, 0, 0, 0]);
  });

  it('is a copy where nothing was', () => {
    const source = { width: 3, height: 2, data: Uint8Array.from({ length: 24 }, (_, i) => (i * 53) % 256) };
    for (const [left, top] of [
      [0, 0],
      [-1, 1],
      [3, 3],
      [2, -1],
      [9, 9],
    ]) {
      const [drawn, copied] = [filled(4, 4, [0, 0, 0, 0]), filled(4, 4, [0, 0, 0, 0])];
      drawOver(drawn, source, left, top);
      copyInto(copied, source, left, top);
      // A wholly clear pixel may carry any colour: nobody sees it.
      const seen = ({ data }: Pixels) => [...data].map((value, i) => (data[i - (i % 4) + 3] === 0 ? 0 : value));
      expect(seen(copied)).toEqual(seen(drawn));
    }
  });

  it('lays what is clear on white', () => {
    const half = filled(1, 1, [0, 0, 0, 128]);
    flatten(half, { r: 255, g: 255, b: 255 });
    expect(at(half, 0, 0)).toEqual([127, 127, 127, 255]);
  });
});

describe('measured ink', () => {
  it('names the white box', () => {
    const picture = filled(20, 20, [255, 255, 255, 255]);
    drawOver(picture, filled(6, 6, [200, 30, 20, 255]), 7, 7);
    const facts = measureInk(picture);
    expect(facts.opaque).toBeTrue();
    expect(facts.flatBorder).toBe('#ffffff');
    expect(facts.inks[0].share).toBeCloseTo(0.91, 2);
  });

  it('names the box whatever touches its edge, with the noise of a JPEG, and in any colour', () => {
    const noisy = (base: readonly number[], amount: number, size = 120) => ({
      width: size,
      height: size,
      data: Uint8Array.from({ length: size * size * 4 }, (_, i) =>
        i % 4 === 3
          ? 255
          : Math.max(
              0,
              Math.min(
                255,
                Math.round(base[i % 4] + ((Math.abs(Math.sin(i * 12.9898) * 43758.5453) % 1) - 0.5) * amount),
              ),
            ),
      ),
    });
    for (const base of [
      [255, 255, 255],
      [240, 239, 241],
      [20, 60, 160],
    ]) {
      const picture = noisy(base, 9);
      // A drawing that runs off the picture at the foot and on a third of one side.
      drawOver(picture, filled(120, 25, [30, 140, 60, 255]), 0, 95);
      drawOver(picture, filled(20, 20, [200, 30, 20, 255]), 100, 10);
      const found = measureInk(picture).flatBorder!;
      expect(found).withContext(`${base}`).not.toBeNull();
      base.forEach((value, c) =>
        expect(Math.abs(parseInt(found.slice(1 + c * 2, 3 + c * 2), 16) - value)).toBeLessThan(5),
      );
    }
  });

  it('leaves a ground with corners of its own alone', () => {
    const ground = filled(100, 100, [20, 90, 80, 255]);
    for (const [x, y] of [
      [0, 0],
      [96, 0],
      [0, 96],
      [96, 96],
    ])
      for (let j = 0; j < 4; j++)
        for (let i = 0; i < 4; i++) (ground.data as Uint8Array).set([0, 0, 0, 0], ((y + j) * 100 + x + i) * 4);
    expect(measureInk(ground).flatBorder).toBeNull();
    expect(measureInk(filled(100, 100, [20, 90, 80, 255])).flatBorder).toBe('#145a50');
  });

  it('does not take a sky for a box, nor a field that is mostly clear', () => {
    const sky = {
      width: 100,
      height: 100,
      data: Uint8Array.from({ length: 40_000 }, (_, i) => {
        const y = Math.floor(i / 400);
        return i % 4 === 3 ? 255 : [90 + y, 140 + y * 0.8, 230 - y * 0.4][i % 4];
      }),
    };
    expect(measureInk(sky).flatBorder).toBeNull();
    const half = filled(100, 100, [0, 0, 0, 0]);
    drawOver(half, filled(50, 100, [255, 255, 255, 255]), 0, 0);
    expect(measureInk(half).flatBorder).toBeNull();
  });

  it('is not fooled by a photograph that reaches the border', () => {
    const photo = {
      width: 16,
      height: 16,
      data: Uint8Array.from({ length: 1024 }, (_, i) => (i % 4 === 3 ? 255 : (i * 37) % 256)),
    };
    expect(measureInk(photo).flatBorder).toBeNull();
  });

  it('finds where ink is, and says so when there is none', () => {
    const picture = filled(10, 10, [0, 0, 0, 0]);
    expect(measureInk(picture).inkBox).toBeNull();
    drawOver(picture, filled(2, 4, [10, 20, 30, 255]), 4, 3);
    expect(measureInk(picture)).toEqual(
      jasmine.objectContaining({
        opaque: false,
        flatBorder: null,
        inkBox: { x: 0.4, y: 0.3, width: 0.2, height: 0.4 },
      }),
    );
    expect(measureInk(picture).inks).toEqual([{ hex: '#0a141e', share: 1 }]);
  });
});

describe('PNG chunks', () => {
  const chunk = (type: string, data: number[]): number[] => {
    const body = [...type].map((c) => c.charCodeAt(0)).concat(data);
    const crc = crc32(Uint8Array.from(body));
    return [0, 0, 0, data.length, ...body, crc >>> 24, (crc >>> 16) & 255, (crc >>> 8) & 255, crc & 255];
  };
  const png = Uint8Array.from([
    0x89,
    0x50,
    0x4e,
    0x47,
    13,
    10,
    26,
    10,
    ...chunk('IHDR', [0, 0, 0, 2, 0, 0, 0, 3, 8, 6, 0, 0, 0]),
    ...chunk('tEXt', [65]),
    ...chunk('IDAT', [1, 2]),
    ...chunk('IEND', []),
  ]);

  it('carry density and profile right after the header, with right sums', () => {
    const whole = Uint8Array.from(
      withPrintChunks(png, 11811, { name: 'sRGB', deflated: Uint8Array.of(1, 2, 3) }).flatMap((piece) => [...piece]),
    );
    expect([...pngChunks(whole)].map((one) => one.type)).toEqual(['IHDR', 'iCCP', 'pHYs', 'tEXt', 'IDAT', 'IEND']);
    expect(pngFacts(whole)).toEqual(
      jasmine.objectContaining({
        width: 2,
        height: 3,
        colourType: 6,
        pixelsPerMetreX: 11811,
        pixelsPerMetreY: 11811,
        profile: 'sRGB',
        privateChunks: ['tEXt'],
      }),
    );
  });

  it('are refused when cut off or foreign', () => {
    expect(() => pngFacts(png.subarray(0, png.length - 6))).toThrowError(/cut off/);
    expect(() => pngFacts(Uint8Array.of(1, 2, 3))).toThrowError(/not a PNG/);
  });

  it('have the published checksum', () => {
    expect(crc32(Uint8Array.from('123456789', (c) => c.charCodeAt(0)))).toBe(0xcbf43926);
  });
});
