import { asBehind, gradientBehind, seenBehind } from './behind.js';
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

describe('a picture behind a product', () => {
  it('covers the frame from its middle, and shows the part that the frame shows', () => {
    const whole = viewOf(blank, null, 100);
    expect(seenBehind({ width: 600, height: 400 }, blank, whole)).toEqual({ x: 100, y: 0, width: 400, height: 400 });
    const part = viewOf(blank, { x: 100, y: 50, width: 50, height: 50 }, 100);
    expect(seenBehind({ width: 600, height: 400 }, blank, part)).toEqual({ x: 300, y: 100, width: 100, height: 100 });
  });

  /** Black on the left, white on the right. */
  const halves = (side: number) => ({
    width: side,
    height: side,
    data: Uint8Array.from({ length: side * side * 4 }, (_, i) =>
      i % 4 === 3 || Math.floor(i / 4) % side >= side / 2 ? 255 : 0,
    ),
  });

  it('goes out of focus by a share of the blank, in linear light, and lighter or darker as a lamp makes it', () => {
    const view = viewOf(blank, null, 200);
    const sharp = asBehind(halves(200), { blur: 0, light: 1 }, blank, view);
    expect(at(sharp, 99, 50)).toEqual([0, 0, 0]);
    expect(at(sharp, 100, 50)).toEqual([255, 255, 255]);
    const soft = asBehind(halves(200), { blur: 1, light: 1 }, blank, view);
    // Half the light of white, which is far from half of its code; a deviation is 3 % of 200 px.
    expect(Math.abs(at(soft, 100, 100)[0] - 188)).toBeLessThan(10);
    expect(at(soft, 100 - 20, 100)[0]).toBeLessThan(20);
    expect(at(soft, 100 + 20, 100)[0]).toBeGreaterThan(250);
    expect(at(soft, 106, 100)[0]).toBeGreaterThan(at(soft, 100, 100)[0] + 10);
    // It ends as it is at its edges.
    expect([at(soft, 0, 0)[0], at(soft, 199, 199)[0]]).toEqual([0, 255]);
    const half = asBehind(halves(200), { blur: 0, light: 0.5 }, blank, view);
    expect(Math.abs(at(half, 150, 10)[1] - 188)).toBeLessThan(2);
    // Close to it, what is out of focus is as large as it is there.
    const close = viewOf(blank, { x: 50, y: 50, width: 100, height: 100 }, 200);
    const near = asBehind(halves(200), { blur: 1, light: 1 }, blank, close);
    expect(Math.abs(at(near, 112, 100)[0] - at(soft, 106, 100)[0])).toBeLessThan(12);
  });
});
