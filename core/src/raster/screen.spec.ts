import type { Pixels } from '../geometry/pixels.js';
import { mergeColours } from './merge-colours.js';
import { finestScreen, screenInk } from './screen.js';

const even = (side: number, alpha: number, rgb = [200, 40, 30]): Pixels => {
  const data = new Uint8ClampedArray(side * side * 4);
  for (let i = 0; i < data.length; i += 4) data.set([...rgb, alpha], i);
  return { width: side, height: side, data };
};
const shareOf = ({ data }: Pixels): number => {
  let solid = 0;
  let between = 0;
  for (let i = 3; i < data.length; i += 4) {
    if (data[i] !== 0 && data[i] !== 255) between++;
    solid += data[i] / 255;
  }
  expect(between).toBe(0);
  return solid / (data.length / 4);
};

describe('semi-transparent ink', () => {
  it('becomes dots that cover as much as it was strong, in its own colour', () => {
    for (const shape of ['round', 'line', 'diamond'] as const)
      for (const alpha of [40, 128, 210]) {
        const pixels = even(400, alpha);
        screenInk(pixels, { kind: 'dots', lpi: 30, angle: 25, shape }, 300);
        expect(Math.abs(shareOf(pixels) - alpha / 255))
          .withContext(`${shape} ${alpha}`)
          .toBeLessThan(0.03);
        const i = pixels.data.findIndex((value, at) => at % 4 === 3 && value === 255);
        expect([...pixels.data.subarray(i - 3, i)]).toEqual([200, 40, 30]);
      }
  });

  it('has as many rows of dots an inch as were asked for, at the asked angle', () => {
    // Along the rows of an upright line screen nothing changes; across them it changes lpi times an inch.
    const pixels = even(600, 128);
    screenInk(pixels, { kind: 'dots', lpi: 20, angle: 0, shape: 'line' }, 300);
    const column = Array.from({ length: 600 }, (_, y) => pixels.data[(y * 600 + 300) * 4 + 3] > 0);
    expect(column.filter((solid, y) => solid && !column[y - 1]).length).toBe(40);
    const row = Array.from({ length: 600 }, (_, x) => pixels.data[(300 * 600 + x) * 4 + 3]);
    expect(new Set(row).size).toBe(1);
    const turned = even(600, 128);
    screenInk(turned, { kind: 'dots', lpi: 20, angle: 90, shape: 'line' }, 300);
    expect(new Set(Array.from({ length: 600 }, (_, y) => turned.data[(y * 600 + 301) * 4 + 3])).size).toBe(1);
  });

  it('is one pattern over parts that lie beside each other, and leaves solid and clear ink alone', () => {
    const screen = { kind: 'dots', lpi: 33, angle: 15, shape: 'round' } as const;
    const whole = even(64, 100);
    screenInk(whole, screen, 300);
    const part = even(32, 100);
    screenInk(part, screen, 300, 32, 16);
    let differing = 0;
    for (let y = 0; y < 32; y++)
      for (let x = 0; x < 32; x++)
        if (part.data[(y * 32 + x) * 4 + 3] !== whole.data[((y + 16) * 64 + x + 32) * 4 + 3]) differing++;
    expect(differing).toBe(0);
    for (const alpha of [0, 255]) {
      const plain = even(16, alpha);
      screenInk(plain, screen, 300);
      expect(plain.data[3]).toBe(alpha);
    }
  });

  it('is refused finer than the resolution can hold, never made coarser', () => {
    expect(finestScreen(300)).toBe(75);
    expect(() => screenInk(even(8, 100), { kind: 'dots', lpi: 76, angle: 0, shape: 'round' }, 300)).toThrowError(
      RangeError,
      /76 rows of dots an inch are too fine for 300 DPI: at most 75/,
    );
    expect(() => screenInk(even(8, 100), { kind: 'dots', lpi: 75, angle: 0, shape: 'round' }, 300)).not.toThrow();
  });

  it('is solid from a threshold on', () => {
    const pixels = even(4, 127);
    screenInk(pixels, { kind: 'solid', threshold: 0.5 }, 300);
    expect(pixels.data[3]).toBe(0);
    const stronger = even(4, 129);
    screenInk(stronger, { kind: 'solid', threshold: 0.5 }, 300);
    expect([...stronger.data.subarray(0, 4)]).toEqual([200, 40, 30, 255]);
  });
});

describe('merging colours of flat art', () => {
  it('keeps the colours of areas and gives soft edges to one of them', () => {
    const side = 80;
    const pixels = even(side, 255);
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const share = Math.max(0, Math.min(1, (x - 38) / 4));
        pixels.data.set([220 - 180 * share, 40 + 20 * share, 30 + 170 * share, x < 2 ? 60 : 255], (y * side + x) * 4);
      }
    const merged = mergeColours(pixels, 6)!;
    const colours = new Set<string>();
    for (let i = 0; i < merged.data.length; i += 4)
      colours.add(merged.data[i + 3] ? [...merged.data.subarray(i, i + 3)].join() : 'clear');
    expect([...colours].sort()).toEqual(['220,40,30', '40,60,200', 'clear']);
    expect(merged.data[(10 * side + 30) * 4]).toBe(220);
    expect(merged.data[(10 * side + 55) * 4]).toBe(40);
  });

  it('refuses noise and what cannot be seen', () => {
    const noise = even(60, 255);
    for (let i = 0; i < noise.data.length; i++) if (i % 4 < 3) noise.data[i] = (Math.sin(i * 127.1) * 43758.5) % 256;
    expect(mergeColours(noise, 8)).toBeNull();
    expect(mergeColours(even(20, 0), 8)).toBeNull();
  });
});
