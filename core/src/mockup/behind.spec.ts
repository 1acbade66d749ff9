import { gradientBehind } from './behind.js';
import { viewOf } from './crop.js';

const blank = { width: 200, height: 200 };
const at = ({ width, data }: { width: number; data: ArrayLike<number> }, x: number, y: number) =>
  [0, 1, 2].map((k) => data[(y * width + x) * 4 + k]);

describe('a wall that fades', () => {
  it('goes from the backdrop’s colour to the other, the way it is turned', () => {
    const down = gradientBehind(
      '#204060',
      { kind: 'gradient', to: '#E0C0A0', turn: 0 },
      blank,
      viewOf(blank, null, 100),
    );
    expect([down.width, down.height]).toEqual([100, 100]);
    for (const [pixel, wanted] of [
      [at(down, 50, 0), [0x20, 0x40, 0x60]],
      [at(down, 50, 99), [0xe0, 0xc0, 0xa0]],
      [at(down, 50, 50), [0x80, 0x80, 0x80]],
    ])
      pixel.forEach((value, k) => expect(Math.abs(value - wanted[k])).toBeLessThan(3));
    // All of a row is alike, but for the noise that hides the steps.
    expect(Math.abs(at(down, 3, 40)[0] - at(down, 96, 40)[0])).toBeLessThan(2);
    const left = gradientBehind(
      '#204060',
      { kind: 'gradient', to: '#E0C0A0', turn: 90 },
      blank,
      viewOf(blank, null, 100),
    );
    expect(at(left, 0, 50)[0]).toBeGreaterThan(at(left, 99, 50)[0] + 150);
  });

  it('is that of the whole picture where a part of it is seen', () => {
    const wall = { kind: 'gradient', to: '#FFFFFF', turn: 30 } as const;
    const whole = gradientBehind('#000000', wall, blank, viewOf(blank, null, 200));
    const part = gradientBehind('#000000', wall, blank, viewOf(blank, { x: 60, y: 80, width: 100, height: 100 }, 100));
    for (const [x, y] of [
      [0, 0],
      [50, 20],
      [99, 99],
    ])
      expect(Math.abs(at(part, x, y)[1] - at(whole, x + 60, y + 80)[1])).toBeLessThan(2);
  });
});
